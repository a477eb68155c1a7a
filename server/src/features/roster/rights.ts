import type { Queries } from '../../db/database.ts';
import { classById, classesOfYear } from '../../domain/courses.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { courseTaught } from './queries.ts';

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

/** Whether a class of this code may be made in the year. */
export async function refuseCodeTaken(db: Queries, yearId: string, code: string, except?: string) {
  const taken = await classesOfYear(db, yearId);
  if (taken.some((c) => c.id !== except && c.code.toLowerCase() === code.toLowerCase()))
    throw new AppError('code-taken', { faults: [{ field: 'code', fault: code }] });
}

/** Who is noted as having put somebody into a class, or made their account: nobody where it was the office. */
export const noted = ({ kind, id }: SignedIn) => (kind === 'office' ? null : id);
