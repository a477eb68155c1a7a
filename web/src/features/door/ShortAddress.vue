<script setup lang="ts">
import { onMounted, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { useRoute, useRouter } from 'vue-router';
import { api } from '../../app/api/api.ts';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';

/** Where a sayable address is typed; one with a slip still leads on. */
const { t } = useI18n();
const route = useRoute();
const router = useRouter();
const typed = ref(typeof route.params.typed === 'string' ? route.params.typed : '');
const { fault, tried } = useSubmit();

async function go() {
  if (typed.value.trim() === '') return;
  await tried(async () => {
    const { path } = await api('GET /api/at/:typed', { params: { typed: typed.value } });
    await router.replace(path);
  });
}
onMounted(go);
</script>

<template>
  <div class="flex min-h-screen flex-col">
    <header class="flex h-14 items-center border-b-4 border-brick bg-paper px-5 sm:px-10">
      <p class="font-title text-[17px] font-semibold">{{ t('shell.name') }}</p>
    </header>
    <main class="flex-1 bg-sheet">
      <form class="mx-auto w-full max-w-xl px-6 py-20" @submit.prevent="go">
        <h1 class="text-[28px]">{{ t('short.title') }}</h1>
        <p class="mt-2 text-[17px] text-soft">{{ t('short.text') }}</p>
        <div class="mt-6 flex flex-wrap gap-3">
          <input
            v-model="typed"
            :aria-label="t('short.label')"
            placeholder="heron-47293"
            autocapitalize="none"
            autocomplete="off"
            spellcheck="false"
            class="h-12 min-w-56 flex-1 rounded-edge border border-line bg-raised px-3 font-code text-[18px]"
            :aria-invalid="fault !== ''"
          />
          <AppButton tone="main" submits class="h-12">{{ t('short.go') }}</AppButton>
        </div>
        <p role="alert" class="mt-3 font-medium text-brick-ink empty:hidden">{{ fault }}</p>
      </form>
    </main>
  </div>
</template>
