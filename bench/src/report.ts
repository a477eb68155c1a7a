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

export function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length % 2 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
}

const round = (n: number) => Number(n.toPrecision(4));

/** Prints one line for the figure and writes it beside the others. */
export function report(
  name: string,
  value: number,
  unit: string,
  yardstick: number | null,
  bar: string,
): void {
  const ratio = yardstick === null ? null : round(value / yardstick);
  const figure: Figure = {
    value: round(value),
    unit,
    yardstick: yardstick === null ? null : round(yardstick),
    ratio,
  };
  const beside = ratio === null ? '' : `  yardstick ${figure.yardstick}  ratio ${ratio}`;
  console.log(`${name} ${figure.value} ${unit}${beside}  (bar: ${bar})`);
  const known = existsSync(FILE)
    ? (JSON.parse(readFileSync(FILE, 'utf8')) as Record<string, Figure>)
    : {};
  const sorted = Object.entries({ ...known, [name]: figure }).sort(([a], [b]) =>
    a.localeCompare(b),
  );
  writeFileSync(FILE, `${JSON.stringify(Object.fromEntries(sorted), null, 2)}\n`);
}
