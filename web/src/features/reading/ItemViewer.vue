<script setup lang="ts">
import { useEventListener, useIntervalFn, useSwipe } from '@vueuse/core';
import type { PlacementView } from '@sammlung/contract';
import { useQueryCache } from '@pinia/colada';
import { computed, defineAsyncComponent, ref, shallowRef, useTemplateRef, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import CrumbLine from '../../ui/CrumbLine.vue';
import { CONTENT, howShown, PRINTS } from '../../app/content/howShown.ts';
import ItemContent from '../../app/content/ItemContent.vue';
import ViewerActions from './ViewerActions.vue';
import PageState from '../../app/PageState.vue';
import { loadTakeActions } from '../../app/taking.ts';
import { useLive } from '../../app/live/live.ts';
import { SchoolWall } from '../../app/shell/walls.ts';
import { useMeta } from '../../app/meta.ts';
import { usePageTitle } from '../../app/shell/title.ts';
import { connected } from '../../app/api/api.ts';
import { addressAt, contentAddress } from '../../app/api/addresses.ts';
import { isWall, noteOpened, useContents, usePlacement, useReadingPlace } from '../../app/place.ts';

/** One item in place: PDF, picture, text, sound and video are shown, all else has its facts and a download. */
const { t } = useI18n();
const TakeActions = defineAsyncComponent(loadTakeActions);
const route = useRoute();
const router = useRouter();
const place = useReadingPlace();
const cache = useQueryCache();
const meta = useMeta();

const id = computed(() => String(route.params.placement));
const placement = usePlacement(place, () => id.value);
const item = computed(() => placement.data.value);
/** What is read: it stays as it is, also when a newer version comes in, until the reader wants that one. */
const read = shallowRef<PlacementView>();
watch(
  item,
  (now) => {
    const same = now && read.value?.placementId === now.placementId;
    if (!same || read.value?.version === now.version || !CONTENT.has(shown.value)) read.value = now;
  },
  { immediate: true },
);
const newer = computed(
  () => read.value !== undefined && item.value?.version !== read.value.version,
);
// What is in the place of a hand-in box is read there, with what is said about it.
watch(
  () => place.notes && item.value?.placeId,
  async (placeId) =>
    placeId && (await import('../../app/box/to-box.ts')).toBox(router, placeId, id.value),
);
const page = ref(1);
const startPage = ref(1);
watch(id, () => (startPage.value = 1));
function showNewer() {
  startPage.value = page.value;
  read.value = item.value;
}
/** A part of what is read cannot be had any more: then the newer version is shown by itself. */
async function showAnew() {
  await placement.refetch();
  if (newer.value) showNewer();
}

const shown = computed(() => (read.value ? howShown(read.value) : 'facts'));
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

/** What is one's own already needs no copy. */
const takes = computed(
  () => connected.value && place.takes.value && item.value?.mayChange === false,
);
const actions = computed(() => ({
  previous: previous.value,
  next: next.value,
  download: contentAddress(place, id.value, 'attachment'),
  markdown:
    item.value?.kind === 'page'
      ? addressAt(place.base, 'GET /placements/:placement/content', {
          params: { placement: id.value },
          query: { form: 'markdown' },
        })
      : undefined,
  prints: PRINTS.has(shown.value),
}));

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
  () => read.value && `${read.value.placementId} ${read.value.version}`,
  () => read.value && void noteOpened(place, cache, read.value),
  { immediate: true },
);

// A finger across the screen turns to the neighbour, unless it moves what is wider than the screen.
const content = useTemplateRef('content');
const { lengthX } = useSwipe(content, {
  threshold: 70,
  onSwipeEnd(_, direction) {
    const neighbour = { left: next.value, right: previous.value }[String(direction)];
    const moved = content.value?.querySelector('.overflow-auto');
    const wider = moved ? moved.scrollWidth > moved.clientWidth + 1 : false;
    if (neighbour && !wider && Math.abs(lengthX.value) > 70)
      void router.replace(place.item(neighbour.placementId));
  },
});

usePageTitle(() => item.value?.title);
const live = () =>
  addressAt(place.base, 'GET /placements/:placement/live', { params: { placement: id.value } });
useLive(() => (place.live && item.value ? live() : null), {
  changed: () => Promise.all([placement.refetch(), folderId.value && contents.refetch()]),
});
</script>

<template>
  <div
    class="flex w-full flex-1 flex-col"
    :class="shown === 'pdf' ? 'h-[calc(100dvh-var(--head,0px))] min-h-96 flex-none!' : ''"
  >
    <SchoolWall v-if="isWall(place, placement.error.value)" :thing="{ kind: 'placement', id }" />
    <div v-else-if="placement.error.value" class="mx-auto w-full max-w-4xl px-5 py-7 sm:px-10">
      <PageState :error="placement.error.value" @again="placement.refetch()" />
    </div>
    <template v-else-if="item">
      <div class="border-b border-line px-4 pt-3 pb-2.5 sm:px-8 sm:pt-4 sm:pb-3.5 print:hidden">
        <CrumbLine :crumbs="item.crumbs" :to="place.folder" />
        <div class="mt-1 flex flex-wrap items-center gap-x-3 gap-y-2">
          <div class="min-w-60 flex-1">
            <h1 class="text-[19px] wrap-anywhere sm:text-[22px]">{{ item.title }}</h1>
            <p class="text-meta text-soft">
              {{ meta(item) }}
              <template v-for="other in item.alsoIn" :key="other.id">
                · {{ t('item.also-in', { title: other.title }) }}
              </template>
            </p>
          </div>
          <RouterLink
            v-if="item.kind === 'page' && item.mayChange && connected"
            :to="{ name: 'page', params: { placement: id } }"
            class="inline-flex min-h-10 items-center rounded-edge border border-action bg-action px-4 font-semibold text-white hover:brightness-115 pointer-coarse:min-h-11"
            >{{ t('viewer.write') }}</RouterLink
          >
          <ViewerActions v-bind="actions" class="max-sm:hidden">
            <TakeActions v-if="takes" :thing="{ kind: 'placement', id }" :title="item.title" />
          </ViewerActions>
        </div>
      </div>
      <p
        v-if="newer"
        role="status"
        class="border-b border-line bg-sheet px-5 py-2 font-semibold sm:px-8 print:hidden"
      >
        <span class="mr-2 inline-block size-[9px] bg-saffron" aria-hidden="true" />{{
          t('viewer.newer')
        }}
        <button class="ml-2 min-h-9 text-petrol underline" @click="showNewer">
          {{ t('viewer.show-newer') }}
        </button>
      </p>
      <div ref="content" class="flex min-h-0 flex-1 flex-col bg-paper">
        <ItemContent
          v-if="read"
          v-model:page="page"
          :item="read"
          :start="startPage"
          @lost="showAnew"
        />
      </div>
      <ViewerActions
        v-bind="actions"
        wide
        class="sticky bottom-0 z-10 border-t border-line bg-sheet px-3 py-2 sm:hidden print:hidden"
      >
        <TakeActions v-if="takes" :thing="{ kind: 'placement', id }" :title="item.title" small />
      </ViewerActions>
    </template>
    <div v-else class="mx-auto w-full max-w-4xl px-5 sm:px-10"><PageState /></div>
  </div>
</template>
