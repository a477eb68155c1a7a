<script setup lang="ts">
import { computed, defineAsyncComponent, onBeforeUnmount, onMounted, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink, RouterView, useRoute } from 'vue-router';
import PersonMenu from './PersonMenu.vue';
import { useSession } from './session.ts';

const { t } = useI18n();
const session = useSession();
const route = useRoute();
const teaching = computed(() => session.person !== null && session.person.kind !== 'student');
const UploadPanel = defineAsyncComponent(() => import('../features/intake/UploadPanel.vue'));

const KeysHelp = defineAsyncComponent(() => import('./KeysHelp.vue'));
const helping = ref(false);
function help(event: KeyboardEvent) {
  const typing = (event.target as HTMLElement).matches('input, textarea, [contenteditable]');
  if (event.key === '?' && !typing) helping.value = true;
}
onMounted(() => window.addEventListener('keydown', help));
onBeforeUnmount(() => window.removeEventListener('keydown', help));

const places = computed(() =>
  teaching.value
    ? [{ name: 'library', active: ['library', 'folder', 'item'] }]
    : [
        { name: 'new', active: ['new'] },
        { name: 'classes', active: ['classes', 'folder', 'item'] },
      ],
);
</script>

<template>
  <div class="flex min-h-screen flex-col">
    <a
      href="#main"
      class="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-sheet focus:px-4 focus:py-2"
    >
      {{ t('shell.skip') }}
    </a>
    <header class="flex h-16 items-end gap-1 bg-frame px-3 text-frame-ink sm:px-6">
      <RouterLink
        to="/"
        class="mr-1 flex items-center pb-3.5 font-title text-[19px] font-[650] text-white sm:mr-7 sm:text-[22px]"
      >
        {{ t('shell.name')
        }}<span class="mt-2 ml-1 inline-block size-2.5 bg-saffron" aria-hidden="true" />
      </RouterLink>
      <nav :aria-label="t('shell.places')" class="flex gap-1">
        <RouterLink
          v-for="place in places"
          :key="place.name"
          :to="{ name: place.name }"
          class="rounded-t-lg px-2.5 pt-2.5 pb-3 font-medium whitespace-nowrap hover:text-white sm:px-4.5"
          :class="{
            'bg-sheet font-[650]! text-ink! hover:text-ink': place.active.includes(
              String(route.name),
            ),
          }"
          :aria-current="place.active.includes(String(route.name)) ? 'page' : undefined"
        >
          {{ t(`shell.${place.name}`) }}
        </RouterLink>
      </nav>
      <span class="flex-1" />
      <PersonMenu />
    </header>
    <main id="main" class="flex flex-1 flex-col bg-sheet">
      <RouterView />
    </main>
    <UploadPanel v-if="teaching" />
    <KeysHelp v-if="helping" :teaching="teaching" @close="helping = false" />
  </div>
</template>
