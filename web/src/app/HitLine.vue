<script setup lang="ts">
import type { Hit } from '@sammlung/contract';
import { useI18n } from 'vue-i18n';
import KindMark from '../ui/KindMark.vue';
import { useFormat } from './format.ts';
import IndexTab from './IndexTab.vue';

/** One thing that was found, in a line: what it is, where it is, and who sees it. */
defineProps<{ hit: Hit }>();
const { t } = useI18n();
const { day } = useFormat();

/** The parts of an excerpt; those between the marks are the words that were looked for. */
const parts = (excerpt: string) =>
  excerpt.split(/[«»]/u).map((text, n) => ({ text, hit: n % 2 === 1 }));
</script>

<template>
  <span class="flex w-7 shrink-0 justify-center">
    <KindMark
      :kind="hit.itemKind ?? 'folder'"
      :extension="hit.extension"
      :mark="hit.mark"
      :colour="hit.colour"
    />
  </span>
  <span class="min-w-0 flex-1 leading-snug">
    <span class="font-semibold">{{ hit.title }}</span>
    <span class="block truncate text-meta text-soft">
      {{
        [
          hit.where.map((crumb) => crumb.title).join(' › '),
          hit.ownerName ? t('reading.from', { name: hit.ownerName }) : '',
          hit.kind === 'placement' ? day(hit.lessonDate ?? hit.changedAt) : '',
        ]
          .filter(Boolean)
          .join(' · ')
      }}
    </span>
    <span v-if="hit.excerpt" class="block text-meta">
      <template v-for="(part, n) in parts(hit.excerpt)" :key="n">
        <mark v-if="part.hit" class="rounded-[2px] bg-saffron/35 text-ink">{{
          part.text
        }}</mark><template v-else>{{ part.text }}</template>
      </template>
    </span>
  </span>
  <span class="flex shrink-0 gap-[3px]">
    <IndexTab v-for="tab in hit.tabs" :key="tab.id" :tab="tab" />
  </span>
</template>
