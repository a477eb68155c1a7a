<script setup lang="ts">
import type { FolderNews, FolderOrder } from '@sammlung/contract';
import { useQueryCache } from '@pinia/colada';
import { Download } from 'lucide-vue-next';
import { computed, defineAsyncComponent, ref, useTemplateRef, watch, watchEffect } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink, useRoute } from 'vue-router';
import CrumbLine from '../../ui/CrumbLine.vue';
import ItemLink from '../../ui/ItemLink.vue';
import KindMark from '../../ui/KindMark.vue';
import PageState from '../../ui/PageState.vue';
import SmallPicture from '../../ui/SmallPicture.vue';
import { useKeepPlace } from '../../ui/keepPlace.ts';
import { walkRows } from '../../ui/listKeys.ts';
import { useLive } from '../../app/live.ts';
import { useMeta } from '../../app/meta.ts';
import {
  archiveAddress,
  contentAddress,
  folderArchiveAddress,
  isWall,
  noteOpened,
  takeFolderNews,
  useContents,
  useFolder,
  useReadingPlace,
} from '../../app/place.ts';
import { readingOrders } from './order.ts';

/** A folder for those who read it: a student, a colleague, or a visitor at a door. */
const { t } = useI18n();
const SchoolWall = defineAsyncComponent(() => import('../../app/SchoolWall.vue'));
const route = useRoute();
const place = useReadingPlace();
const meta = useMeta();
const id = computed(() => String(route.params.folder ?? place.firstFolder.value ?? ''));
const folder = useFolder(place, () => id.value);
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

/** Choosing several to take along. */
const choosing = ref(false);
const chosen = ref<string[]>([]);
watch(id, () => {
  choosing.value = false;
  chosen.value = [];
});
const takeAlong = computed(() =>
  choosing.value
    ? archiveAddress(
        place,
        chosen.value.map((thing) => ({
          kind: folders.value.some((f) => f.id === thing) ? 'folder' : 'placement',
          id: thing,
        })),
      )
    : folderArchiveAddress(place, id.value),
);

const list = useTemplateRef('list');
const end = useTemplateRef('end');
// By hand: a package for it would be a twentieth of what a visitor loads.
const coming = new IntersectionObserver(([entry]) => {
  if (entry?.isIntersecting && contents.hasNextPage.value) void contents.loadNextPage();
});
watchEffect((clean) => {
  const element = end.value;
  if (!element) return;
  coming.observe(element);
  clean(() => coming.unobserve(element));
});

const again = () => Promise.all([folder.refetch(), contents.refetch()]);

const cache = useQueryCache();
const keepPlace = useKeepPlace(list);
const ownOrder = computed(() => readingOrders[id.value] ?? null);
useLive(
  () =>
    place.live && id.value
      ? `${place.base}/folders/${id.value}/live${ownOrder.value ? `?order=${ownOrder.value}` : ''}`
      : null,
  {
    changed: () => keepPlace(again),
    news: {
      contents: (news: FolderNews) =>
        keepPlace(() => takeFolderNews(place, cache, ownOrder.value, news) || again()),
    },
  },
);
</script>

