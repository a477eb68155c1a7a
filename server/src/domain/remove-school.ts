import { getTableName, isTable, sql } from 'drizzle-orm';
import { rows, type Database } from '../db/database.ts';
import * as schema from '../db/schema/index.ts';
import type { Storage } from '../platform/storage.ts';
import { sweep } from './contents.ts';
import { withoutLog } from './log.ts';

/** The tables whose rows belong to a school. */
const tables = Object.values(schema).flatMap((table) =>
  isTable(table) && 'schoolId' in table ? [getTableName(table)] : [],
);

/** PostgreSQL: something still refers to a row. */
const REFERENCE = '23503';

/**
 * Deletes a school for good, with all that is its: records in one transaction, then contents. Each table waits for those that refer to it:
 * what cannot go yet is tried again after the others. Nobody may be working in that school meanwhile.
 */
export async function removeSchool(
  db: Database,
  storage: Pick<Storage, 'delete'>,
  schoolId: string,
): Promise<void> {
  const contents = await rows<{ schoolId: string; hash: string }>(
    db,
    sql`select school_id as "schoolId", hash from blobs where school_id = ${schoolId}::uuid`,
  );
  await db.transaction(async (tx) => {
    await withoutLog(tx);
    // Items and their versions refer to each other.
    await tx.execute(
      sql`update items set current_version_id = null where school_id = ${schoolId}::uuid`,
    );
    let waiting: readonly string[] = tables;
    while (waiting.length > 0) {
      const still: string[] = [];
      for (const table of waiting)
        try {
          await tx.transaction((inner) =>
            inner.execute(
              sql`delete from ${sql.identifier(table)} where school_id = ${schoolId}::uuid`,
            ),
          );
        } catch (error) {
          if (codeOf(error) !== REFERENCE) throw error;
          still.push(table);
        }
      if (still.length === waiting.length)
        throw new Error(`These refer to each other: ${still.join(', ')}`);
      waiting = still;
    }
    await tx.execute(sql`delete from schools where id = ${schoolId}::uuid`);
  });
  await sweep(db, storage, contents);
}

const codeOf = (error: unknown) =>
  error instanceof Error && error.cause instanceof Error && 'code' in error.cause
    ? error.cause.code
    : null;
