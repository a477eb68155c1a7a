import { sql } from 'drizzle-orm';
import { rows, uuids, type Queries } from '../../db/database.ts';

/** The codes of classes, each once. */
export async function codesOf(db: Queries, ids: readonly string[]): Promise<string[]> {
  const found = await rows<{ code: string }>(
    db,
    sql`select distinct code from classes where id = any (${uuids(ids)}) order by code`,
  );
  return found.map(({ code }) => code);
}
