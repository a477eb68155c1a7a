<script setup lang="ts">
import type { ReachItem } from '@sammlung/contract';
import { useMediaQuery } from '@vueuse/core';
import type { ApexOptions } from 'apexcharts';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import VueApexCharts from 'vue3-apexcharts';
import { useChartLook } from '../../app/chart-look.ts';
import { useFormat } from '../../app/format.ts';
import { lastDays, squares, type NumberedItem } from './reach.ts';

/** Things against days: in each square how many opened the thing first on that day. For those who hear the page, as a list. */
const { items, firstDay } = defineProps<{ items: readonly NumberedItem[]; firstDay: string }>();
const { t, locale } = useI18n();
const { today, day } = useFormat();
const look = useChartLook();
/** Four weeks, or two where there is less room. */
const DAYS = 28;
const wide = useMediaQuery('(min-width: 1024px)');
const days = computed(() => lastDays({ firstDay }, today().day, wide.value ? DAYS : DAYS / 2));

/** What nobody has opened first on one of these days would be an empty line. */
const shown = computed(() =>
  items.filter((item) => days.value.some(({ place }) => on(item, place) > 0)),
);
const on = (item: ReachItem, place: number) => item.days.find(([when]) => when === place)?.[1] ?? 0;
const named = (date: Date) =>
  new Intl.DateTimeFormat(locale.value, { timeZone: 'UTC', day: 'numeric' }).format(date);

const options = computed((): ApexOptions => {
  const { colour } = look.value;
  const most = Math.max(1, ...shown.value.flatMap((item) => item.days.map(([, n]) => n)));
  const some = Math.ceil(most * 0.3);
  const ranges = [
    { from: 0, to: 0, color: colour('paper'), foreColor: colour('paper') },
    { from: 1, to: some, color: colour('reach-some'), foreColor: colour('ink') },
    {
      from: some + 1,
      to: Math.max(some + 1, most),
      color: colour('reach-opened'),
      foreColor: '#ffffff',
    },
  ];
  return {
    ...squares(look.value, ranges, wide.value ? 250 : 120),
    dataLabels: {
      enabled: true,
      style: { fontSize: '12px', fontWeight: 600 },
      formatter: (people) => (Number(people) > 0 ? String(people) : ''),
    },
    grid: { padding: { left: 4, right: 0, top: -24, bottom: -6 } },
    xaxis: {
      type: 'category',
      labels: {
        rotate: 0,
        hideOverlappingLabels: false,
        style: { fontSize: '12px', colors: colour('soft') },
      },
      axisBorder: { show: false },
      axisTicks: { show: false },
      tooltip: { enabled: false },
    },
  };
});
const series = computed(() =>
  shown.value.map((item) => ({
    name: `${item.number}  ${item.title}`,
    data: days.value.map(({ place, date }) => ({ x: named(date), y: on(item, place) })),
  })),
);
</script>

<template>
  <p v-if="shown.length === 0" class="text-soft">{{ t('reach.no-day') }}</p>
  <div v-else class="relative">
    <VueApexCharts
      :height="shown.length * 30 + 34"
      type="heatmap"
      :options="options"
      :series="series"
      aria-hidden="true"
    />
    <ul class="sr-only">
      <li v-for="item in shown" :key="item.itemId">
        {{ item.title }}:
        <template v-for="{ place, date } in days" :key="place"
          ><template v-if="on(item, place) > 0"
            >{{ t('reach.on-day', { day: day(date.toISOString()), n: on(item, place) }) }};
          </template></template
        >
      </li>
    </ul>
  </div>
</template>
