import type { Reach, ReachItem } from '@sammlung/contract';
import type { ApexOptions } from 'apexcharts';
import type { useChartLook } from '../../app/chart-look.ts';

/** How far a student has got with a thing, by the characters in which they come. */
export const CELLS = [' ', '-', 'e', 'o', 'd'] as const;
export type Cell = (typeof CELLS)[number];

/** A thing with its number in the list, by which charts call it. */
export type NumberedItem = ReachItem & { readonly number: number };

/** How many things and students a chart holds and can still be read. */
export const MOST_THINGS = 15;
export const MOST_STUDENTS = 40;

/** Squares between thin lines, with words above or below and at the left, of at most so many points. */
export const squares = (
  { colour, plain }: ReturnType<typeof useChartLook>['value'],
  ranges: readonly { from: number; to: number; color: string; foreColor: string }[],
  leftAtMost: number,
): ApexOptions => ({
  ...plain('heatmap'),
  stroke: { width: 2, colors: [colour('sheet')] },
  plotOptions: {
    heatmap: { enableShades: false, radius: 2, colorScale: { ranges: [...ranges] } },
  },
  yaxis: {
    reversed: true,
    labels: {
      maxWidth: leftAtMost,
      align: 'left',
      offsetX: 14,
      style: { fontSize: '14px', colors: colour('ink') },
    },
  },
});

/** The days from the `most` last ones, or the first that are counted, until today: each as a place from the first on, and as a date. */
export function lastDays({ firstDay }: Pick<Reach, 'firstDay'>, today: string, most: number) {
  const first = Date.parse(`${firstDay}T00:00:00Z`);
  const last = Math.round((Date.parse(`${today}T00:00:00Z`) - first) / DAY_MS);
  const from = Math.max(0, last - most + 1);
  return Array.from({ length: last - from + 1 }, (_, n) => ({
    place: from + n,
    date: new Date(first + (from + n) * DAY_MS),
  }));
}
const DAY_MS = 24 * 60 * 60 * 1000;