<template>
  <div class="mx-auto w-full max-w-4xl px-5 py-7 sm:px-10">
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
              {{ t('shell.classes') }}
            </RouterLink>
          </li>
        </CrumbLine>
        <h1 class="mt-1 text-[28px]">
          <span v-if="folder.data.value.mark" class="mr-1.5 font-mark" aria-hidden="true">{{
            folder.data.value.mark
          }}</span>
          {{ folder.data.value.title }}
        </h1>
        <div class="mt-0.5 mb-4 flex min-h-9 flex-wrap items-center gap-3">
          <p class="flex-1 text-soft">
            {{ t('reading.from', { name: folder.data.value.ownerName }) }}
          </p>
          <template v-if="items.length + folders.length > 1">
            <button
              type="button"
              class="min-h-9 rounded-edge border border-line bg-raised px-3 text-[15px] font-semibold hover:border-petrol hover:text-petrol pointer-coarse:min-h-11"
              :aria-pressed="choosing"
              @click="((choosing = !choosing), (chosen = []))"
            >
              {{ t(choosing ? 'common.cancel' : 'reading.choose') }}
            </button>
            <a
              :href="takeAlong ?? undefined"
              :aria-disabled="takeAlong === null"
              download
              class="inline-flex min-h-9 items-center gap-2 rounded-edge border border-line bg-raised px-3 text-[15px] font-semibold hover:border-petrol hover:text-petrol aria-disabled:opacity-60 pointer-coarse:min-h-11"
            >
              <Download :size="17" aria-hidden="true" />
              {{ choosing ? t('reading.download-some', chosen.length) : t('reading.download-all') }}
            </a>
          </template>
          <label v-if="items.length > 1" class="flex items-center gap-1.5 text-meta text-soft">
            <span>{{ t('library.order') }}</span>
            <select
              v-model="order"
              class="h-9 rounded-edge border border-line bg-raised px-2 text-[15px] text-ink pointer-coarse:h-11"
            >
              <option v-for="name in ORDERS" :key="name" :value="name">
                {{ name === 'hand' ? t('reading.by-hand') : t(`order.${name}`) }}
              </option>
            </select>
          </label>
        </div>
      </template>
      <PageState v-if="pages.length === 0" />
      <p v-else-if="empty" class="border-t border-line py-10 text-soft">{{ t('reading.empty') }}</p>
      <ul v-else ref="list" class="border-b border-line" @keydown="list && walkRows(list, $event)">
        <li v-for="row in folders" :key="row.id" class="flex items-center border-t border-line">
          <input
            v-if="choosing"
            v-model="chosen"
            type="checkbox"
            :value="row.id"
            class="mx-3 size-5 accent-(--action)"
            :aria-label="t('library.choose-one', { title: row.title })"
          />
          <ItemLink
            kind="folder"
            :to="place.folder(row.id)"
            class="group flex min-h-16 flex-1 items-center gap-4 py-2"
          >
            <KindMark kind="folder" :mark="row.mark" large />
            <span class="flex-1">
              <span class="block text-[17px] font-semibold group-hover:text-petrol">{{
                row.title
              }}</span>
              <span class="block text-meta text-soft">{{ t('count.items', row.items) }}</span>
            </span>
          </ItemLink>
        </li>
        <li
          v-for="row in items"
          :key="row.placementId"
          class="flex items-center border-t border-line"
        >
          <input
            v-if="choosing"
            v-model="chosen"
            type="checkbox"
            :value="row.placementId"
            class="mx-3 size-5 accent-(--action)"
            :aria-label="t('library.choose-one', { title: row.title })"
          />
          <ItemLink
            :kind="row.kind"
            :url="row.url"
            :to="place.item(row.placementId)"
            @click="row.kind === 'link' && noteOpened(place, cache, { ...row, folderId: id })"
            class="group flex min-h-16 flex-1 items-center gap-4 py-2"
          >
            <SmallPicture :item="row" line />
            <span class="flex-1">
              <span class="block text-[17px] font-semibold group-hover:text-petrol">
                <span
                  v-if="place.notes && !row.opened"
                  class="mr-2 inline-block size-[9px] bg-saffron"
                  :title="t('receive.unopened')"
                  ><span class="sr-only">{{ t('receive.unopened') }}</span></span
                >{{ row.title }}
              </span>
              <span class="block text-meta text-soft">{{ meta(row) }}</span>
            </span>
          </ItemLink>
          <a
            v-if="row.kind === 'file'"
            :href="contentAddress(place, row.placementId, 'attachment')"
            download
            class="grid size-11 place-items-center rounded-edge text-soft hover:bg-paper hover:text-petrol"
            :aria-label="t('reading.download-one', { title: row.title })"
          >
            <Download :size="19" aria-hidden="true" />
          </a>
        </li>
      </ul>
      <div ref="end" class="h-4" />
    </template>
  </div>
</template>
