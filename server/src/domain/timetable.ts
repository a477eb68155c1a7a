import type { Lesson, SchoolDay } from '@sammlung/contract';
import { asc, eq, inArray } from 'drizzle-orm';
import type { Queries } from '../db/database.ts';
import { lessons, schoolDays } from '../db/schema/index.ts';

/** Lessons of classes, and the days of a school: nothing else writes them. */

/** The lessons of classes in a week, by the ids of the classes. */
export async function lessonsOf(
  db: Queries,
  classIds: readonly string[],
): Promise<ReadonlyMap<string, Lesson[]>> {
  const found = await db
    .select()
    .from(lessons)
    .where(inArray(lessons.classId, [...classIds]))
    .orderBy(asc(lessons.weekday), asc(lessons.period));
  const byClass = new Map<string, Lesson[]>(classIds.map((id) => [id, []]));
  for (const { classId, weekday, period } of found) byClass.get(classId)!.push({ weekday, period });
  return byClass;
}

/** Sets the lessons of a class. Within a transaction. */
export async function setLessons(
  tx: Queries,
  { id: classId, schoolId }: { readonly id: string; readonly schoolId: string },
  wanted: readonly Lesson[],
): Promise<void> {
  await tx.delete(lessons).where(eq(lessons.classId, classId));
  if (wanted.length > 0)
    await tx
      .insert(lessons)
      .values(wanted.map(({ weekday, period }) => ({ schoolId, classId, weekday, period })))
      .onConflictDoNothing();
}

/** The terms and days off of a school, in their order. */
export async function schoolDaysOf(db: Queries, schoolId: string): Promise<SchoolDay[]> {
  const found = await db
    .select()
    .from(schoolDays)
    .where(eq(schoolDays.schoolId, schoolId))
    .orderBy(asc(schoolDays.firstDay), asc(schoolDays.title));
  return found.map(({ kind, title, firstDay, lastDay }) => ({ kind, title, firstDay, lastDay }));
}

/** Sets them. Within a transaction. */
export async function setSchoolDays(
  tx: Queries,
  schoolId: string,
  days: readonly SchoolDay[],
): Promise<void> {
  await tx.delete(schoolDays).where(eq(schoolDays.schoolId, schoolId));
  if (days.length > 0)
    await tx.insert(schoolDays).values(days.map((day) => ({ schoolId, ...day })));
}
