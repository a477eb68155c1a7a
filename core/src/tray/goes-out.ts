import type { Instant } from '../model.ts';
import { nextSchoolDay, type Lesson, type SchoolDays } from '../timetable.ts';
import { dayAfter, dayAt, instantAt, type Day } from '../zone.ts';
import type { ThingKind } from './model.ts';

/** When a thing goes out: as a rule that is settled for each class, or at an instant. */
export const GOES_OUT_RULES = ['now', 'next-lesson', 'next-school-day', 'held'] as const;
export type GoesOut = (typeof GOES_OUT_RULES)[number] | Instant;

/** When things of each kind go out until a teacher says otherwise. */
export const GOES_OUT: Readonly<Record<ThingKind, Exclude<GoesOut, Instant>>> = {
  notes: 'now',
  sheet: 'now',
  quiz: 'now',
  key: 'next-lesson',
  other: 'now',
};

/** At this time of the clock on the wall things go out on a later day. */
const MORNING = 'T08:00';
/**
 * When a thing goes out for one class, as its release: after the class's own lesson on `lessonDate`, if that is still to come.
 * Without a timetable the next lesson is on the next school day.
 */
export function scheduledRelease(
  goesOut: GoesOut,
  { lessonDate, lessons, now }: { lessonDate: Day; lessons: readonly Lesson[]; now: Instant },
  school: SchoolDays,
): { readonly held: boolean; readonly from: Instant | null; readonly until: null } {
  const at = (from: Instant | null) => ({ held: false, from, until: null });
  if (goesOut === 'held') return { held: true, from: null, until: null };
  if (goesOut === 'now') return at(null);
  if (typeof goesOut === 'number') return at(goesOut <= now ? null : goesOut);
  const today = dayAt(now, school.zone);
  const after = lessonDate > today ? lessonDate : today;
  const day = nextSchoolDay(after, goesOut === 'next-lesson' ? lessons : [], school);
  return at(instantAt(`${day ?? dayAfter(after, 1)}${MORNING}`, school.zone));
}
