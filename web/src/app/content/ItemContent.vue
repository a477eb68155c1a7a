<script setup lang="ts">
import type { PlacementView, Point } from '@sammlung/contract';
import { computed, defineAsyncComponent } from 'vue';
import { useI18n } from 'vue-i18n';
import KindMark from '../../ui/KindMark.vue';
import { readAddress } from '../api/addresses.ts';
import { useReadingPlace } from '../place.ts';
import type { Mark } from '../remark/remarks.ts';
import { howShown } from './howShown.ts';

/** What an item holds, in place: PDF, picture, page, text, sound and video are shown, of all else its kind. */
const {
  item,
  start = 1,
  marks = [],
  pointing = false,
} = defineProps<{
  item: PlacementView;
  /** The page of a PDF to begin with. */
  start?: number;
  /** Points on it that are marked. */
  marks?: readonly Mark[];
  /** Whether one can point at it: `pending` is the point. */
  pointing?: boolean;
}>();
const emit = defineEmits<{
  /** A part of it could not be had any more: there is another state of it. */
  lost: [];
  /** A mark was chosen. */
  choose: [id: string];
}>();
const pending = defineModel<Point | null>('pending', { default: null });
const page = defineModel<number>('page', { default: 1 });
const { t } = useI18n();
const place = useReadingPlace();
const PdfPages = defineAsyncComponent(() => import('./PdfPages.vue'));
const PlainText = defineAsyncComponent(() => import('./PlainText.vue'));
const CsvTable = defineAsyncComponent(() => import('./CsvTable.vue'));
const PageText = defineAsyncComponent(() => import('./PageText.vue'));
const PageMarks = defineAsyncComponent(() => import('./PageMarks.vue'));
const MarkdownText = defineAsyncComponent(() => import('./MarkdownText.vue'));

const shown = computed(() => howShown(item));
const address = computed(() => readAddress(place, item));

/** The point of a picture that was clicked. */
function pointAt(event: MouseEvent) {
  if (!pointing) return;
  const { left, top, width, height } = (event.currentTarget as HTMLElement).getBoundingClientRect();
  pending.value = {
    page: 1,
    x: (event.clientX - left) / width,
    y: (event.clientY - top) / height,
  };
}
const onPicture = ({ x, y }: Point) => ({ left: `${x * 100}%`, top: `${y * 100}%` });
</script>

<template>
  <PageText
    v-if="shown === 'page'"
    :key="item.placementId"
    :placement-id="item.placementId"
    :state="`${item.version} ${item.changedAt}`"
  />
  <PdfPages
    v-else-if="shown === 'pdf'"
    :key="address"
    v-model:page="page"
    v-model:pending="pending"
    :address="address"
    :start="start"
    :marks="marks"
    :pointing="pointing"
    @choose="emit('choose', $event)"
    @lost="emit('lost')"
  />
  <div v-else-if="shown === 'picture'" class="grid flex-1 place-items-center p-5 sm:p-8">
    <div class="relative" :class="pointing ? 'cursor-crosshair' : ''" @click="pointAt">
      <img
        :src="address"
        :alt="item.title"
        class="max-h-[calc(100vh-13rem)] max-w-full object-contain shadow-md"
      />
      <PageMarks
        v-if="marks.length > 0 || pending"
        :marks="marks"
        :pending="pending"
        :place="onPicture"
        @choose="emit('choose', $event)"
        @move="pending = $event"
      />
    </div>
  </div>
  <PlainText v-else-if="shown === 'text'" :key="`text ${address}`" :address="address" />
  <CsvTable v-else-if="shown === 'table'" :key="`table ${address}`" :address="address" />
  <MarkdownText v-else-if="shown === 'markdown'" :key="`markdown ${address}`" :address="address" />
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
          : item.preview?.fault
            ? t(`viewer.failed.${item.preview.fault}`)
            : t('viewer.no-preview')
      }}
    </p>
  </div>
</template>
