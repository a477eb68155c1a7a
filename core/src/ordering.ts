/** Order: positions by hand, and the lesson date a file's name speaks of. */

/** Positions lie at least this far apart; where there is no room a folder is numbered anew. */
const CLOSEST = 1e-6;

/**
 * Positions for `count` things between two neighbours (null: there is none on that side), in rising order. Null when
 * there is no room between them and the whole folder has to be numbered anew.
 */
export function positionsBetween(
  lower: number | null,
  upper: number | null,
  count: number,
): number[] | null {
  if (upper === null) return Array.from({ length: count }, (_, n) => (lower ?? 0) + n + 1);
  const from = lower ?? upper - count - 1;
  const step = (upper - from) / (count + 1);
  if (step < CLOSEST) return null;
  return Array.from({ length: count }, (_, n) => from + step * (n + 1));
}

const MONTHS =
  'january february march april may june july august september october november december'.split(
    ' ',
  );
/** A month's name, whole or by its first three letters (four for September). */
const MONTH = MONTHS.map(
  (m) => `${m.slice(0, 3)}(?:${m === 'september' ? 't|' : ''}${m.slice(3)})?`,
).join('|');
const SEPARATOR = String.raw`[-._ /]`;
const YEAR_FIRST = new RegExp(String.raw`(?<!\d)(20\d\d)(${SEPARATOR}?)(\d\d)\2(\d\d)(?!\d)`, 'u');
const DAY_FIRST = new RegExp(
  String.raw`(?<!\d)(\d{1,2})(${SEPARATOR})(\d{1,2})\2(20\d\d|\d\d)(?!\d)`,
  'u',
);
const DAY_NAMED = new RegExp(
  String.raw`(?<![\d\p{L}])(\d{1,2})\.?${SEPARATOR}?(${MONTH})\.?(?:${SEPARATOR}?(20\d\d))?(?![\d\p{L}])`,
  'iu',
);
const NAMED_DAY = new RegExp(
  String.raw`(?<!\p{L})(${MONTH})\.?${SEPARATOR}?(\d{1,2})(?:,?${SEPARATOR}?(20\d\d))?(?![\d\p{L}])`,
  'iu',
);

/**
 * The lesson date that a file's name holds, as `2026-11-25`; null when it holds none. Understood are year first
 * (2026-11-25, 20261125), day first (25.11.2026, 25-11-26), and named months (25 Nov, Nov 25 2026). Where the year is
 * missing, the one is taken that brings the day closest to `today`.
 */
export function lessonDateIn(name: string, today: string): string | null {
  return findDay(name, today)?.day ?? null;
}

/** A day in a name, with where it stands there. */
export interface FoundDay {
  readonly day: string;
  readonly start: number;
  readonly end: number;
}

/** The same with where the date stands in the name. */
export function findDay(name: string, today: string): FoundDay | null {
  const stem = name.replaceAll('_', ' ');
  for (const [form, read] of FORMS) {
    const found = form.exec(stem);
    if (!found) continue;
    const when = read(found, today);
    return when === null
      ? null
      : { day: when, start: found.index, end: found.index + found[0].length };
  }
  return null;
}

/** How dates are written, and how each is read. */
const FORMS: readonly (readonly [
  RegExp,
  (found: RegExpExecArray, today: string) => string | null,
])[] = [
  [YEAR_FIRST, ([, y, , m, d]) => day(Number(y), Number(m), Number(d))],
  [
    DAY_FIRST,
    ([, d, , m, y]) => {
      const year = Number(y);
      return day(year < 100 ? 2000 + year : year, Number(m), Number(d));
    },
  ],
  [DAY_NAMED, ([, d, month, y], today) => nearest(month!, Number(d), y, today)],
  [NAMED_DAY, ([, month, d, y], today) => nearest(month!, Number(d), y, today)],
];

function nearest(
  word: string,
  dayOfMonth: number,
  year: string | undefined,
  today: string,
): string | null {
  const month = MONTHS.findIndex((m) => m.startsWith(word.toLowerCase().slice(0, 3))) + 1;
  if (year !== undefined) return day(Number(year), month, dayOfMonth);
  const now = Date.parse(today);
  const thisYear = Number(today.slice(0, 4));
  return (
    [thisYear - 1, thisYear, thisYear + 1]
      .map((y) => day(y, month, dayOfMonth))
      .filter((d) => d !== null)
      .sort((a, b) => Math.abs(Date.parse(a) - now) - Math.abs(Date.parse(b) - now))[0] ?? null
  );
}

/** The day when the calendar has it, else null. */
function day(year: number, month: number, dayOfMonth: number): string | null {
  const at = new Date(Date.UTC(year, month - 1, dayOfMonth));
  if (at.getUTCMonth() !== month - 1 || at.getUTCDate() !== dayOfMonth) return null;
  return at.toISOString().slice(0, 10);
}
