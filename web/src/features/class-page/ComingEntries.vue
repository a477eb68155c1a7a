<script setup lang="ts">
import type { EditedEntry } from '@sammlung/contract';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { useFormat } from '../../app/format.ts';

/** What is going to show on the page of a class: by when it does, and then the drafts. */
const { entries } = defineProps<{ entries: readonly EditedEntry[] }>();
const emit = defineEmits<{ go: [entry: EditedEntry] }>();
const { t } = useI18n();
const { moment } = useFormat();
const later = computed(() =>
  entries
    .filter(({ state }) => state === 'later')
    .sort((a, b) => Date.parse(a.release.from!) - Date.parse(b.release.from!)),
);
const drafts = computed(() => entries.filter(({ state }) => state === 'held'));
const NAME =
  'min-h-9 text-start font-semibold hover:text-petrol hover:underline pointer-coarse:min-h-11';
</script>

<template>
  <section
    v-if="later.length + drafts.length > 0"
    class="mt-4 border-l-4 border-saffron pl-4 text-[15px]"
    :aria-label="t('entry.coming')"
  >
    <ul v-if="later.length > 0">
      <li
        v-for="entry in later"
        :key="entry.appearanceId"
        class="flex flex-wrap items-center gap-x-4"
      >
        <span class="w-44 text-saffron-ink">{{ moment(entry.release.from!) }}</span>
        <button type="button" :class="NAME" @click="emit('go', entry)">{{ entry.title }}</button>
      </li>
    </ul>
    <p v-if="drafts.length > 0" class="flex flex-wrap items-center gap-x-4">
      <span class="w-44 text-soft">{{ t('entry.coming-drafts') }}</span>
      <button
        v-for="entry in drafts"
        :key="entry.appearanceId"
        type="button"
        :class="NAME"
        @click="emit('go', entry)"
      >
        {{ entry.title }}
      </button>
    </p>
  </section>
</template>
