import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

const FILE = fileURLToPath(new URL('../results.json', import.meta.url));

export interface Figure {
  readonly value: number;
  readonly unit: string;
  /** The same measured on the yardstick; null where the bar is an absolute one. */
  readonly yardstick: number | null;
  /** value / yardstick */
  readonly ratio: number | null;
}

/** What a figure, or its ratio to the yardstick, has to be; null where there is no bar. */
export type Bar = {
  readonly of: 'value' | 'ratio';
  readonly bound: 'at most' | 'at least';
  readonly limit: number;
} | null;

export const atMost = (limit: number): Bar => ({ of: 'value', bound: 'at most', limit });
export const ratioAtMost = (limit: number): Bar => ({ of: 'ratio', bound: 'at most', limit });
export const ratioAtLeast = (limit: number): Bar => ({ of: 'ratio', bound: 'at least', limit });

export function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length % 2 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
}

const round = (n: number) => Number(n.toPrecision(4));

/** Prints one line for the figure, writes it beside the others, and makes the run fail where its bar is missed. */
export function report(
  name: string,
  value: number,
  unit: string,
  yardstick: number | null,
  bar: Bar,
): void {
  const ratio = yardstick === null ? null : round(value / yardstick);
  const figure: Figure = {
    value: round(value),
    unit,
    yardstick: yardstick === null ? null : round(yardstick),
    ratio,
  };
  const beside = ratio === null ? '' : `  yardstick ${figure.yardstick}  ratio ${ratio}`;
  const wanted = bar
    ? `bar: ${bar.of === 'ratio' ? 'ratio ' : ''}${bar.bound} ${bar.limit}, ${meets(figure, bar) ? 'met' : 'MISSED'}`
    : 'no bar';
  console.log(`${name} ${figure.value} ${unit}${beside}  (${wanted})`);
  if (bar && !meets(figure, bar)) process.exitCode = 1;
  const known = existsSync(FILE)
    ? (JSON.parse(readFileSync(FILE, 'utf8')) as Record<string, Figure>)
    : {};
  const sorted = Object.entries({ ...known, [name]: figure }).sort(([a], [b]) =>
    a.localeCompare(b),
  );
  writeFileSync(FILE, `${JSON.stringify(Object.fromEntries(sorted), null, 2)}\n`);
}

/** Throws where the bar is one for a ratio and there is no yardstick. */
function meets(figure: Figure, { of, bound, limit }: NonNullable<Bar>): boolean {
  const judged = figure[of];
  if (judged === null) throw new Error('A ratio needs a yardstick.');
  return bound === 'at most' ? judged <= limit : judged >= limit;
}
