import { and, desc, eq, inArray, isNull, notInArray } from 'drizzle-orm';
import type { Queries } from '../db/database.ts';
import { classes, courses, courseTeachers, years } from '../db/schema/index.ts';

/** Courses with their classes and teachers: nothing else writes their tables, but for the sample. */

export type Course = typeof courses.$inferSelect;
export type Class = typeof classes.$inferSelect;
type Year = typeof years.$inferSelect;

/** Makes a course. Resolves to its id. */
export async function addCourse(tx: Queries, course: typeof courses.$inferInsert): Promise<string> {
  const [made] = await tx.insert(courses).values(course).returning({ id: courses.id });
  return made!.id;
}

/** Gives a course other facts; `removedAt` removes it, or brings it back. */
export async function changeCourse(
  tx: Queries,
  id: string,
  change: Partial<Pick<Course, 'title' | 'colour' | 'removedAt'>>,
): Promise<void> {
  if (Object.keys(change).length > 0)
    await tx.update(courses).set(change).where(eq(courses.id, id));
}

/** A course, removed or not; null where there is none. */
export async function courseById(db: Queries, id: string): Promise<Course | null> {
  const [found] = await db.select().from(courses).where(eq(courses.id, id));
  return found ?? null;
}

/** The courses of a school that are there. */
export function coursesOfSchool(db: Queries, schoolId: string): Promise<Course[]> {
  return db
    .select()
    .from(courses)
    .where(and(eq(courses.schoolId, schoolId), isNull(courses.removedAt)));
}

/** Lets people teach courses; those who already do stay. */
export async function addTeachers(
  tx: Queries,
  teaching: readonly { schoolId: string; courseId: string; personId: string }[],
): Promise<void> {
  if (teaching.length > 0)
    await tx
      .insert(courseTeachers)
      .values([...teaching])
      .onConflictDoNothing();
}

/** Lets these people, and nobody else, teach a course. */
export async function setTeachers(
  tx: Queries,
  { schoolId, id: courseId }: Pick<Course, 'schoolId' | 'id'>,
  personIds: readonly string[],
): Promise<void> {
  await tx
    .delete(courseTeachers)
    .where(
      and(
        eq(courseTeachers.courseId, courseId),
        notInArray(courseTeachers.personId, [...personIds]),
      ),
    );
  await addTeachers(
    tx,
    personIds.map((personId) => ({ schoolId, courseId, personId })),
  );
}

/** Lets somebody teach these courses in place of somebody else, who teaches them now. */
export async function replaceTeacher(
  tx: Queries,
  courseIds: readonly string[],
  { schoolId, from, to }: { schoolId: string; from: string; to: string },
): Promise<void> {
  const gone = await tx
    .delete(courseTeachers)
    .where(and(inArray(courseTeachers.courseId, [...courseIds]), eq(courseTeachers.personId, from)))
    .returning({ courseId: courseTeachers.courseId });
  await addTeachers(
    tx,
    gone.map(({ courseId }) => ({ schoolId, courseId, personId: to })),
  );
}

/** Makes a class. Resolves to its id. */
export async function addClass(tx: Queries, row: typeof classes.$inferInsert): Promise<string> {
  const [made] = await tx.insert(classes).values(row).returning({ id: classes.id });
  return made!.id;
}

/** Gives a class another code, colour or language. */
export async function changeClass(
  tx: Queries,
  id: string,
  change: Partial<Pick<Class, 'code' | 'colour' | 'language'>>,
): Promise<void> {
  if (Object.keys(change).length > 0)
    await tx.update(classes).set(change).where(eq(classes.id, id));
}

/** Removes classes that are there. */
export async function removeClasses(
  tx: Queries,
  ids: readonly string[],
  removedAt: Date,
): Promise<void> {
  await tx
    .update(classes)
    .set({ removedAt })
    .where(and(inArray(classes.id, [...ids]), isNull(classes.removedAt)));
}

const removedThen = (ids: readonly string[], removedAt: Date) =>
  and(inArray(classes.id, [...ids]), eq(classes.removedAt, removedAt));

/** Those of the classes that were removed at that instant. */
export function classesRemovedAt(
  db: Queries,
  ids: readonly string[],
  removedAt: Date,
): Promise<Class[]> {
  return db.select().from(classes).where(removedThen(ids, removedAt));
}

/** Brings those of the classes back that were removed at that instant. */
export async function restoreClasses(
  tx: Queries,
  ids: readonly string[],
  removedAt: Date,
): Promise<void> {
  await tx.update(classes).set({ removedAt: null }).where(removedThen(ids, removedAt));
}

/** A class, removed or not; null where there is none. */
export async function classById(db: Queries, id: string): Promise<Class | null> {
  const [found] = await db.select().from(classes).where(eq(classes.id, id));
  return found ?? null;
}

/** The classes of a course, removed ones too, by their codes. */
export function classesOfCourse(db: Queries, courseId: string): Promise<Class[]> {
  return db.select().from(classes).where(eq(classes.courseId, courseId)).orderBy(classes.code);
}

/** The classes of a year that are there. */
export function classesOfYear(db: Queries, yearId: string): Promise<Class[]> {
  return db
    .select()
    .from(classes)
    .where(and(eq(classes.yearId, yearId), isNull(classes.removedAt)));
}

/** The classes of a school that are there. */
export function classesOfSchool(db: Queries, schoolId: string): Promise<Class[]> {
  return db
    .select()
    .from(classes)
    .where(and(eq(classes.schoolId, schoolId), isNull(classes.removedAt)));
}

/** Makes a year. Resolves to its id. */
export async function addYear(tx: Queries, year: typeof years.$inferInsert): Promise<string> {
  const [made] = await tx.insert(years).values(year).returning({ id: years.id });
  return made!.id;
}

/** Gives a year another name or other days; `closedAt` closes it, or opens it again. */
export async function changeYear(
  tx: Queries,
  id: string,
  change: Partial<Pick<Year, 'label' | 'firstDay' | 'lastDay' | 'closedAt'>>,
): Promise<void> {
  await tx.update(years).set(change).where(eq(years.id, id));
}

/** A year, open or closed; null where there is none. */
export async function yearById(db: Queries, id: string): Promise<Year | null> {
  const [found] = await db.select().from(years).where(eq(years.id, id));
  return found ?? null;
}

/** The open years of a school, the newest first. */
export function openYears(db: Queries, schoolId: string): Promise<Year[]> {
  return db
    .select()
    .from(years)
    .where(and(eq(years.schoolId, schoolId), isNull(years.closedAt)))
    .orderBy(desc(years.firstDay));
}

/** The years of a school, the newest first; `locked` against being closed until the transaction ends. */
export function yearsOfSchool(
  db: Queries,
  schoolId: string,
  how: 'locked' | 'as they are' = 'as they are',
): Promise<Year[]> {
  const found = db
    .select()
    .from(years)
    .where(eq(years.schoolId, schoolId))
    .orderBy(desc(years.firstDay));
  return how === 'locked' ? found.for('share').execute() : found.execute();
}
