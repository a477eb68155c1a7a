<script setup lang="ts">
import type { FolderRow, ItemRow } from '@sammlung/contract';
import { computed, defineAsyncComponent, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { useFormat } from '../../app/format.ts';
import { explain } from '../../app/problems.ts';
import { say } from '../../app/toast.ts';
import IndexTab from '../../ui/IndexTab.vue';
import ItemLink from '../../ui/ItemLink.vue';
import KindMark from '../../ui/KindMark.vue';
import RowMenu from '../../ui/RowMenu.vue';
import { useMeta } from '../../app/meta.ts';
import { contentAddress, useReadingPlace } from '../../app/place.ts';
import { useLibraryChanges } from './library.ts';

/** One row of the Library: a folder or an item, with the index tabs of those who see it at its edge. */
const { folder, item, mayChange, beside } = defineProps<{
  folder?: FolderRow;
  item?: ItemRow;
  mayChange: boolean;
  /** Whether a panel stands beside the list, over whose edge the tabs reach. */
  beside: boolean;
}>();
const { t } = useI18n();
const { moment } = useFormat();
const meta = useMeta();
const place = useReadingPlace();
const changes = useLibraryChanges();
const AlsoPut = defineAsyncComponent(() => import('./AlsoPut.vue'));
const choosing = ref(false);

const title = computed(() => folder?.title ?? item?.title ?? '');
const tabs = computed(() => folder?.tabs ?? item?.tabs ?? []);
const states = computed(() => new Set(tabs.value.map((tab) => tab.state)));
/** In words what the tabs show: one state for all, or the first date at which something changes. */
const when = computed(() => {
  if (tabs.value.length === 0) return { text: t('state.private'), tone: 'text-soft' };
  const later = tabs.value.find((tab) => tab.state === 'later');
  if (states.value.has('out')) return { text: t('state.out'), tone: 'text-good' };
  if (later?.from)
    return { text: t('state.later', { when: moment(later.from) }), tone: 'text-saffron-ink' };
  return { text: t('state.held'), tone: 'text-soft' };
});
const to = computed(() => (folder ? place.folder(folder.id) : place.item(item?.placementId ?? '')));
const below = computed(() =>
  folder
    ? [t('count.folders', folder.folders), t('count.items', folder.items)]
        .slice(folder.folders > 0 ? 0 : 1)
        .join(' · ')
    : '',
);

async function remove() {
  try {
    if (folder) {
      const { id } = folder;
      await changes.binFolder(id);
      say({
        text: t('library.binned', { title: title.value }),
        undo: () => changes.restoreFolder(id),
      });
    } else if (item) {
      const { placementId } = item;
      await changes.remove(placementId);
      const last = (item.alsoIn?.length ?? 0) === 0;
      say({
        text: t(last ? 'library.binned' : 'library.removed', { title: title.value }),
        undo: () => changes.restore(placementId),
      });
    }
  } catch (error) {
    say({ text: explain(t, error), tone: 'bad' });
  }
}

const actions = computed(() => [
  ...(item?.kind === 'file'
    ? [{ text: t('viewer.download'), href: contentAddress(place, item.placementId, 'attachment') }]
    : []),
  ...(item && mayChange
    ? [{ text: t('library.also-put'), act: () => (choosing.value = true) }]
    : []),
  ...(mayChange ? [{ text: t('library.remove'), act: remove, keys: 'Del' }] : []),
]);
</script>

<template>
  <li
    class="group/row relative -ml-5 grid min-h-[52px] grid-cols-[1fr_auto] items-center gap-x-3 border-t border-line pl-5 hover:bg-paper/70 sm:-ml-7 sm:pl-7 2xl:grid-cols-[1fr_150px_auto]"
  >
    <ItemLink
      :kind="folder ? 'folder' : (item?.kind ?? 'file')"
      :url="item?.url"
      :to="to"
      class="flex min-w-0 items-center gap-3 py-1.5"
      @keydown.delete.prevent="mayChange && $event.key === 'Delete' && remove()"
    >
      <KindMark
        :kind="folder ? 'folder' : (item?.kind ?? 'file')"
        :extension="item?.extension"
        :mark="folder?.mark"
      />
      <span class="min-w-0">
        <span class="flex flex-wrap items-baseline gap-x-2">
          <span class="font-semibold group-hover/row:text-petrol">{{ title }}</span>
          <span
            v-for="other in item?.alsoIn"
            :key="other.id"
            class="rounded-[4px] bg-mark px-1.5 text-[13px] text-mark-ink"
            >{{ t('item.also-in', { title: other.title }) }}</span
          >
        </span>
        <span class="block text-meta text-soft">
          <span class="2xl:hidden" :class="when.tone">{{ when.text }} · </span
          >{{ item ? meta(item) : below }}
        </span>
      </span>
    </ItemLink>
    <span class="hidden text-meta 2xl:block" :class="when.tone">{{ when.text }}</span>
    <span
      class="flex items-center justify-end gap-[3px]"
      :class="{ over: beside && tabs.length > 0 }"
    >
      <RowMenu
        v-if="actions.length > 0"
        :label="t('library.actions', { title })"
        :actions="actions"
      />
      <IndexTab v-for="tab in tabs" :key="tab.id" :tab="tab" class="edge" />
    </span>
    <AlsoPut v-if="choosing && item" :item="item" @close="choosing = false" />
  </li>
</template>

<style scoped>
/* The tabs stand out over the edge of the sheet, as on a card. */
.edge:last-child {
  border-top-right-radius: 0;
  border-bottom-right-radius: 0;
  padding-right: 16px;
}
@media (width >= 64rem) {
  .over {
    margin-right: -8px;
  }
}
</style>
