<script setup lang="ts">
import { useEventListener, useIntervalFn } from '@vueuse/core';
import { useQueryCache } from '@pinia/colada';
import { ChevronLeft, ChevronRight, Download } from 'lucide-vue-next';
import { computed, defineAsyncComponent, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import CrumbLine from '../../ui/CrumbLine.vue';
import KindMark from '../../ui/KindMark.vue';
import PageState from '../../ui/PageState.vue';
import { useLive } from '../../app/live.ts';
import { useMeta } from '../../app/meta.ts';
import {
  contentAddress,
  isWall,
  noteOpened,
  shownAddress,
  useContents,
  usePlacement,
  useReadingPlace,
} from '../../app/place.ts';

/** One item in place: PDF, picture, text, sound and video are shown, all else has its facts and a download. */
const { t } = useI18n();
const SchoolWall = defineAsyncComponent(() => import('../../app/SchoolWall.vue'));
const route = useRoute();
const router = useRouter();
const place = useReadingPlace();
const cache = useQueryCache();
const meta = useMeta();
const PdfPages = defineAsyncComponent(() => import('./PdfPages.vue'));
const PlainText = defineAsyncComponent(() => import('./PlainText.vue'));
const CsvTable = defineAsyncComponent(() => import('./CsvTable.vue'));
const MarkdownText = defineAsyncComponent(() => import('./MarkdownText.vue'));

const id = computed(() => String(route.params.placement));
const placement = usePlacement(place, () => id.value);
const item = computed(() => placement.data.value);
const preview = computed(() => item.value?.preview ?? null);
/** In which way it is shown. What browsers do not show themselves has a form that the server has made of it. */
const shown = computed(() => {
  const type = preview.value?.shown ?? item.value?.mediaType ?? '';
  if (type === 'application/pdf') return 'pdf';
  if (/^image\/(png|jpeg|gif|webp|avif)$/u.test(type)) return 'picture';
  if (type === 'text/csv') return 'table';
  if (type === 'text/markdown') return 'markdown';
  if (/^text\/(plain|tab-separated-values)$/u.test(type)) return 'text';
  if (type.startsWith('audio/')) return 'sound';
  if (type.startsWith('video/')) return 'video';
  if (preview.value?.state === 'waiting') return 'waiting';
  return 'facts';
});
const address = computed(() =>
  preview.value?.shown
    ? shownAddress(place, id.value, item.value?.version ?? null)
    : contentAddress(place, id.value, 'inline'),
);
// A preview that is being made shows by itself.
useIntervalFn(() => {
  if (shown.value === 'waiting') void placement.refetch();
}, 2000);

// Neighbours in the folder, as far as its pages have been loaded.
const folderId = computed(() => (item.value?.crumbs.length ? item.value.folderId : ''));
const contents = useContents(place, () => folderId.value);
const files = computed(() =>
  folderId.value
    ? (contents.data.value?.pages.flatMap((page) => page.items) ?? []).filter(
        (row) => row.kind !== 'link',
      )
    : [],
);
const at = computed(() => files.value.findIndex((row) => row.placementId === id.value));
const previous = computed(() => files.value[at.value - 1]);
const next = computed(() => (at.value < 0 ? undefined : files.value[at.value + 1]));

useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (
    (event.target as HTMLElement).matches('input, textarea, video, audio') ||
    event.ctrlKey ||
    event.metaKey
  )
    return;
  const neighbour = { ArrowLeft: previous.value, ArrowRight: next.value }[event.key];
  if (neighbour) void router.replace(place.item(neighbour.placementId));
  if (event.key === 'Escape' && item.value?.crumbs.length)
    void router.push(place.folder(item.value.folderId));
});

watch(
  () => item.value && `${item.value.placementId} ${item.value.version}`,
  () => item.value && void noteOpened(place, cache, item.value),
  { immediate: true },
);

useLive(() => (place.live && item.value ? `${place.base}/placements/${id.value}/live` : null), {
  changed: () => Promise.all([placement.refetch(), folderId.value && contents.refetch()]),
});
</script>

