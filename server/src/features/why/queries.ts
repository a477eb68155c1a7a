import { sql } from 'drizzle-orm';
import { rows, uuids, type Queries } from '../../db/database.ts';

/** The course of a class. */
export async function courseOf(db: Queries, classId: string): Promise<string> {
  const [found] = await rows<{ courseId: string }>(
    db,
    sql`select course_id as "courseId" from classes where id = ${classId}::uuid`,
  );
  return found!.courseId;
}

/** The codes of classes, each once. */
export async function codesOf(db: Queries, ids: readonly string[]): Promise<string[]> {
  const found = await rows<{ code: string }>(
    db,
    sql`select distinct code from classes where id = any (${uuids(ids)}) order by code`,
  );
  return found.map(({ code }) => code);
}
