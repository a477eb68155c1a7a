import type { CarryPlan } from '@sammlung/contract';
import { movedSpan, staleDates, withProposals, type Frame, type YearMove } from '@sammlung/core';
import type { Queries } from '../../db/database.ts';
import { yearsOfSchool } from '../../domain/courses.ts';
import { schoolDaysOf } from '../../domain/timetable.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { taughtClasses, type TaughtClass } from './queries.ts';

/** What somebody carries over, from which year to which, and what stands for what. */
export interface Moving {
  readonly person: SignedIn;
  readonly asked: CarryPlan;
  readonly move: YearMove;
  readonly classes: ReadonlyMap<string, TaughtClass>;
  /** The classes that take the place of each. */
  readonly to: ReadonlyMap<string, readonly string[]>;
  readonly from: Frame;
  readonly into: Frame;
}

/** Throws `same-year`, `year-closed`, and `not-found` for classes that the person does not teach. */
export async function movingOf(tx: Queries, person: SignedIn, asked: CarryPlan): Promise<Moving> {
  if (asked.from === asked.to) throw new AppError('same-year');
  const years = await yearsOfSchool(tx, person.schoolId);
  const [before, after] = [asked.from, asked.to].map((id) => years.find((year) => year.id === id));
  if (!before || !after) throw new AppError('not-found');
  if (after.closedAt) throw new AppError('year-closed');
  const classes = new Map((await taughtClasses(tx, person.id)).map((one) => [one.id, one]));
  const to = new Map<string, string[]>();
  for (const { from, to: next } of asked.classes) {
    if (classes.get(from)?.yearId !== before.id) throw new AppError('not-found');
    if (next.some((id) => classes.get(id)?.yearId !== after.id)) throw new AppError('not-found');
    to.set(from, [...new Set([...(to.get(from) ?? []), ...next])]);
  }
  const codes = (ids: Iterable<string>) => [
    ...new Set([...ids].map((id) => classes.get(id)!.code)),
  ];
  const days = await schoolDaysOf(tx, person.schoolId);
  return {
    ...{ person, asked, classes, to },
    move: { from: before, to: after, school: { zone: person.timeZone, days } },
    from: { firstDay: before.firstDay, lastDay: before.lastDay, classes: codes(to.keys()) },
    into: {
      firstDay: after.firstDay,
      lastDay: after.lastDay,
      classes: codes([...to.values()].flat()),
    },
  };
}

/** A text with what is out of date in it mended. */
export const mended = ({ from, into }: Moving, text: string, limit: number): string => {
  const found = withProposals(text, staleDates(text, from, into));
  return found.length <= limit ? found : text;
};

/** The same for when something begins and ends. */
export const movedDates = (
  { move }: Moving,
  { fromAt, untilAt }: { fromAt: number | null; untilAt: number | null },
) => {
  const { from, until } = movedSpan({ from: fromAt, until: untilAt }, move);
  return {
    fromAt: from === null ? null : new Date(from),
    untilAt: until === null ? null : new Date(until),
  };
};
