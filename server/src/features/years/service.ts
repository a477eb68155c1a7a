import type { YearToMake, YearClosing, YearProposal, YearRow } from '@sammlung/contract';
import { followingYear, type YearDays } from '@sammlung/core';
import type { z } from 'zod';
import {
  addClass,
  addCourse,
  addTeachers,
  addYear,
  changeYear,
  yearById,
} from '../../domain/courses.ts';
import { changesBy } from '../../domain/log.ts';
import { AppError } from '../../platform/errors.ts';
import { requireOffice, type SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import { closingOf, coursesOfYear, lockYear, yearsOf } from './queries.ts';

type Needs = Pick<Services, 'db' | 'now'>;

/** The years of the school. */
export async function listYears(
  { db, now }: Needs,
  person: SignedIn,
): Promise<{ years: YearRow[] }> {
  requireOffice(person);
  return { years: await yearsOf(db, person.schoolId, now()) };
}

/** A year of the school. Throws `not-found`. */
async function requireYear({ db }: Pick<Needs, 'db'>, person: SignedIn, id: string) {
  requireOffice(person);
  const year = await yearById(db, id);
  if (year?.schoolId !== person.schoolId) throw new AppError('not-found');
  return year;
}

/** What is proposed for the year after one: its days a year later, with the same courses and classes. */
export async function proposeNextYear(
  services: Pick<Needs, 'db'>,
  person: SignedIn,
  id: string,
): Promise<YearProposal> {
  const year = await requireYear(services, person, id);
  const courses = await coursesOfYear(services.db, id);
  return {
    ...followingYear(year),
    courses: courses.map(({ teachers, classes, ...course }) => ({
      ...course,
      teachers: teachers.map(({ name }) => name),
      classes: classes.map(({ id, code, colour }) => ({ id, code, colour })),
    })),
  };
}

function refuseWrongDays({ firstDay, lastDay }: YearDays): void {
  if (firstDay >= lastDay)
    throw new AppError('ends-before-start', {
      faults: [{ field: 'lastDay', fault: 'ends-before-start' }],
    });
}

/** Makes a year with courses and classes as they were in others. Throws `ends-before-start`, `year-taken`, `code-taken`, `not-found`. */
export async function makeYear(
  { db, now }: Needs,
  person: SignedIn,
  { courses, ...days }: z.infer<typeof YearToMake>,
): Promise<{ id: string }> {
  requireOffice(person);
  refuseWrongDays(days);
  const { schoolId } = person;
  return db.transaction(async (tx) => {
    await changesBy(tx, person, now());
    const before = await yearsOf(tx, schoolId, now());
    const known = new Map(
      (await Promise.all(before.map(({ id }) => coursesOfYear(tx, id))))
        .flat()
        .map((course) => [course.id, course]),
    );
    const yearId = await addYear(tx, { schoolId, ...days });
    for (const { from, classes } of courses) {
      const course = known.get(from);
      if (!course) throw new AppError('not-found');
      const { title, colour } = course;
      const courseId = await addCourse(tx, { schoolId, yearId, title, colour });
      await addTeachers(
        tx,
        course.teachers.map(({ id: personId }) => ({ schoolId, courseId, personId })),
      );
      for (const { from: classId, code } of classes) {
        const old = course.classes.find(({ id }) => id === classId);
        if (!old) throw new AppError('not-found');
        const { colour, language } = old;
        await addClass(tx, { schoolId, yearId, courseId, code, colour, language });
      }
    }
    return { id: yearId };
  });
}

/** Gives a year another name or other days. Throws `ends-before-start`, `year-taken`. */
export async function renameYear(
  services: Pick<Needs, 'db'>,
  person: SignedIn,
  id: string,
  days: YearDays,
): Promise<void> {
  await requireYear(services, person, id);
  refuseWrongDays(days);
  await changeYear(services.db, id, days);
}

/** What closing a year would do. */
export async function yearClosing(
  services: Needs,
  person: SignedIn,
  id: string,
): Promise<YearClosing> {
  await requireYear(services, person, id);
  return closingOf(services.db, id, services.now());
}

/** Closes a year, or opens it again; one that is so already stays as it is. */
export async function closeYear(
  { db, now }: Needs,
  person: SignedIn,
  id: string,
  closed: boolean,
): Promise<void> {
  requireOffice(person);
  await db.transaction(async (tx) => {
    await changesBy(tx, person, now());
    const year = await lockYear(tx, person.schoolId, id);
    if (!year) throw new AppError('not-found');
    if (year.closed === closed) return;
    await changeYear(tx, id, { closedAt: closed ? new Date(now()) : null });
  });
}
