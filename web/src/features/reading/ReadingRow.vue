<script setup lang="ts">
import type { FolderRow, ItemRow } from '@sammlung/contract';
import { useQueryCache } from '@pinia/colada';
import { Download } from 'lucide-vue-next';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import ItemLink from '../../ui/ItemLink.vue';
import KindMark from '../../ui/KindMark.vue';
import SmallPicture from '../../app/SmallPicture.vue';
import { contentAddress } from '../../app/api/addresses.ts';
import { connected } from '../../app/api/api.ts';
import { useMeta } from '../../app/meta.ts';
import { noteOpened, useReadingPlace } from '../../app/place.ts';

/** A folder, or an item, in a folder that is read: a line, or a tile; with a box while some are chosen. */
const { item = null, folder = null } = defineProps<{
  item?: ItemRow | null;
  folder?: FolderRow | null;
  /** The folder it lies in. */
  within: string;
  tile: boolean;
  choosing: boolean;
}>();
const chosen = defineModel<string[]>('chosen', { required: true });
const { t } = useI18n();
const place = useReadingPlace();
const cache = useQueryCache();
const meta = useMeta();
const title = computed(() => (item ?? folder)!.title);
</script>

<template>
  <li :class="tile ? 'relative' : 'flex items-center border-t border-line'">
    <input
      v-if="choosing"
      v-model="chosen"
      type="checkbox"
      :value="item?.placementId ?? folder?.id"
      class="size-5 accent-(--action)"
      :class="tile ? 'absolute top-2 left-2 z-10' : 'mx-3'"
      :aria-label="t('library.choose-one', { title })"
    />
    <ItemLink
      :kind="item?.kind ?? 'folder'"
      :url="item?.url ?? null"
      :to="item ? place.item(item.placementId) : place.folder(folder!.id)"
      class="group flex"
      :class="tile ? 'flex-col gap-1.5' : 'min-h-16 min-w-0 flex-1 items-center gap-4 py-2'"
      @click="item?.kind === 'link' && noteOpened(place, cache, { ...item, folderId: within })"
    >
      <span
        v-if="tile"
        class="grid aspect-4/3 w-full place-items-center overflow-hidden rounded-edge border border-line bg-paper group-hover:border-petrol"
      >
        <SmallPicture v-if="item" :item="item" />
        <KindMark v-else kind="folder" :mark="folder!.mark" large />
      </span>
      <SmallPicture v-else-if="item" :item="item" line />
      <KindMark v-else kind="folder" :mark="folder!.mark" large />
      <span class="flex-1">
        <span
          class="block font-semibold wrap-anywhere group-hover:text-petrol"
          :class="tile ? 'text-[15px]' : 'text-[17px]'"
        >
          <span
            v-if="item && place.notes && !item.opened"
            class="mr-2 inline-block size-[9px] bg-saffron"
            :title="t('receive.unopened')"
            ><span class="sr-only">{{ t('receive.unopened') }}</span></span
          >{{ title }}
        </span>
        <span class="block text-meta text-soft">{{
          item ? meta(item) : t('count.items', folder!.items)
        }}</span>
      </span>
    </ItemLink>
    <a
      v-if="item?.kind === 'file' && !tile && connected"
      :href="contentAddress(place, item.placementId, 'attachment')"
      download
      class="grid size-11 place-items-center rounded-edge text-soft hover:bg-paper hover:text-petrol"
      :aria-label="t('reading.download-one', { title })"
    >
      <Download :size="19" aria-hidden="true" />
    </a>
  </li>
</template>