<template>
  <div class="flex w-full flex-1 flex-col">
    <SchoolWall v-if="isWall(place, placement.error.value)" :thing="{ kind: 'placement', id }" />
    <div v-else-if="placement.error.value" class="mx-auto w-full max-w-4xl px-5 py-7 sm:px-10">
      <PageState :error="placement.error.value" @again="placement.refetch()" />
    </div>
    <template v-else-if="item">
      <div class="border-b border-line px-5 pt-4 pb-3.5 sm:px-8">
        <CrumbLine :crumbs="item.crumbs" :to="place.folder" />
        <div class="mt-1 flex flex-wrap items-center gap-x-3 gap-y-2">
          <div class="min-w-60 flex-1">
            <h1 class="text-[22px]">{{ item.title }}</h1>
            <p class="text-meta text-soft">
              {{ meta(item) }}
              <template v-for="other in item.alsoIn" :key="other.id">
                · {{ t('item.also-in', { title: other.title }) }}
              </template>
            </p>
          </div>
          <nav v-if="previous || next" class="flex gap-1" :aria-label="t('viewer.neighbours')">
            <component
              :is="side.row ? RouterLink : 'span'"
              v-for="side in [
                { name: 'previous', row: previous, icon: ChevronLeft },
                { name: 'next', row: next, icon: ChevronRight },
              ]"
              :key="side.name"
              v-bind="
                side.row
                  ? { to: place.item(side.row.placementId), replace: true }
                  : { 'aria-disabled': true }
              "
              class="grid size-10 place-items-center rounded-edge border border-line"
              :class="side.row ? 'hover:border-petrol hover:text-petrol' : 'text-soft opacity-45'"
            >
              <component :is="side.icon" :size="20" aria-hidden="true" />
              <span class="sr-only">{{
                t(`viewer.${side.name}`, { title: side.row?.title ?? '' })
              }}</span>
            </component>
          </nav>
          <a
            :href="contentAddress(place, id, 'attachment')"
            download
            class="inline-flex h-10 items-center gap-2 rounded-edge border border-action bg-action px-4 font-semibold text-white hover:brightness-115"
          >
            <Download :size="18" aria-hidden="true" />{{ t('viewer.download') }}
          </a>
        </div>
      </div>
      <div class="flex flex-1 flex-col bg-paper">
        <PdfPages v-if="shown === 'pdf'" :key="address" :address="address" />
        <div v-else-if="shown === 'picture'" class="grid flex-1 place-items-center p-5 sm:p-8">
          <img
            :src="address"
            :alt="item.title"
            class="max-h-[calc(100vh-13rem)] max-w-full object-contain shadow-md"
          />
        </div>
        <PlainText v-else-if="shown === 'text'" :key="address" :address="address" />
        <CsvTable v-else-if="shown === 'table'" :key="address" :address="address" />
        <MarkdownText v-else-if="shown === 'markdown'" :key="address" :address="address" />
        <div v-else-if="shown === 'sound'" class="p-10">
          <audio :src="address" controls class="w-full" />
        </div>
        <div v-else-if="shown === 'video'" class="grid flex-1 place-items-center p-5">
          <video :src="address" controls class="max-h-[calc(100vh-13rem)] max-w-full" />
        </div>
        <div
          v-else
          class="mx-auto flex max-w-md flex-1 flex-col items-center gap-4 px-6 py-20 text-center"
        >
          <KindMark :kind="item.kind" :extension="item.extension" large />
          <p role="status">
            {{
              shown === 'waiting'
                ? t('viewer.waiting')
                : preview?.fault
                  ? t(`viewer.failed.${preview.fault}`)
                  : t('viewer.no-preview')
            }}
          </p>
        </div>
      </div>
    </template>
    <div v-else class="mx-auto w-full max-w-4xl px-5 sm:px-10"><PageState /></div>
  </div>
</template>
