import { lt, sql } from 'drizzle-orm';
import { at, type Queries } from '../db/database.ts';
import { log } from '../db/schema/index.ts';

/**
 * The log of who changed what others see. The database writes it with each change of the tables concerned (migration `log`), so that nothing
 * is forgotten; what it cannot know from the rows themselves is said here.
 */

/** Says who makes the changes of this transaction from here on, and when (milliseconds). */
export async function changesBy(
  tx: Queries,
  person: { readonly id: string },
  t: number,
): Promise<void> {
  await tx.execute(
    sql`select set_config('sammlung.by', ${person.id}, true), set_config('sammlung.at', ${at(t)}::text, true)`,
  );
}

/** Has nothing more written into the log in this transaction: for a school that is removed with all that is its. */
export async function withoutLog(tx: Queries): Promise<void> {
  await tx.execute(sql`select set_config('sammlung.unlogged', 'yes', true)`);
}

/** Deletes what is older than that (milliseconds), of all schools. */
export async function forgetBefore(db: Queries, t: number): Promise<void> {
  await db.delete(log).where(lt(log.at, new Date(t)));
}
