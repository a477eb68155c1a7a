<script setup lang="ts">
import '../../ui/page-text.css';
import { useQuery } from '@pinia/colada';
import { useResizeObserver } from '@vueuse/core';
import type { ThingCard } from '@sammlung/contract';
import { computed, defineAsyncComponent, nextTick, shallowRef, useTemplateRef, watch } from 'vue';
import { apiAt } from '../api/api.ts';
import { pictureAddresses } from '../api/addresses.ts';
import { finishPage, pageMarkup, reachScrolling } from './finishPage.ts';
import PageDays from './PageDays.vue';
import PageState from '../PageState.vue';
import { useReadingPlace } from '../place.ts';

/** A page as its readers get it. The server has cleaned it: nothing in it runs or is fetched from elsewhere. */
const {
  placementId,
  state,
  inFlow = false,
} = defineProps<{
  placementId: string;
  /** Names the state of it: with another one it is loaded again. */
  state: string;
  /** One of several, below each other. */
  inFlow?: boolean;
}>();
const emit = defineEmits<{
  /** It is there, as far as it can be. */
  ready: [];
}>();
const place = useReadingPlace();
const ThingCardView = defineAsyncComponent(() => import('./ThingCard.vue'));
const text = useQuery({
  key: () => ['page', place.base, placementId, state],
  // What was read stays until the newer text is there.
  placeholderData: (before) => before,
  query: () =>
    apiAt(place.base, 'GET /placements/:placement/page', { params: { placement: placementId } }),
});
const html = computed(() =>
  pageMarkup(pictureAddresses(place.base, placementId, text.data.value?.html ?? '')),
);

const sheet = useTemplateRef('sheet');
watch(
  () => text.error.value,
  (error) => error && emit('ready'),
);
/** Where the things to which the page refers have their place on it. */
const slots = shallowRef<{ thing: ThingCard; element: HTMLElement }[]>([]);
/** What begins a day: a page with several has an index of them. */
const days = shallowRef<HTMLElement[]>([]);
const INDEXED = 3;
function findSlots(page: HTMLElement) {
  const things = new Map(text.data.value?.things.map((thing) => [thing.id, thing]));
  return [...page.querySelectorAll<HTMLElement>('p[data-folder], p[data-placement]')].flatMap(
    (element) => {
      const thing = things.get(element.dataset.folder ?? element.dataset.placement ?? '');
      return thing ? [{ thing, element }] : [];
    },
  );
}
watch(
  [html, sheet],
  async () => {
    await nextTick();
    if (!sheet.value) return;
    slots.value = findSlots(sheet.value);
    days.value = [...sheet.value.querySelectorAll<HTMLElement>('h2[data-day]')];
    await finishPage(sheet.value);
    emit('ready');
  },
  { immediate: true, flush: 'post' },
);
useResizeObserver(sheet, () => sheet.value && reachScrolling(sheet.value));
</script>

<template>
  <div class="flex-1 bg-sheet print:p-0" :class="{ 'px-5 py-8 sm:px-10 sm:py-12': !inFlow }">
    <PageState v-if="text.error.value" :error="text.error.value" @again="text.refetch()" />
    <!-- eslint-disable vue/no-v-html -- the server has cleaned it -->
    <div
      v-else-if="text.data.value"
      class="mx-auto gap-x-10 lg:flex lg:items-start lg:justify-center"
    >
      <PageDays v-if="!inFlow && days.length >= INDEXED" :headings="days" class="max-lg:mb-6" />
      <div
        ref="sheet"
        dir="auto"
        class="page-text mx-auto max-w-2xl lg:mx-0 lg:w-2xl lg:shrink"
        v-html="html"
      />
    </div>
    <!-- eslint-enable vue/no-v-html -->
    <PageState v-else />
    <Teleport v-for="({ thing, element }, n) in slots" :key="`${n} ${thing.id}`" :to="element">
      <ThingCardView :thing="thing" />
    </Teleport>
  </div>
</template>
