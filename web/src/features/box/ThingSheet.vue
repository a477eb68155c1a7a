<script setup lang="ts">
import type { PlaceThing } from '@sammlung/contract';
import { useQueryCache } from '@pinia/colada';
import { useIntervalFn } from '@vueuse/core';
import { computed, ref, watch } from 'vue';
import { howShown } from '../../app/content/howShown.ts';
import ItemContent from '../../app/content/ItemContent.vue';
import { noteOpened, usePlacement, useReadingPlace } from '../../app/place.ts';
import RemarkMargin from '../../app/remark/RemarkMargin.vue';
import { useRemarks } from '../../app/remark/remarks.ts';

/** A thing of a place on a sheet, and in its margin what there is besides (`facts`) and what is said about it. */
const { thing } = defineProps<{ thing: PlaceThing | undefined }>();
const emit = defineEmits<{ opened: [] }>();
defineSlots<{ facts(): unknown; nothing?(): unknown }>();
const place = useReadingPlace();
const cache = useQueryCache();
const id = computed(() => thing?.placementId ?? '');
const shownId = computed(() => (thing?.kind === 'link' ? '' : id.value));
const item = usePlacement(place, () => shownId.value);
const read = computed(() =>
  item.data.value?.placementId === shownId.value ? item.data.value : undefined,
);
const page = ref(1);
const shown = computed(() => (read.value ? howShown(read.value) : 'facts'));
const points = computed(() => shown.value === 'pdf' || shown.value === 'picture');
// A preview that is being made shows by itself.
useIntervalFn(() => {
  if (shown.value === 'waiting') void item.refetch();
}, 2000);
watch(
  () => read.value && `${read.value.placementId} ${read.value.version}`,
  async (state) => {
    if (!state || !read.value) return;
    await noteOpened(place, cache, read.value);
    emit('opened');
  },
  { immediate: true },
);
const remarks = useRemarks(() => id.value);
const chosen = ref('');
defineExpose({ remarks });
</script>

<template>
  <div
    class="grid w-full max-w-[1180px] border border-line bg-sheet shadow-md md:h-[calc(100dvh-var(--beside))] md:min-h-[26rem] md:grid-cols-[1fr_320px] lg:grid-cols-[1fr_380px]"
  >
    <div class="flex min-w-0 flex-col overflow-y-auto bg-paper max-md:h-[70dvh]">
      <ItemContent
        v-if="read"
        v-model:page="page"
        v-model:pending="remarks.pending.value"
        :item="read"
        :marks="remarks.marks.value"
        :pointing="points"
        @choose="chosen = $event"
        @lost="item.refetch()"
      />
      <slot v-else-if="!thing" name="nothing" />
    </div>
    <div
      class="min-w-0 overflow-y-auto border-line bg-sheet px-5 py-4 max-md:border-t md:border-l-2 md:border-l-brick"
    >
      <slot name="facts" />
      <RemarkMargin
        v-if="thing"
        :key="id"
        v-model:chosen="chosen"
        class="mt-4"
        :remarks="remarks"
        :points="points"
      />
    </div>
  </div>
</template>
