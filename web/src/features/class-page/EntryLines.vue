<script setup lang="ts">
import type { Colour, PageEntry } from '@sammlung/contract';
import { useI18n } from 'vue-i18n';
import ThingCard from '../../app/content/ThingCard.vue';
import LinkedText from './LinkedText.vue';
import { useFormat } from '../../app/format.ts';
import NearBlock from '../../ui/NearBlock.vue';

/** Entries below each other, each with its day in the margin; what they have opens where it is. */
defineProps<{ entries: readonly PageEntry[]; colour: Colour }>();
const { t } = useI18n();
const { day, weekday } = useFormat();
const isNew = ({ things }: PageEntry) => things.some((thing) => thing.unopened > 0);
/** Far below the screen an entry is only so much room, in pixels. */
const HEIGHT = 120;
</script>

<template>
  <NearBlock
    v-for="(entry, n) in entries"
    :key="entry.appearanceId"
    :estimate="n < 12 ? undefined : HEIGHT"
  >
    <article
      class="grid gap-x-5 px-4 py-4 sm:grid-cols-[6.5rem_1fr] sm:px-6"
      :class="{ 'border-t border-dotted border-line': n > 0 }"
    >
      <p class="leading-tight sm:pt-0.5 sm:text-end">
        <span
          class="font-title text-[17px] font-semibold"
          :style="{ color: `color-mix(in oklab, var(--${colour}), white var(--lift))` }"
          >{{ day(entry.at) }}</span
        >
        <span class="text-meta text-soft max-sm:ml-2 sm:block">{{ weekday(entry.at) }}</span>
      </p>
      <div class="min-w-0">
        <h3 class="font-text! text-[17px] font-semibold wrap-anywhere">
          <span
            v-if="isNew(entry)"
            class="mr-2 inline-block size-[9px] bg-saffron"
            :title="t('receive.unopened')"
            ><span class="sr-only">{{ t('receive.unopened') }}</span></span
          >{{ entry.title }}
        </h3>
        <LinkedText v-if="entry.text" :text="entry.text" />
        <div v-if="entry.things.length > 0" class="mt-2.5 space-y-2">
          <ThingCard v-for="thing in entry.things" :key="thing.id" :thing="thing" />
        </div>
      </div>
    </article>
  </NearBlock>
</template>
