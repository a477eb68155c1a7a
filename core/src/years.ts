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

const yearLabel = (first: number) => `${first}/${String((first + 1) % 100).padStart(2, '0')}`;
