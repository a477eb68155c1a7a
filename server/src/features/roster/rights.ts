import { and, eq, isNull, sql, type SQL } from 'drizzle-orm';
import type { Queries } from '../../db/database.ts';
import { classes, courses, courseTeachers, years } from '../../db/schema/index.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';

/** Whether the person runs a course: teachers their own, the office all. */
export const runs = (person: SignedIn, courseId: SQL) =>
  sql`(${person.kind === 'office'} or exists (select from course_teachers x
    where x.course_id = ${courseId} and x.person_id = ${person.id}::uuid))`;

/** A course of an open year that the person runs: teachers their own, the office all. Throws `not-found`. */
export async function courseRun(
  db: Queries,
  person: SignedIn,
  courseId: string,
  removed: 'there' | 'removed' = 'there',
) {
  const [found] = await db
    .select({ course: courses, closedAt: years.closedAt, teaches: courseTeachers.personId })
    .from(courses)
    .innerJoin(years, eq(years.id, courses.yearId))
    .leftJoin(
      courseTeachers,
      and(eq(courseTeachers.courseId, courses.id), eq(courseTeachers.personId, person.id)),
    )
    .where(and(eq(courses.id, courseId), eq(courses.schoolId, person.schoolId)));
  const may = person.kind === 'office' || (person.kind === 'teacher' && found?.teaches);
  if (!found || !may || found.closedAt) throw new AppError('not-found');
  if ((found.course.removedAt === null) !== (removed === 'there')) throw new AppError('not-found');
  return found.course;
}

/** A class of a course that the person runs. Throws `not-found`. */
export async function classRun(
  db: Queries,
  person: SignedIn,
  classId: string,
  removed: 'there' | 'removed' = 'there',
) {
  const [found] = await db.select().from(classes).where(eq(classes.id, classId));
  if (!found || (found.removedAt === null) !== (removed === 'there'))
    throw new AppError('not-found');
  const course = await courseRun(db, person, found.courseId);
  return { ...found, course };
}

/** Whether a class of this code may be made in the year. */
export async function refuseCodeTaken(db: Queries, yearId: string, code: string, except?: string) {
  const taken = await db
    .select({ id: classes.id, code: classes.code })
    .from(classes)
    .where(and(eq(classes.yearId, yearId), isNull(classes.removedAt)));
  if (taken.some((c) => c.id !== except && c.code.toLowerCase() === code.toLowerCase()))
    throw new AppError('code-taken', { faults: [{ field: 'code', fault: code }] });
}
