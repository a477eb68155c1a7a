import type { Id, Instant } from './model.ts';
import { dayAfter, dayAt, wallTime, type Day } from './zone.ts';

/** Lessons of a week, and the days on which there are none. */

/** A lesson that a class has each week. */
export interface Lesson {
  /** From 1 for Monday to 7 for Sunday. */
  readonly weekday: number;
  /** From 1 for the first of the day; null where there are only times. */
  readonly period: number | null;
}

/** A term of a school, or days off, from one to another (included). */
export interface SchoolDay {
  readonly kind: 'term' | 'off';
  readonly title: string;
  readonly firstDay: Day;
  readonly lastDay: Day;
}

/** The days of a school, as far as they matter to when something happens. */
export interface SchoolDays {
  readonly zone: string;
  readonly days: readonly Pick<SchoolDay, 'kind' | 'firstDay' | 'lastDay'>[];
}

/** From 1 for Monday to 7 for Sunday. */
export const weekdayOf = (day: Day) => ((new Date(`${day}T00:00:00Z`).getUTCDay() + 6) % 7) + 1;

/**
 * Whether there is no school on a day: it is a day off, or between two terms. Before the first term that is known, and after the last one,
 * nothing is known.
 */
export function isOff(day: Day, { days }: SchoolDays): boolean {
  const within = (one: Pick<SchoolDay, 'firstDay' | 'lastDay'>) =>
    one.firstDay <= day && day <= one.lastDay;
  if (days.some((one) => one.kind === 'off' && within(one))) return true;
  const terms = days.filter(({ kind }) => kind === 'term');
  const [before, after] = [
    terms.some((term) => term.lastDay < day),
    terms.some((term) => term.firstDay > day),
  ];
  return before && after && !terms.some(within);
}

/** How far a school day is looked for, in days. */
const AHEAD = 120;

/** The first school day after another one on which a lesson is; without lessons the first from Monday to Friday. Null where none is near. */
export function nextSchoolDay(
  after: Day,
  lessons: readonly Lesson[],
  school: SchoolDays,
): Day | null {
  for (let ahead = 1; ahead <= AHEAD; ahead += 1) {
    const day = dayAfter(after, ahead);
    if (hasLesson(day, lessons) && !isOff(day, school)) return day;
  }
  return null;
}

/** The last school day up to another one (included) on which a lesson was, within a week. Null where there was none. */
export function lastSchoolDay(
  until: Day,
  lessons: readonly Lesson[],
  school: SchoolDays,
): Day | null {
  for (let back = 0; back < 7; back += 1) {
    const day = dayAfter(until, -back);
    if (hasLesson(day, lessons) && !isOff(day, school)) return day;
  }
  return null;
}

const hasLesson = (day: Day, lessons: readonly Lesson[]) =>
  lessons.length === 0
    ? weekdayOf(day) <= 5
    : lessons.some(({ weekday }) => weekday === weekdayOf(day));

/** An event of a calendar. */
export interface CalendarEvent {
  readonly title: string;
  /** When it begins: on the clock of the wall (`2026-11-26T08:00`), as an instant, or on a whole day. */
  readonly begins:
    | { readonly wall: string }
    | { readonly at: Instant }
    | { readonly day: Day; readonly lastDay: Day };
  /** The days of the week on which it comes again; empty for an event that does not. */
  readonly weekdays: readonly number[];
  /** The last day on which it may come again; null where it does without an end. */
  readonly until: Day | null;
}

/** The lessons of classes that a calendar has, by the ids of the classes. Lessons are numbered by the times at which they begin. */
export function lessonsIn(
  events: readonly CalendarEvent[],
  classesNamed: (title: string) => readonly Id[],
  now: Instant,
  zone: string,
): Map<Id, Lesson[]> {
  const today = dayAt(now, zone);
  const found: { classId: Id; weekday: number; time: string }[] = [];
  for (const { title, begins, weekdays, until } of events) {
    if ('day' in begins) continue;
    const wall = 'wall' in begins ? begins.wall : wallTime(begins.at, zone);
    const [day, time] = [wall.slice(0, 10), wall.slice(11, 16)];
    // What is over says nothing of the week.
    const over =
      weekdays.length > 0 ? until !== null && until < today : day < dayAfter(today, -STALE);
    if (over) continue;
    for (const classId of classesNamed(title))
      for (const weekday of weekdays.length > 0 ? weekdays : [weekdayOf(day)])
        found.push({ classId, weekday, time });
  }
  const times = [...new Set(found.map(({ time }) => time))].sort();
  const lessons = new Map<Id, Lesson[]>();
  for (const { classId, weekday, time } of found) {
    const period = times.indexOf(time) + 1;
    const known = lessons.get(classId) ?? [];
    if (!known.some((one) => one.weekday === weekday && one.period === period))
      lessons.set(classId, [...known, { weekday, period }]);
  }
  return lessons;
}

/** Single lessons count if they are at most so old, in days. */
const STALE = 14;
/** What a term is called. */
const TERM = /\b(?:term|semester|trimester|quarter|halbjahr|tertial|quartal)\b/iu;

/** The terms and days off that a calendar has: its events of whole days, in their order. */
export function schoolDaysIn(events: readonly CalendarEvent[]): SchoolDay[] {
  return events
    .flatMap(({ title, begins }): SchoolDay[] => {
      if (!('day' in begins)) return [];
      const kind = TERM.test(title) && begins.lastDay > dayAfter(begins.day, 20) ? 'term' : 'off';
      return [{ kind, title: title.trim(), firstDay: begins.day, lastDay: begins.lastDay }];
    })
    .sort((a, b) => a.firstDay.localeCompare(b.firstDay) || a.title.localeCompare(b.title));
}
