import { sql } from 'drizzle-orm';
import { rows, type Database, type Queries } from '../db/database.ts';
import type { Storage } from './storage.ts';

/** Whoever lays a content down or clears it away holds this lock until the transaction ends. */
export async function lockContent(tx: Queries, schoolId: string, hash: string): Promise<void> {
  await tx.execute(
    sql`select pg_advisory_xact_lock(hashtextextended(${`content ${schoolId} ${hash}`}, 0))`,
  );
}

/** Clears away those of the contents that no version uses any more: the file first, so that no file is forgotten. */
export async function sweep(
  db: Database,
  storage: Storage,
  contents: readonly { schoolId: string; hash: string }[],
): Promise<void> {
  for (const { schoolId, hash } of contents)
    await db.transaction(async (tx) => {
      await lockContent(tx, schoolId, hash);
      const unused = await rows(
        tx,
        sql`delete from blobs b where b.school_id = ${schoolId}::uuid and b.hash = ${hash}
          and not exists (select from versions v where v.school_id = b.school_id and v.hash = b.hash)
          returning b.hash`,
      );
      if (unused.length > 0) await storage.remove(schoolId, hash);
    });
}
