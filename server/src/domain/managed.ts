import { and, eq } from 'drizzle-orm';
import type { Queries } from '../db/database.ts';
import { courses, courseTeachers, years } from '../db/schema/index.ts';
import { AppError } from '../platform/errors.ts';
import type { SignedIn } from '../platform/sessions.ts';
import { classById } from './courses.ts';

/** Courses and classes, for those who run them. */

/** A course with whether its year is closed and whether the person teaches it; null where their school has no such one. */
async function courseTaught(db: Queries, person: SignedIn, courseId: string) {
  const [found] = await db
    .select({ course: courses, closedAt: years.closedAt, teaches: courseTeachers.personId })
    .from(courses)
    .innerJoin(years, eq(years.id, courses.yearId))
    .leftJoin(
      courseTeachers,
      and(eq(courseTeachers.courseId, courses.id), eq(courseTeachers.personId, person.id)),
    )
    .where(and(eq(courses.id, courseId), eq(courses.schoolId, person.schoolId)));
  return found ?? null;
}

/** A course of an open year that the person runs: teachers their own, the office all. Throws `not-found`. */
export async function requireManagedCourse(
  db: Queries,
  person: SignedIn,
  courseId: string,
  removed: 'there' | 'removed' = 'there',
) {
  const found = await courseTaught(db, person, courseId);
  const may = person.kind === 'office' || (person.kind === 'teacher' && found?.teaches);
  if (!found || !may || found.closedAt) throw new AppError('not-found');
  if ((found.course.removedAt === null) !== (removed === 'there')) throw new AppError('not-found');
  return found.course;
}

/** A class of a course that the person runs. Throws `not-found`. */
export async function requireManagedClass(
  db: Queries,
  person: SignedIn,
  classId: string,
  removed: 'there' | 'removed' = 'there',
) {
  const found = await classById(db, classId);
  if (!found || (found.removedAt === null) !== (removed === 'there'))
    throw new AppError('not-found');
  const course = await requireManagedCourse(db, person, found.courseId);
  return { ...found, course };
}

/** A class that the person teaches, in a year that is open: they make its page and its website. Throws `not-found`. */
export async function requireTaughtClass(db: Queries, person: SignedIn, classId: string) {
  // The office runs all classes, and teaches none.
  if (person.kind !== 'teacher') throw new AppError('not-found');
  return requireManagedClass(db, person, classId);
}
