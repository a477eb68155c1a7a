<script setup lang="ts">
import type { ItemRow } from '@sammlung/contract';
import { ref, watch } from 'vue';
import { smallAddress } from './api/addresses.ts';
import { useReadingPlace } from './place.ts';
import KindMark from '../ui/KindMark.vue';

/** A small picture of what is in a file: made by the server, or the first lines of a text; else its kind. */
const { item, line } = defineProps<{
  item: Pick<ItemRow, 'placementId' | 'kind' | 'extension' | 'small' | 'opening'>;
  /** For a line of a list rather than a tile. */
  line?: boolean;
}>();
const place = useReadingPlace();
const gone = ref(false);
watch(
  () => item.small,
  () => (gone.value = false),
);
</script>

<template>
  <img
    v-if="item.small && !gone"
    :src="smallAddress(place, item.placementId, item.small, line ? 'line' : undefined)"
    alt=""
    loading="lazy"
    draggable="false"
    :class="
      line
        ? 'h-12 w-10 rounded-[3px] border border-line bg-white object-cover object-top'
        : 'h-full w-full bg-white object-cover object-top'
    "
    @error="gone = true"
  />
  <span
    v-else-if="item.opening && !line"
    class="block h-full w-full overflow-hidden bg-raised p-3 text-left font-text text-[9px] leading-[1.35] whitespace-pre-wrap text-soft"
    aria-hidden="true"
    >{{ item.opening }}</span
  >
  <KindMark v-else :kind="item.kind" :extension="item.extension" large />
</template>
