import { and, count, eq, inArray, isNotNull, isNull, sql, type SQL } from 'drizzle-orm';
import { at, rows, uuids, type Queries } from '../db/database.ts';
import { boxCopies, boxes, places } from '../db/schema/index.ts';

/** Hand-in boxes: nothing else writes them. The places in them follow by themselves (migration `boxes`). */

export type BoxRecord = typeof boxes.$inferSelect;

/** Makes boxes; every student of their classes has a place in them from then on. Resolves to their ids, in this order. */
export async function addBoxes(
  tx: Queries,
  those: readonly (typeof boxes.$inferInsert)[],
): Promise<string[]> {
  const made = await tx
    .insert(boxes)
    .values([...those])
    .returning({ id: boxes.id });
  return made.map(({ id }) => id);
}

/** A box, removed or not as asked; null where there is none. */
export async function boxById(
  db: Queries,
  id: string,
  removed: 'there' | 'removed' = 'there',
): Promise<BoxRecord | null> {
  const [found] = await db
    .select()
    .from(boxes)
    .where(
      and(
        eq(boxes.id, id),
        removed === 'there' ? isNull(boxes.removedAt) : isNotNull(boxes.removedAt),
      ),
    );
  return found ?? null;
}

/** Gives a box other facts. */
export async function changeBox(
  tx: Queries,
  id: string,
  change: Partial<
    Pick<
      BoxRecord,
      'title' | 'text' | 'endsAt' | 'takesLate' | 'closedAt' | 'clearedAt' | 'removedAt'
    >
  >,
): Promise<void> {
  if (Object.keys(change).length > 0) await tx.update(boxes).set(change).where(eq(boxes.id, id));
}

/** How many places there are in boxes. */
export async function countPlaces(db: Queries, boxIds: readonly string[]): Promise<number> {
  const [found] = await db
    .select({ count: count() })
    .from(places)
    .where(inArray(places.boxId, [...boxIds]));
  return found!.count;
}

type PlaceOfBox = {
  /** Null for a box that has none. */
  placeId: string | null;
  boxId: string;
  title: string;
  classId: string;
  code: string;
  name: string;
};

/** The boxes that `which` names of `b`, class `c` and place `l`, with the places in them and whose they are. */
const placesWhere = (db: Queries, which: SQL) =>
  rows<PlaceOfBox>(
    db,
    sql`select l.folder_id as "placeId", b.id as "boxId", b.title, c.id as "classId", c.code, coalesce(s.name, '') as name
      from boxes b join classes c on c.id = b.class_id left join places l on l.box_id = b.id left join people s on s.id = l.person_id
      where b.removed_at is null and ${which}
      order by c.code collate natural_order, b.title collate natural_order, b.id`,
  );

/** The places of boxes of classes that a teacher teaches. */
export const placesTaught = (db: Queries, teacherId: string, boxIds: readonly string[]) =>
  placesWhere(
    db,
    sql`b.id = any (${uuids(boxIds)}) and c.removed_at is null and exists (
      select from course_teachers y where y.course_id = c.course_id and y.person_id = ${teacherId}::uuid)`,
  );

/** The places of a student in all boxes. */
export const placesOwn = (db: Queries, personId: string) =>
  placesWhere(db, sql`l.person_id = ${personId}::uuid`);

/** The boxes that were cleared until an instant. */
export function boxesClearedBefore(db: Queries, before: number): Promise<{ id: string }[]> {
  return rows(db, sql`select id from boxes where cleared_at <= ${at(before)}`);
}

/**
 * Holds a box that was cleared until an instant, so that nobody keeps it after all until the transaction ends; resolves to its places, or to null
 * where somebody has.
 */
export async function lockCleared(
  tx: Queries,
  id: string,
  before: number,
): Promise<string[] | null> {
  const held = await rows(
    tx,
    sql`select id from boxes where id = ${id}::uuid and cleared_at <= ${at(before)} for update`,
  );
  if (held.length === 0) return null;
  const found = await tx.select({ id: places.folderId }).from(places).where(eq(places.boxId, id));
  return found.map((place) => place.id);
}

/** Deletes a box whose places are gone. */
export async function deleteBox(tx: Queries, id: string): Promise<void> {
  await tx.delete(boxCopies).where(eq(boxCopies.boxId, id));
  await tx.delete(boxes).where(eq(boxes.id, id));
}

export type BoxCopies = typeof boxCopies.$inferSelect;

/** Gives every student of a box a copy of an item, also who joins later: the database makes them. Resolves to their id. */
export async function giveCopies(
  tx: Queries,
  copies: typeof boxCopies.$inferInsert,
): Promise<string> {
  const [made] = await tx.insert(boxCopies).values(copies).returning({ id: boxCopies.id });
  return made!.id;
}

/** Copies that have not been taken back; null where there are none. */
export async function copiesById(db: Queries, id: string): Promise<BoxCopies | null> {
  const [found] = await db
    .select()
    .from(boxCopies)
    .where(and(eq(boxCopies.id, id), isNull(boxCopies.takenBackAt)));
  return found ?? null;
}

/** Nobody who joins from now on is given these copies. */
export async function stopCopies(tx: Queries, id: string, t: number): Promise<void> {
  await tx
    .update(boxCopies)
    .set({ takenBackAt: new Date(t) })
    .where(eq(boxCopies.id, id));
}
