<script setup lang="ts">
import type { FolderNews, FolderOrder, FolderRow, ItemRow, Thing } from '@sammlung/contract';
import { useQueryCache } from '@pinia/colada';
import { Download, LayoutGrid, ListChecks, Rows3, X } from 'lucide-vue-next';
import {
  computed,
  defineAsyncComponent,
  onMounted,
  ref,
  useTemplateRef,
  watch,
  watchEffect,
} from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink, useRoute, useRouter } from 'vue-router';
import CrumbLine from '../../ui/CrumbLine.vue';
import NearBlock from '../../ui/NearBlock.vue';
import { loadTexts } from '../../app/i18n.ts';
import PageState from '../../app/PageState.vue';
import { useKeepPlace } from '../../ui/keepPlace.ts';
import { walkRows } from '../../ui/listKeys.ts';
import { useLive } from '../../app/live/live.ts';
import { SchoolWall } from '../../app/shell/walls.ts';
import { usePageTitle } from '../../app/shell/title.ts';
import { connected } from '../../app/api/api.ts';
import { addressAt, archiveAddress, folderArchiveAddress } from '../../app/api/addresses.ts';
import {
  isWall,
  takeFolderNews,
  useContents,
  useFolder,
  useReadingPlace,
} from '../../app/place.ts';
import { loadTakeActions } from '../../app/taking.ts';
import ReadingRow from './ReadingRow.vue';
import { readingDisplays, readingOrders } from './order.ts';

/** A folder for those who read it: a student, a colleague, or a visitor at a door. */
const { t } = useI18n();
const TakeActions = defineAsyncComponent(loadTakeActions);
const FolderReader = defineAsyncComponent(async () => {
  await loadTexts('viewer');
  return import('./FolderReader.vue');
});
const route = useRoute();
const router = useRouter();
const place = useReadingPlace();
const id = computed(() => String(route.params.folder ?? place.firstFolder.value ?? ''));
const folder = useFolder(place, () => id.value);
// One's own folder is read where it can be worked on.
watch(
  () => place.takes.value && folder.data.value?.right === 'own',
  (own) => own && void router.replace({ name: 'desk-folder', params: { folder: id.value } }),
);
// The place of a hand-in box has a page of its own.
watch(
  () => place.takes.value && folder.data.value?.placeId,
  async (placeId) => placeId && (await import('../../app/box/to-box.ts')).toBox(router, placeId),
);
/** The teacher's order, until the reader chooses another one for this folder. */
const ORDERS: FolderOrder[] = ['hand', 'a_to_z', 'lesson_date', 'newest'];
const order = computed({
  get: () => readingOrders[id.value] ?? folder.data.value?.order ?? 'hand',
  set: (chosen) => (readingOrders[id.value] = chosen),
});
const contents = useContents(
  place,
  () => id.value,
  () => readingOrders[id.value] ?? null,
);

const pages = computed(() => contents.data.value?.pages ?? []);
const folders = computed(() => pages.value[0]?.folders ?? []);
const items = computed(() => pages.value.flatMap((page) => page.items));
const empty = computed(
  () => pages.value.length > 0 && folders.value.length + items.value.length === 0,
);
const error = computed(() => folder.error.value ?? contents.error.value);

/** At the door itself, not in the folders behind it. */
const cover = computed(() => (id.value === place.firstFolder.value ? place.cover?.value : null));

/** As the teacher shows it, until the reader wants it otherwise. */
const display = computed(() => readingDisplays[id.value] ?? folder.data.value?.display ?? 'list');
const tiles = computed(() => display.value === 'tiles');
/** It is drawn in the browser only, and without a connection read as a list. */
const atWork = ref(false);
onMounted(() => (atWork.value = true));
const asReader = computed(() => display.value === 'reader' && connected.value);

/** Choosing several to take along. */
const choosing = ref(false);
const chosen = ref<string[]>([]);
watch(id, () => {
  choosing.value = false;
  chosen.value = [];
});
const chosenThings = computed(() =>
  chosen.value.map((thing): Thing => ({
    kind: folders.value.some((f) => f.id === thing) ? 'folder' : 'placement',
    id: thing,
  })),
);
const takeAlong = computed(() =>
  choosing.value
    ? archiveAddress(place, chosenThings.value)
    : folderArchiveAddress(place, id.value),
);

