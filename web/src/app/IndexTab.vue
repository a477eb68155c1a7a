<script setup lang="ts">
import type { Tab } from '@sammlung/contract';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { useFormat } from './format.ts';
import { tabColour } from '../ui/tabColour.ts';

/** The index tab of an audience: filled is out, dashed goes out later, hatched is held back, a plain outline has nothing. */
const { tab, plain = false } = defineProps<{
  tab: Pick<Tab, 'kind' | 'label' | 'colour' | 'from'> & { state: Tab['state'] | 'none' };
  /** Only names the audience, and says nothing about who sees something. */
  plain?: boolean;
}>();
const { t } = useI18n();
const { moment } = useFormat();

const label = computed(() => tab.label || t(`tab.${tab.kind}`));
const words = computed(() =>
  plain
    ? label.value
    : t(`tab.words.${tab.state}`, { label: label.value, when: tab.from ? moment(tab.from) : '' }),
);
const colour = computed(() => tabColour(tab));
</script>

<template>
  <span
    class="index-tab inline-flex h-[22px] items-center px-2 font-code text-[12px] font-semibold tracking-wide whitespace-nowrap"
    :class="`index-tab-${tab.state}`"
    :style="{ '--tab': colour }"
    :title="words"
  >
    <span aria-hidden="true">{{ label }}</span>
    <span class="sr-only">{{ words }}</span>
  </span>
</template>

<style scoped>
.index-tab {
  border-radius: 4px;
  --tab-ink: color-mix(in oklab, var(--tab), white var(--lift));
}
.index-tab-out {
  background: var(--tab);
  color: white;
}
.index-tab-later {
  border: 1.5px dashed var(--tab-ink);
  background: var(--sheet);
  color: var(--tab-ink);
}
.index-tab-none {
  box-shadow: inset 0 0 0 1.5px color-mix(in oklab, var(--tab-ink), transparent 45%);
  color: var(--tab-ink);
}
.index-tab-held,
.index-tab-ended {
  color: var(--mark-ink);
  background: repeating-linear-gradient(
    135deg,
    var(--mark) 0 5px,
    color-mix(in oklab, var(--mark), var(--sheet) 60%) 5px 10px
  );
}
</style>
