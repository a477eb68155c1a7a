<script setup lang="ts">
import type { ReachItem } from '@sammlung/contract';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';

/** How many of those who see a thing have opened it, as a bar and in words: in the newest version filled, in an earlier one hatched. */
const { item } = defineProps<{ item: Pick<ReachItem, 'people' | 'opened' | 'newest'> }>();
const { t } = useI18n();
const percent = (n: number | null) => `${item.people > 0 ? ((n ?? 0) / item.people) * 100 : 0}%`;
const earlier = computed(() => (item.opened ?? 0) - (item.newest ?? 0));
</script>

<template>
  <span class="flex items-center gap-3">
    <span
      class="flex h-2.5 w-36 overflow-hidden rounded-[2px] bg-(--reach-none)"
      aria-hidden="true"
    >
      <span class="bg-(--reach-opened)" :style="{ width: percent(item.newest) }" />
      <span class="hatched" :style="{ width: percent(earlier) }" />
    </span>
    <span class="w-36 text-meta tabular-nums">
      <template v-if="item.people === 0">{{ t('reach.for-nobody') }}</template>
      <template v-else-if="item.opened === null">{{ t('reach.too-few') }}</template>
      <template v-else>{{ t('reach.of', { n: item.opened, of: item.people }) }}</template>
    </span>
  </span>
</template>

<style scoped>
.hatched {
  background: repeating-linear-gradient(
    135deg,
    var(--reach-opened) 0 2px,
    var(--reach-earlier) 2px 5px
  );
}
</style>