const downloadWords = computed(() =>
  choosing.value ? t('reading.download-some', chosen.value.length) : t('reading.download-all'),
);

const BUTTON =
  'inline-flex min-h-9 items-center justify-center gap-2 rounded-edge border border-line bg-raised px-3 text-[15px] font-semibold hover:border-petrol hover:text-petrol aria-disabled:opacity-60 pointer-coarse:min-h-11 pointer-coarse:min-w-11';

/** Rows are drawn in blocks, those near the screen; of tiles, as many as fill whole lines. */
const BLOCK = 100;
const TILE = 146;
const GAP = 16;
const width = ref(0);
const across = computed(() =>
  tiles.value ? Math.max(1, Math.floor((width.value + GAP) / (TILE + GAP))) : 1,
);
const blocks = computed(() => {
  const rows: { folder?: FolderRow; item?: ItemRow }[] = [
    ...folders.value.map((folder) => ({ folder })),
    ...items.value.map((item) => ({ item })),
  ];
  const size = Math.ceil(BLOCK / across.value) * across.value;
  return Array.from({ length: Math.ceil(rows.length / size) }, (_, n) =>
    rows.slice(n * size, (n + 1) * size),
  );
});
const list = useTemplateRef('list');
const end = useTemplateRef('end');
// By hand: a package for it would be a twentieth of what a visitor loads.
const atEnd = ref(false);
watchEffect((clean) => {
  if (!end.value) return;
  const coming = new IntersectionObserver(
    (entries) => (atEnd.value = entries.at(-1)!.isIntersecting),
    { rootMargin: '1000px' },
  );
  coming.observe(end.value);
  clean(() => coming.disconnect());
});
watch(
  () => atEnd.value && !error.value && contents.asyncStatus.value === 'idle' && pages.value.length,
  (ready) => ready && contents.hasNextPage.value && void contents.loadNextPage(),
);
watchEffect((clean) => {
  if (!list.value) return;
  const resized = new ResizeObserver(([entry]) => (width.value = entry!.contentRect.width));
  resized.observe(list.value);
  clean(() => resized.disconnect());
});

const again = () => Promise.all([folder.refetch(), contents.refetch()]);

const cache = useQueryCache();
const keepPlace = useKeepPlace(list);
const ownOrder = computed(() => readingOrders[id.value] ?? null);
usePageTitle(() => folder.data.value?.title);
useLive(
  () =>
    place.live && id.value
      ? addressAt(place.base, 'GET /folders/:folder/live', {
          params: { folder: id.value },
          query: { order: ownOrder.value ?? undefined },
        })
      : null,
  {
    changed: () => keepPlace(again),
    news: {
      contents: (news: FolderNews) =>
        keepPlace(
          () => (!error.value && takeFolderNews(place, cache, ownOrder.value, news)) || again(),
        ),
    },
  },
);
</script>

