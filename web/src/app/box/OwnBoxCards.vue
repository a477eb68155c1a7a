<script setup lang="ts">
import type { OwnBox } from '@sammlung/contract';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { useFormat } from '../format.ts';
import { useBoxWords } from './boxes.ts';

/** Hand-in boxes of a student as cards, with how their work in each stands. */
const { boxes, codes } = defineProps<{
  boxes: readonly OwnBox[];
  /** Whether each says of which class it is. */
  codes: boolean;
}>();
const { t } = useI18n();
const { day } = useFormat();
const { until, standing } = useBoxWords();
</script>

<template>
  <ul class="grid gap-2 sm:grid-cols-2">
    <li v-for="box in boxes" :key="box.id" class="min-w-0">
      <RouterLink
        :to="{ name: 'box', params: { box: box.id } }"
        class="group flex h-full min-h-16 items-stretch overflow-hidden rounded-edge border border-line bg-raised hover:border-petrol"
      >
        <span
          v-if="codes"
          class="grid w-[62px] shrink-0 place-items-center px-1 font-code text-[12px] font-semibold text-white"
          :style="{ background: `var(--${box.colour})` }"
          >{{ box.code }}</span
        >
        <span class="min-w-0 flex-1 px-3.5 py-2">
          <span class="block font-semibold wrap-anywhere group-hover:text-petrol">{{
            box.title
          }}</span>
          <span
            class="block text-meta"
            :class="box.handedInAt || !box.mayAdd ? 'text-soft' : 'text-saffron-ink'"
            >{{ standing(box) }}</span
          >
          <span v-if="box.remarks > 0" class="block text-meta font-semibold text-saffron-ink">{{
            t('remark.fresh', box.remarks)
          }}</span>
          <span v-if="box.goesAt" class="block text-meta font-semibold text-brick-ink">{{
            t('box.goes', { day: day(box.goesAt) })
          }}</span>
          <span v-else class="block text-meta text-soft">{{ until(box) }}</span>
        </span>
      </RouterLink>
    </li>
  </ul>
</template>
