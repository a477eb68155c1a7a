import { and, eq, isNull, sql, type SQL } from 'drizzle-orm';
import { rows, uuids, type Queries } from '../../db/database.ts';
import { classes, courses, courseTeachers, years } from '../../db/schema/index.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';

/** Whether the person runs a course: teachers their own, the office all. */
export const runs = (person: SignedIn, courseId: SQL) =>
  sql`(${person.kind === 'office'} or exists (select from course_teachers x
    where x.course_id = ${courseId} and x.person_id = ${person.id}::uuid))`;

/** A course of an open year that the person runs: teachers their own, the office all. Throws `not-found`. */
export async function requireManagedCourse(
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
export async function requireManagedClass(
  db: Queries,
  person: SignedIn,
  classId: string,
  removed: 'there' | 'removed' = 'there',
) {
  const [found] = await db.select().from(classes).where(eq(classes.id, classId));
  if (!found || (found.removedAt === null) !== (removed === 'there'))
    throw new AppError('not-found');
  const course = await requireManagedCourse(db, person, found.courseId);
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

/** An account of a student, as far as changing it is concerned. */
export interface Account extends Record<string, unknown> {
  readonly id: string;
  readonly name: string;
  readonly email: string | null;
  /** Whether its owner has chosen a password: nobody else changes its name, address or password then. */
  readonly inUse: boolean;
  /**
   * Whether the person may take it into a class, and change it while it is not in use: the office may, whoever made it,
   * and the teachers of a class into which the office put it.
   */
  readonly managed: boolean;
}

/** The accounts of students of the person's school among these ids. */
export async function accountsOf(
  db: Queries,
  person: SignedIn,
  ids: readonly string[],
): Promise<Map<string, Account>> {
  const found = await rows<Account>(
    db,
    sql`select p.id, p.name, p.email,
        exists (select from credentials d where d.user_id = p.id and d.provider_id = 'credential' and d.password is not null) as "inUse",
        (${person.kind === 'office'} or coalesce(p.made_by = ${person.id}::uuid, false) or exists (
          select from memberships m join classes c on c.id = m.class_id join courses k on k.id = c.course_id
            join years y on y.id = k.year_id join course_teachers x on x.course_id = k.id
          where m.person_id = p.id and m.added_by is null and x.person_id = ${person.id}::uuid
            and y.closed_at is null and c.removed_at is null and k.removed_at is null)) as managed
      from people p
      where p.id = any (${uuids(ids)}) and p.school_id = ${person.schoolId}::uuid and p.kind = 'student'`,
  );
  return new Map(found.map((account) => [account.id, account]));
}

/** Who is noted as having put somebody into a class, or made their account: nobody where it was the office. */
export const noted = ({ kind, id }: SignedIn) => (kind === 'office' ? null : id);
