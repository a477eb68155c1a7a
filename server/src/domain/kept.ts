import { and, eq, sql } from 'drizzle-orm';
import { uuids, type Queries } from '../db/database.ts';
import { kept } from '../db/schema/index.ts';
import type { SignedIn } from '../platform/sessions.ts';
import type { FoundDoor } from './doors.ts';

/** What people keep at hand: nothing else writes it. */

export type NewKept = typeof kept.$inferInsert;

/** Keeps something, before all else; what is kept already stays where it is, with the door it was kept at last. */
export async function putKept(db: Queries, thing: NewKept): Promise<{ id: string }> {
  const { personId, folderId, classId, title, mark, doorId, doorToken, doorWordHash } = thing;
  const [made] = await db
    .insert(kept)
    .values({
      ...thing,
      position: sql`coalesce((select min(position) from kept where person_id = ${personId}::uuid), 0) - 1`,
    })
    .onConflictDoUpdate({
      target: [kept.personId, folderId ? kept.folderId : classId ? kept.classId : kept.itemId],
      set: { title, mark, ...(doorId && { doorId, doorToken, doorWordHash }) },
    })
    .returning({ id: kept.id });
  return made!;
}

/** Keeps something no longer. Resolves to whether the person kept it. */
export async function removeKept(db: Queries, personId: string, id: string): Promise<boolean> {
  const gone = await db
    .delete(kept)
    .where(and(eq(kept.id, id), eq(kept.personId, personId)))
    .returning({ id: kept.id });
  return gone.length > 0;
}

/** Remembers under which names kept things were seen. */
export async function noteNames(
  db: Queries,
  seen: readonly { id: string; title: string; mark: string | null }[],
): Promise<void> {
  if (seen.length === 0) return;
  await db.execute(sql`update kept set title = x.title, mark = x.mark
    from unnest(${uuids(seen.map((k) => k.id))}, ${sql.param(seen.map((k) => k.title))}::text[],
      ${sql.param(seen.map((k) => k.mark))}::text[]) x (id, title, mark) where kept.id = x.id`);
}

/** Gives what a person keeps a new order; ids that are not theirs are left out. */
export async function orderKept(
  db: Queries,
  personId: string,
  ids: readonly string[],
): Promise<void> {
  await db.execute(sql`update kept set position = x.n
    from unnest(${uuids(ids)}) with ordinality x (id, n)
    where kept.id = x.id and kept.person_id = ${personId}::uuid`);
}

/** What somebody keeps of a door opens again once they have given its new word. */
export async function unlockKept(
  db: Queries,
  person: Pick<SignedIn, 'id'>,
  { door }: FoundDoor,
): Promise<void> {
  await db
    .update(kept)
    .set({ doorWordHash: door.wordHash })
    .where(
      and(eq(kept.personId, person.id), eq(kept.doorId, door.id), eq(kept.doorToken, door.token)),
    );
}
