<script setup lang="ts">
import type { AudienceChoice } from '@sammlung/contract';
import { onClickOutside } from '@vueuse/core';
import { computed, provide, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink, RouterView, useRoute, useRouter, type RouteLocationRaw } from 'vue-router';
import { useAudienceChoices, useSeenAs } from '../choosing.ts';
import { baseOf } from '../api/addresses.ts';
import MomentField from '../MomentField.vue';
import { READING_PLACE } from '../place.ts';
import ChoiceName from '../ChoiceName.vue';

/** The real screens of somebody else, with nothing on them but what is the teacher's own: framed, and only to look at. */
const { t } = useI18n();
const route = useRoute();
const router = useRouter();
const as = computed(() => String(route.params.as));
const at = computed({
  get: () => (typeof route.query.at === 'string' ? route.query.at : null),
  set: (moment) => void router.replace({ query: moment === null ? {} : { at: moment } }),
});
const stamp = computed(() => (at.value === null ? 'now' : String(Date.parse(at.value))));
const to = (name: string, params: Record<string, string> = {}): RouteLocationRaw => ({
  name,
  params: { as: as.value, ...params },
  query: route.query,
});
const base = computed(() => baseOf('/api/as/:as/:at', { as: as.value, at: stamp.value }));
const kind = computed(() => as.value.split('.')[0] as 'class' | 'person' | 'visitor');

// Made anew for each viewer and time: see `key` below.
provide(READING_PLACE, {
  get base() {
    return base.value;
  },
  firstFolder: ref<string | null>(null),
  folder: (id) => to('see-as-folder', { folder: id }),
  item: (id) => to('see-as-item', { placement: id }),
  classPage: (id) => to('see-as-class-page', { class: id }),
  get home() {
    return kind.value === 'visitor' ? null : to('see-as-classes');
  },
  homeName: 'shell.classes',
  notes: false,
  live: false,
  takes: ref(false),
});

const { words, people } = useAudienceChoices();
/** Who it is, as far as that has been looked up. */
const known = useSeenAs(() => as.value);
const name = computed(() =>
  kind.value === 'visitor' ? t('see-as.visitor') : (known.data.value?.name ?? '…'),
);
const places = computed(() => {
  if (kind.value === 'visitor') return [{ name: 'see-as', text: 'see-as.public' }];
  if (known.data.value?.staff) return [{ name: 'see-as', text: 'staff-room.title' }];
  return [
    { name: 'see-as', text: 'shell.new' },
    { name: 'see-as-classes', text: 'shell.classes' },
  ];
});
const choosing = ref(false);
const chooser = useTemplateRef('chooser');
onClickOutside(chooser, () => (choosing.value = false));
function choose(choice: AudienceChoice | null) {
  choosing.value = false;
  const next = choice ? `${choice.kind}.${choice.id}` : 'visitor';
  void router.push({ name: 'see-as', params: { as: next }, query: route.query });
}
</script>

<template>
  <div class="flex min-h-screen flex-col bg-saffron p-2 pt-0 [--head:8rem]">
    <header class="flex flex-wrap items-center gap-x-4 gap-y-1 px-3 py-2 text-[#2b2002]">
      <p class="font-semibold" role="status">{{ t('see-as.as', { name }) }}</p>
      <span ref="chooser" class="relative">
        <button
          type="button"
          class="min-h-9 underline underline-offset-2"
          :aria-expanded="choosing"
          @click="choosing = !choosing"
        >
          {{ t('see-as.other') }}
        </button>
        <div
          v-if="choosing"
          class="absolute top-full left-0 z-40 w-80 rounded-lg border border-line bg-raised p-3 text-ink shadow-xl"
          @keydown.esc="choosing = false"
        >
          <input
            v-model="words"
            type="search"
            :aria-label="t('see-as.find')"
            :placeholder="t('see-as.find')"
            class="h-10 w-full rounded-edge border border-line bg-sheet px-3"
          />
          <ul class="mt-2 max-h-72 overflow-y-auto">
            <li>
              <button
                type="button"
                class="min-h-10 w-full px-2 text-left hover:bg-petrol-pale"
                @click="choose(null)"
              >
                {{ t('see-as.visitor') }}
              </button>
            </li>
            <li v-for="choice in people" :key="choice.id">
              <button
                type="button"
                class="flex min-h-10 w-full items-center gap-2 px-2 text-left hover:bg-petrol-pale"
                @click="choose(choice)"
              >
                <ChoiceName
                  :choice="choice"
                  :about="choice.kind === 'class' ? choice.about : t(`people.${choice.about}`)"
                />
              </button>
            </li>
          </ul>
        </div>
      </span>
      <span class="flex-1" />
      <span class="flex items-center gap-2">
        <span aria-hidden="true">{{ t('see-as.at') }}</span>
        <MomentField v-model="at" :label="t('see-as.at')" bare class="text-ink" />
      </span>
      <RouterLink
        :to="{ name: 'library' }"
        class="inline-flex min-h-9 items-center rounded-edge bg-[#2b2002] px-3.5 font-semibold text-white"
        >{{ t('see-as.leave') }}</RouterLink
      >
    </header>
    <div class="flex flex-1 flex-col overflow-hidden rounded-lg bg-sheet">
      <nav
        class="flex h-12 items-end gap-1 px-4 text-frame-ink"
        :class="kind === 'visitor' ? 'bg-[#4a2a22]' : 'bg-frame'"
        :aria-label="t('shell.places')"
      >
        <RouterLink
          v-for="place in places"
          :key="place.name"
          :to="to(place.name)"
          class="rounded-t-lg px-4 pt-1.5 pb-2 font-medium"
          :class="route.name === place.name ? 'bg-sheet font-[650]! text-ink!' : 'hover:text-white'"
          :aria-current="route.name === place.name ? 'page' : undefined"
          >{{ t(place.text) }}</RouterLink
        >
      </nav>
      <main class="flex flex-1 flex-col">
        <RouterView v-if="kind === 'visitor' || known.data.value" :key="base" />
      </main>
    </div>
  </div>
</template>
