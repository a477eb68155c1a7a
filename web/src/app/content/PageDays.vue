<script setup lang="ts">
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { useFormat } from '../format.ts';

/** The days of a page, the newest on top: beside its text, or folded above it where there is no room. */
const { headings } = defineProps<{
  /** What begins each day on the page. */
  headings: readonly HTMLElement[];
}>();
const { t } = useI18n();
const { day } = useFormat();
const days = computed(() =>
  headings.map((heading) => ({ heading, words: day(`${heading.dataset.day}T12:00:00Z`) })),
);

function goTo(heading: HTMLElement) {
  heading.tabIndex = -1;
  heading.focus({ preventScroll: true });
  heading.scrollIntoView({ block: 'start' });
}
</script>

<template>
  <nav
    :aria-label="t('viewer.days')"
    class="text-[15px] lg:sticky lg:top-6 lg:order-last lg:w-28 lg:shrink-0 print:hidden"
  >
    <p class="mb-1 text-meta text-soft max-lg:hidden" aria-hidden="true">{{ t('viewer.days') }}</p>
    <ul
      class="max-lg:flex max-lg:gap-x-4 max-lg:overflow-x-auto max-lg:border-b max-lg:border-line lg:max-h-[70vh] lg:overflow-y-auto"
    >
      <li v-for="({ heading, words }, n) in days" :key="n">
        <button
          type="button"
          class="min-h-8 text-start whitespace-nowrap text-petrol hover:underline max-lg:min-h-11 pointer-coarse:min-h-11"
          @click="goTo(heading)"
        >
          {{ words }}
        </button>
      </li>
    </ul>
  </nav>
</template>
