<script setup lang="ts">
import type { ItemRow } from '@sammlung/contract';
import { ChevronLeft, ChevronRight, Download, Printer } from 'lucide-vue-next';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { connected } from '../../app/api/api.ts';
import { useReadingPlace } from '../../app/place.ts';

/** What can be done with the item on the screen: its neighbours, print, download. */
const { wide = false } = defineProps<{
  previous?: ItemRow | undefined;
  next?: ItemRow | undefined;
  download: string;
  /** Of a page: where it is found as Markdown. */
  markdown?: string | undefined;
  /** Whether the page itself can be printed. */
  prints: boolean;
  /** Spread over the whole width, for a bar below the thumbs. */
  wide?: boolean;
}>();
const { t } = useI18n();
const place = useReadingPlace();
const print = () => window.print();
</script>

<template>
  <div class="flex items-center gap-2" :class="wide ? 'justify-between' : ''">
    <nav v-if="previous || next" class="contents" :aria-label="t('viewer.neighbours')">
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
        class="grid size-10 place-items-center rounded-edge border border-line pointer-coarse:h-11"
        :class="[
          side.row ? 'hover:border-petrol hover:text-petrol' : 'text-soft opacity-45',
          wide ? 'w-20!' : '',
          wide && side.name === 'next' ? 'order-last' : '',
        ]"
      >
        <component :is="side.icon" :size="20" aria-hidden="true" />
        <span class="sr-only">{{
          t(`viewer.${side.name}`, { title: side.row?.title ?? '' })
        }}</span>
      </component>
    </nav>
    <button
      v-if="prints && !wide"
      class="grid size-10 place-items-center rounded-edge border border-line hover:border-petrol hover:text-petrol"
      :title="t('viewer.print')"
      @click="print"
    >
      <Printer :size="18" aria-hidden="true" /><span class="sr-only">{{ t('viewer.print') }}</span>
    </button>
    <a
      v-if="markdown && connected && !wide"
      :href="markdown"
      download
      class="inline-flex h-10 items-center rounded-edge border border-line px-3 font-semibold hover:border-petrol hover:text-petrol pointer-coarse:h-11"
      >Markdown</a
    >
    <slot />
    <a
      v-if="connected"
      :href="download"
      download
      class="inline-flex h-10 items-center gap-2 rounded-edge border border-action bg-action px-4 font-semibold text-white hover:brightness-115 pointer-coarse:h-11"
    >
      <Download :size="18" aria-hidden="true" />{{ t('viewer.download') }}
    </a>
  </div>
</template>