<template>
  <FolderReader
    v-if="asReader && atWork && folder.data.value && !error"
    :key="id"
    :folder="folder.data.value"
    @list="readingDisplays[id] = 'list'"
  />
  <div v-else class="mx-auto w-full max-w-4xl px-5 py-7 sm:px-10">
    <SchoolWall v-if="isWall(place, error)" :thing="{ kind: 'folder', id }" />
    <PageState v-else-if="error" :error="error" @again="again" />
    <template v-else>
      <template v-if="folder.data.value">
        <CrumbLine
          v-if="place.home || folder.data.value.crumbs.length > 1"
          :crumbs="folder.data.value.crumbs.slice(0, -1)"
          :to="place.folder"
        >
          <li v-if="place.home">
            <RouterLink :to="place.home" class="hover:text-petrol hover:underline">
              {{ t(place.homeName) }}
            </RouterLink>
          </li>
        </CrumbLine>
        <h1 class="mt-1 text-[28px]">
          <span v-if="folder.data.value.mark" class="mr-1.5 font-mark" aria-hidden="true">{{
            folder.data.value.mark
          }}</span>
          {{ folder.data.value.title }}
        </h1>
        <p class="text-soft">{{ t('reading.from', { name: folder.data.value.ownerName }) }}</p>
        <p v-if="cover?.text" class="mt-2 max-w-prose whitespace-pre-line">{{ cover.text }}</p>
        <div class="mt-3 mb-4 flex min-h-9 flex-wrap items-center gap-2">
          <TakeActions
            v-if="place.takes.value && connected"
            :thing="{ kind: 'folder', id }"
            :title="folder.data.value.title"
            :things="choosing ? chosenThings : undefined"
          />
          <template v-if="connected && items.length + folders.length > 1">
            <a
              :href="takeAlong ?? undefined"
              :aria-disabled="takeAlong === null"
              download
              :class="BUTTON"
              :aria-label="downloadWords"
            >
              <Download :size="17" aria-hidden="true" />
              <span :class="choosing ? '' : 'max-sm:hidden'">{{ downloadWords }}</span>
            </a>
            <button
              type="button"
              :class="BUTTON"
              :aria-pressed="choosing"
              :aria-label="t(choosing ? 'common.cancel' : 'reading.choose')"
              @click="((choosing = !choosing), (chosen = []))"
            >
              <component :is="choosing ? X : ListChecks" :size="17" aria-hidden="true" />
              <span class="max-sm:hidden">{{
                t(choosing ? 'common.cancel' : 'reading.choose')
              }}</span>
            </button>
          </template>
          <span class="flex-1" />
          <span v-if="items.length > 1" class="flex items-center gap-2">
            <label v-if="connected" class="flex items-center gap-1.5 text-meta text-soft">
              <span class="max-sm:sr-only">{{ t('library.order') }}</span>
              <select
                v-model="order"
                class="h-9 max-w-44 rounded-edge border border-line bg-raised px-2 text-[15px] text-ink pointer-coarse:h-11"
              >
                <option v-for="name in ORDERS" :key="name" :value="name">
                  {{ name === 'hand' ? t('reading.by-hand') : t(`order.${name}`) }}
                </option>
              </select>
            </label>
            <button
              v-if="folder.data.value.display === 'reader' && connected"
              type="button"
              :class="BUTTON"
              @click="delete readingDisplays[id]"
            >
              {{ t('reading.as-reader') }}
            </button>
            <button
              type="button"
              :class="BUTTON"
              :aria-label="t(tiles ? 'reading.as-list' : 'reading.as-tiles')"
              :title="t(tiles ? 'reading.as-list' : 'reading.as-tiles')"
              @click="readingDisplays[id] = tiles ? 'list' : 'tiles'"
            >
              <component :is="tiles ? Rows3 : LayoutGrid" :size="17" aria-hidden="true" />
            </button>
          </span>
        </div>
      </template>
      <PageState v-if="pages.length === 0 || asReader" />
      <p v-else-if="empty" class="border-t border-line py-10 text-soft">{{ t('reading.empty') }}</p>
      <div
        v-else
        ref="list"
        :class="tiles ? 'border-t border-line pt-4' : 'border-b border-line'"
        @keydown="list && walkRows(list, $event)"
      >
        <NearBlock v-for="(block, n) in blocks" :key="n" :class="tiles && n > 0 ? 'pt-4' : ''">
          <ul :class="tiles ? 'grid grid-cols-[repeat(auto-fill,minmax(146px,1fr))] gap-4' : ''">
            <ReadingRow
              v-for="row in block"
              :key="row.item?.placementId ?? row.folder?.id"
              v-bind="row"
              v-model:chosen="chosen"
              :within="id"
              :tile="tiles"
              :choosing="choosing"
            />
          </ul>
        </NearBlock>
      </div>
      <div ref="end" class="h-4" />
      <p v-if="cover?.feed" class="mt-4 text-meta">
        <a :href="cover.feed" class="text-soft underline hover:text-petrol">{{
          t('reading.feed')
        }}</a>
      </p>
    </template>
  </div>
</template>
