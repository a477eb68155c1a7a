import type { Language } from '@sammlung/contract';
import { eq, sql, type SQL } from 'drizzle-orm';
import type { Queries } from '../db/database.ts';
import { people } from '../db/schema/index.ts';
import { chunks } from '../platform/chunks.ts';

/** People of a school: nothing else writes their table, but for the sample. */

export type Person = typeof people.$inferSelect;
export type NewPerson = typeof people.$inferInsert;

/** Makes accounts. Resolves to their ids, in the same order. */
export async function addPeople(tx: Queries, those: readonly NewPerson[]): Promise<string[]> {
  const ids: string[] = [];
  for (const chunk of chunks(those)) {
    const put = await tx.insert(people).values(chunk).returning({ id: people.id });
    ids.push(...put.map(({ id }) => id));
  }
  return ids;
}

/** Whether somebody has this address, at any school; `except` does not count. */
export async function emailTaken(db: Queries, email: string, except?: string): Promise<boolean> {
  const found = await db
    .select({ id: people.id })
    .from(people)
    .where(sql`lower(${people.email}) = ${email.toLowerCase()}`);
  return found.some(({ id }) => id !== except);
}

/** Whether a person `p` may come in: they have not been deactivated. */
export const active = (p: SQL): SQL => sql`${p}.deactivated_at is null`;

/** The same of somebody by their id. */
export const isActive = (id: SQL): SQL =>
  sql`exists (select from people active_ where active_.id = ${id} and ${active(sql`active_`)})`;

/** The language in which a person `p` gets mails: their own, or else the school’s; null where neither is known. */
export const mailLanguage = (p: SQL): SQL<Language | null> =>
  sql`coalesce(${p}.language, (select s.language from schools s where s.id = ${p}.school_id))`;

/** Gives a person other facts. */
export async function changePerson(
  db: Queries,
  id: string,
  change: Partial<
    Pick<
      Person,
      | 'name'
      | 'email'
      | 'emailVerified'
      | 'twoFactorEnabled'
      | 'externalId'
      | 'signInName'
      | 'language'
      | 'digest'
      | 'kind'
      | 'deactivatedAt'
    >
  >,
): Promise<void> {
  await db.update(people).set(change).where(eq(people.id, id));
}

/** Everybody at a school. */
export function peopleOf(db: Queries, schoolId: string): Promise<Person[]> {
  return db.select().from(people).where(eq(people.schoolId, schoolId));
}
