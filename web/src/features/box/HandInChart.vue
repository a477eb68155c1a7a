<script setup lang="ts">
import type { PlaceRow } from '@sammlung/contract';
import type { ApexOptions } from 'apexcharts';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import VueApexCharts from 'vue3-apexcharts';
import { now } from '../../app/api/clock.ts';
import { useChartLook } from '../../app/chart-look.ts';
import { useFormat } from '../../app/format.ts';

/** How many students had handed in by each of the last days; for those who hear the page, as a list. */
const { places } = defineProps<{ places: readonly PlaceRow[] }>();
const { t } = useI18n();
const { day, calendarDay } = useFormat();
const look = useChartLook();

/** So many days can be read side by side. */
const DAYS = 14;
const DAY_MS = 24 * 60 * 60 * 1000;
const byDay = computed(() => {
  const handedIn = places.flatMap(({ handedInAt }) => handedInAt ?? []).sort();
  const first = handedIn[0] ? Date.parse(handedIn[0]) : now();
  const span = Math.min(DAYS - 1, Math.ceil((now() - first) / DAY_MS));
  const days = handedIn.map((iso) => calendarDay(new Date(iso)));
  return Array.from({ length: span + 1 }, (_, n) => {
    const date = new Date(now() - (span - n) * DAY_MS);
    const name = calendarDay(date);
    const count = days.filter((one) => one <= name).length;
    return { name, label: day(date.toISOString()), count };
  });
});

const options = computed((): ApexOptions => {
  const { colour, plain } = look.value;
  return {
    ...plain('bar'),
    colors: [colour('reach-opened')],
    plotOptions: {
      bar: { columnWidth: '72%', borderRadius: 2, dataLabels: { position: 'top' } },
    },
    dataLabels: {
      enabled: true,
      offsetY: -20,
      style: { fontSize: '12px', fontWeight: 600, colors: [colour('ink')] },
    },
    grid: { show: false, padding: { left: 0, right: 0, top: 0, bottom: 0 } },
    xaxis: {
      categories: byDay.value.map(({ label }) => label.split(' ')),
      labels: {
        rotate: 0,
        hideOverlappingLabels: false,
        style: { fontSize: '12px', colors: colour('soft') },
      },
      axisBorder: { color: colour('line') },
      axisTicks: { show: false },
    },
    yaxis: { show: false, min: 0, max: Math.max(1, places.length) },
  };
});
const series = computed(() => [
  { name: t('going-through.by-when'), data: byDay.value.map(({ count }) => count) },
]);
</script>

<template>
  <div class="relative">
    <VueApexCharts height="220" type="bar" :options="options" :series="series" aria-hidden="true" />
    <ul class="sr-only">
      <li v-for="{ name, label, count } in byDay" :key="name">
        {{ label }}: {{ t('taught-box.in', { n: count, of: places.length }) }}
      </li>
    </ul>
  </div>
</template>
