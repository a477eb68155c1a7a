<script setup lang="ts">
import type { PlacementView } from '@sammlung/contract';
import { computed, defineAsyncComponent } from 'vue';
import { useI18n } from 'vue-i18n';
import KindMark from '../../ui/KindMark.vue';
import { readAddress } from '../api/addresses.ts';
import { useReadingPlace } from '../place.ts';
import { howShown } from './howShown.ts';

/** What an item holds, in place: PDF, picture, page, text, sound and video are shown, of all else its kind. */
const { item, start = 1 } = defineProps<{
  item: PlacementView;
  /** The page of a PDF to begin with. */
  start?: number;
}>();
const emit = defineEmits<{
  /** A part of it could not be had any more: there is another state of it. */
  lost: [];
}>();
const page = defineModel<number>('page', { default: 1 });
const { t } = useI18n();
const place = useReadingPlace();
const PdfPages = defineAsyncComponent(() => import('./PdfPages.vue'));
const PlainText = defineAsyncComponent(() => import('./PlainText.vue'));
const CsvTable = defineAsyncComponent(() => import('./CsvTable.vue'));
const PageText = defineAsyncComponent(() => import('./PageText.vue'));
const MarkdownText = defineAsyncComponent(() => import('./MarkdownText.vue'));

const shown = computed(() => howShown(item));
const address = computed(() => readAddress(place, item));
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
    :address="address"
    :start="start"
    @lost="emit('lost')"
  />
  <div v-else-if="shown === 'picture'" class="grid flex-1 place-items-center p-5 sm:p-8">
    <img
      :src="address"
      :alt="item.title"
      class="max-h-[calc(100vh-13rem)] max-w-full object-contain shadow-md"
    />
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
