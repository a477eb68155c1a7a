<script setup lang="ts">
import type { ApexOptions } from 'apexcharts';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import VueApexCharts from 'vue3-apexcharts';
import { useChartLook } from '../../app/chart-look.ts';
import { useFormat } from '../../app/format.ts';

/** Sizes as bars below each other, the largest on top; for those who hear the page, as a list. */
const { rows, label } = defineProps<{
  rows: readonly { label: string; size: number; files: number; colour: string }[];
  label: string;
}>();
const { t } = useI18n();
const { size } = useFormat();
const look = useChartLook();

const options = computed((): ApexOptions => {
  const { colour, plain } = look.value;
  return {
    ...plain('bar'),
    plotOptions: {
      bar: { horizontal: true, distributed: true, borderRadius: 3, barHeight: '62%' },
    },
    colors: rows.map((row) => colour(row.colour)),
    dataLabels: { enabled: false },
    grid: { show: false, padding: { left: 2, right: 8, top: -20, bottom: -14 } },
    xaxis: {
      categories: rows.map((row) => [
        row.label,
        `${size(row.size)}, ${t('count.files', row.files)}`,
      ]),
      labels: { show: false },
      axisBorder: { show: false },
      axisTicks: { show: false },
    },
    yaxis: {
      labels: {
        maxWidth: 190,
        align: 'left',
        // By themselves labels begin 15 points and the padding from the edge: this brings them to it.
        offsetX: -16,
        style: { fontSize: '14px', colors: colour('ink') },
      },
    },
  };
});
const series = computed(() => [{ name: label, data: rows.map((row) => row.size) }]);
</script>

<template>
  <div>
    <VueApexCharts
      :height="Math.max(70, rows.length * 50)"
      type="bar"
      :options="options"
      :series="series"
      aria-hidden="true"
    />
    <ul class="sr-only">
      <li v-for="row in rows" :key="row.label">
        {{ row.label }}: {{ size(row.size) }}, {{ t('count.files', row.files) }}
      </li>
    </ul>
  </div>
</template>
