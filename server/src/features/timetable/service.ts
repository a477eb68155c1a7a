import type { CalendarLessons, Lesson, SchoolDay, Timetable } from '@sammlung/contract';
import { classesNamed, lessonsIn, schoolDaysIn } from '@sammlung/core';
import { classesTaught } from '../../domain/classes.ts';
import { requireManagedClass } from '../../domain/managed.ts';
import { lessonsOf, schoolDaysOf, setLessons, setSchoolDays } from '../../domain/timetable.ts';
import { AppError } from '../../platform/errors.ts';
import { requireOffice, type SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import { readCalendar } from './read-calendar.ts';

type Needs = Pick<Services, 'db' | 'now'>;

/** The week of a teacher. */
export async function timetableOf({ db, now }: Needs, person: SignedIn): Promise<Timetable> {
  if (person.kind !== 'teacher') throw new AppError('not-found');
  const classes = await classesTaught(db, person.id, now());
  const lessons = await lessonsOf(
    db,
    classes.map(({ id }) => id),
  );
  return {
    classes: classes.map(({ id, code, colour, course }) => ({
      ...{ id, code, colour, course },
      lessons: lessons.get(id) ?? [],
    })),
    days: await schoolDaysOf(db, person.schoolId),
  };
}

/** Sets the lessons of a class, for those who run it. */
export async function changeLessons(
  { db }: Needs,
  person: SignedIn,
  classId: string,
  lessons: readonly Lesson[],
): Promise<void> {
  await db.transaction(async (tx) => {
    await setLessons(tx, await requireManagedClass(tx, person, classId), lessons);
  });
}

/** The lessons of a teacher's classes in a calendar: classes are known by their codes in the titles of events. */
export async function calendarLessons(
  { db, now }: Needs,
  person: SignedIn,
  text: string,
): Promise<CalendarLessons> {
  if (person.kind !== 'teacher') throw new AppError('not-found');
  const t = now();
  const classes = await classesTaught(db, person.id, t);
  const named = classesNamed(classes);
  const events = readCalendar(text);
  const found = lessonsIn(events, named, t, person.timeZone);
  return {
    classes: [...found].map(([id, lessons]) => ({
      id,
      lessons: lessons.flatMap(({ weekday, period }) =>
        period === null || period > 20 ? [] : [{ weekday, period }],
      ),
    })),
    others: events.filter(({ title }) => named(title).length === 0).length,
  };
}

/** The terms and days off, for those who work at the school. */
export async function schoolDays({ db }: Needs, person: SignedIn) {
  if (person.kind === 'student') throw new AppError('not-found');
  return { days: await schoolDaysOf(db, person.schoolId) };
}

/** Sets them, for the office. */
export async function changeSchoolDays(
  { db }: Needs,
  person: SignedIn,
  days: readonly SchoolDay[],
): Promise<void> {
  requireOffice(person);
  await db.transaction((tx) => setSchoolDays(tx, person.schoolId, days));
}

/** The terms and days off that a calendar has. */
export function calendarDays(person: SignedIn, text: string) {
  requireOffice(person);
  const days = schoolDaysIn(readCalendar(text)).flatMap((day) => {
    const title = day.title.slice(0, 60).trim();
    return title === '' || day.firstDay < '1900' || day.lastDay >= '2200'
      ? []
      : [{ ...day, title }];
  });
  return { days: days.slice(0, 300) };
}
