import { and, count, eq, inArray, isNotNull, isNull, sql } from 'drizzle-orm';
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
  placeId: string;
  boxId: string;
  title: string;
  classId: string;
  code: string;
  name: string;
};

/** The places of boxes of classes that a teacher teaches, with whose they are. */
export function placesTaught(db: Queries, teacherId: string, boxIds: readonly string[]) {
  return rows<PlaceOfBox>(
    db,
    sql`select l.folder_id as "placeId", b.id as "boxId", b.title, c.id as "classId", c.code, s.name
      from boxes b join classes c on c.id = b.class_id
        join course_teachers y on y.course_id = c.course_id and y.person_id = ${teacherId}::uuid
        join places l on l.box_id = b.id join people s on s.id = l.person_id
      where b.id = any (${uuids(boxIds)}) and b.removed_at is null and c.removed_at is null
      order by c.code collate natural_order, b.title collate natural_order, b.id`,
  );
}

/** The places of a student in all boxes. */
export function placesOwn(db: Queries, personId: string) {
  return rows<PlaceOfBox>(
    db,
    sql`select l.folder_id as "placeId", b.id as "boxId", b.title, c.id as "classId", c.code, s.name
      from places l join boxes b on b.id = l.box_id join classes c on c.id = b.class_id join people s on s.id = l.person_id
      where l.person_id = ${personId}::uuid and b.removed_at is null
      order by c.code collate natural_order, b.title collate natural_order, b.id`,
  );
}

/** Boxes that were cleared until an instant, with their places. */
export function boxesClearedBefore(
  db: Queries,
  before: number,
): Promise<{ id: string; placeIds: string[] }[]> {
  return rows(
    db,
    sql`select b.id, coalesce(array_agg(l.folder_id) filter (where l.folder_id is not null), '{}')::text[] as "placeIds"
      from boxes b left join places l on l.box_id = b.id where b.cleared_at <= ${at(before)} group by b.id`,
  );
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
