import type { Lesson } from '@sammlung/contract';

/** Which class there is, by `weekday period`. */
export type Cells = Readonly<Record<string, string>>;

/** The lessons of classes as a table; where two are at the same time, the later one is shown. */
export function toCells(
  classes: readonly { readonly id: string; readonly lessons: readonly Lesson[] }[],
): Cells {
  const all = classes.flatMap(({ id, lessons }) =>
    lessons.map(({ weekday, period }) => [`${weekday} ${period}`, id] as const),
  );
  return Object.fromEntries(all.sort(([a], [b]) => a.localeCompare(b)));
}

/** The same the other way, by the ids of classes. */
export function toLessons(cells: Cells): Map<string, Lesson[]> {
  const lessons = new Map<string, Lesson[]>();
  for (const [key, id] of Object.entries(cells)) {
    const [weekday, period] = key.split(' ').map(Number) as [number, number];
    lessons.set(id, [...(lessons.get(id) ?? []), { weekday, period }]);
  }
  return lessons;
}
