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

/** Has nothing more written into the log of what goes in this transaction: with a school that is removed, or a record that is merged. */
export async function withoutLog(tx: Queries): Promise<void> {
  await tx.execute(sql`select set_config('sammlung.unlogged', 'yes', true)`);
}

/** Notes what was done to a record as a whole: that another one, called `title`, has been merged into it, or that it was erased. */
export async function noteAbout(
  tx: Queries,
  act: 'merged' | 'erased',
  personId: string,
  title = '',
): Promise<void> {
  await tx.execute(
    sql`insert into log (school_id, at, by_id, act, audience, person_id, title)
      select school_id, log_at(null), log_by(null), ${act}::log_act, 'person', id, ${title} from people where id = ${personId}::uuid`,
  );
}

/** Deletes what is older than that (milliseconds), of all schools. */
export async function forgetBefore(db: Queries, t: number): Promise<void> {
  await db.delete(log).where(lt(log.at, new Date(t)));
}
