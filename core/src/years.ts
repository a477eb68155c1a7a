/** A school year by its first and last day, as ISO 8601. */
export interface YearDays {
  readonly label: string;
  readonly firstDay: string;
  readonly lastDay: string;
}

/** From this month on (June), people plan the year that begins in the same calendar year. */
const PLANNING = 6;

/** The year that is proposed to whoever begins on a day: the one that runs then, or that is planned for. */
export function proposedYear(day: string): YearDays {
  const [year, month] = [Number(day.slice(0, 4)), Number(day.slice(5, 7))];
  const first = month >= PLANNING ? year : year - 1;
  return {
    label: yearLabel(first),
    firstDay: `${first}-09-01`,
    lastDay: `${first + 1}-07-31`,
  };
}

/** The year that runs on a day; else the next one that begins; else the last one. Null where there is none. */
export function yearOn<Y extends YearDays>(years: readonly Y[], day: string): Y | null {
  const inOrder = [...years].sort((a, b) => (a.firstDay < b.firstDay ? -1 : 1));
  return inOrder.find(({ lastDay }) => lastDay >= day) ?? inOrder.at(-1) ?? null;
}

/** The year that is proposed to follow another one: the same days, and the same weekdays where the label does not say otherwise. */
export function followingYear({ label, firstDay, lastDay }: YearDays): YearDays {
  const first = Number(firstDay.slice(0, 4)) + 1;
  const ours = label === yearLabel(first - 1) || !/\d/u.test(label);
  return {
    label: ours ? yearLabel(first) : label.replaceAll(/\d+/gu, plusOne),
    firstDay: nextYearsDay(firstDay),
    lastDay: nextYearsDay(lastDay),
  };
}

/** 2026 becomes 2027, 27 becomes 28, and 99 becomes 00. */
const plusOne = (digits: string) =>
  String(Number(digits) + 1)
    .padStart(digits.length, '0')
    .slice(-digits.length);

/** The day 52 weeks later, and one more where that is needed to stay in the same week of the calendar: a Monday stays a Monday. */
function nextYearsDay(day: string): string {
  const wanted = Date.parse(
    `${Number(day.slice(0, 4)) + 1}${day.slice(4) === '-02-29' ? '-02-28' : day.slice(4)}`,
  );
  const later = Date.parse(day) + 52 * 7 * DAY_MS;
  const nearest = wanted - later > 3 * DAY_MS ? later + 7 * DAY_MS : later;
  return new Date(nearest).toISOString().slice(0, 10);
}

const DAY_MS = 24 * 60 * 60 * 1000;

const yearLabel = (first: number) => `${first}/${String((first + 1) % 100).padStart(2, '0')}`;
