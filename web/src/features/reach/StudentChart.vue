<script setup lang="ts">
import type { ReachStudent } from '@sammlung/contract';
import type { ApexOptions } from 'apexcharts';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import VueApexCharts from 'vue3-apexcharts';
import { useChartLook } from '../../app/chart-look.ts';
import { CELLS, squares, type Cell, type NumberedItem } from './reach.ts';

/** Students against things: in each square how far the student has got with it. For those who hear the page, as a table. */
const { items, students } = defineProps<{
  items: readonly NumberedItem[];
  students: readonly ReachStudent[];
}>();
const { t } = useI18n();
const look = useChartLook();

/** What stands in a square, so that it can be read without its colour. */
const SIGNS: Readonly<Record<Cell, string>> = { ' ': '', '-': '–', e: '○', o: '●', d: '↓' };
const COLOURS = ['sheet', 'reach-none', 'reach-earlier', 'reach-opened', 'reach-opened'] as const;
const cellOf = (student: ReachStudent, { number }: NumberedItem) =>
  student.cells[number - 1] as Cell;
const legend = ['-', 'e', 'o', 'd'] as const;

const options = computed((): ApexOptions => {
  const { colour } = look.value;
  const ranges = COLOURS.map((name, n) => ({
    ...{ from: n, to: n, color: colour(name) },
    foreColor: n >= 3 ? '#ffffff' : colour('ink'),
  }));
  return {
    ...squares(look.value, ranges, 220),
    dataLabels: {
      enabled: true,
      style: { fontSize: '13px', fontWeight: 600 },
      formatter: (state) => SIGNS[CELLS[Number(state)]!],
    },
    grid: { padding: { left: 4, right: 0, top: -4, bottom: -6 } },
    xaxis: {
      type: 'category',
      position: 'top',
      labels: { style: { fontSize: '12px', colors: colour('soft') } },
      axisBorder: { show: false },
      axisTicks: { show: false },
      tooltip: { enabled: false },
    },
  };
});
const series = computed(() =>
  students.map((student) => ({
    name: student.name,
    data: items.map((item) => ({
      x: String(item.number),
      y: CELLS.indexOf(cellOf(student, item)),
    })),
  })),
);
</script>

<template>
  <div class="relative">
    <ul class="flex flex-wrap gap-x-5 gap-y-1 text-meta text-soft">
      <li v-for="cell in legend" :key="cell" class="flex items-center gap-1.5">
        <span
          class="grid size-[22px] place-items-center rounded-[2px] text-[13px] font-semibold"
          :class="cell === 'o' || cell === 'd' ? 'text-white' : 'text-ink'"
          :style="{ background: `var(--${COLOURS[CELLS.indexOf(cell)]})` }"
          aria-hidden="true"
          >{{ SIGNS[cell] }}</span>{{ t(`reach.cell.${cell}`) }}
      </li>
    </ul>
    <VueApexCharts
      :height="students.length * 26 + 34"
      type="heatmap"
      :options="options"
      :series="series"
      aria-hidden="true"
    />
    <div class="sr-only">
      <table>
        <thead>
          <tr>
            <th scope="col">{{ t('reach.student') }}</th>
            <th v-for="item in items" :key="item.itemId" scope="col">{{ item.title }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="student in students" :key="student.personId">
            <th scope="row">{{ student.name }}</th>
            <td v-for="item in items" :key="item.itemId">
              {{ cellOf(student, item) === ' ' ? '' : t(`reach.cell.${cellOf(student, item)}`) }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </div>
</template>
