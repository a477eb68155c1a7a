import { StaleFrames, type CarriedCounts } from '@sammlung/contract';
import { and, desc, eq, isNull, sql } from 'drizzle-orm';
import { rows, uuids, type Queries } from '../db/database.ts';
import { carried, carryOvers, staleMarks } from '../db/schema/index.ts';

/** What was carried over from one year to another, and what looks out of date in it: nothing else writes it. */

export type CarryOverRecord = typeof carryOvers.$inferSelect;
export type CarriedRecord = Pick<
  typeof carried.$inferSelect,
  'kind' | 'key' | 'sourceId' | 'madeId'
>;

/** Notes what somebody wants to carry over. Resolves to its id. */
export async function addCarryOver(
  tx: Queries,
  one: typeof carryOvers.$inferInsert,
): Promise<string> {
  const [made] = await tx.insert(carryOvers).values(one).returning({ id: carryOvers.id });
  return made!.id;
}

/** What somebody carries over; null where it is somebody else’s, or none. With `lock` others wait who change it. */
export async function carryOverBy(
  db: Queries,
  personId: string,
  id: string,
  lock = false,
): Promise<CarryOverRecord | null> {
  const asked = db
    .select()
    .from(carryOvers)
    .where(and(eq(carryOvers.id, id), eq(carryOvers.personId, personId)));
  const [found] = await (lock ? asked.for('update') : asked);
  return found ?? null;
}

/** The same by its id alone, for whoever carries it out. */
export async function carryOverById(db: Queries, id: string): Promise<CarryOverRecord | null> {
  const [found] = await db.select().from(carryOvers).where(eq(carryOvers.id, id));
  return found ?? null;
}

/** The newest of what somebody has carried over. */
export function carryOversOf(db: Queries, personId: string, most: number) {
  return db
    .select()
    .from(carryOvers)
    .where(eq(carryOvers.personId, personId))
    .orderBy(desc(carryOvers.createdAt))
    .limit(most);
}

/** Notes how far it is, how it ended, or that it was undone. */
export async function changeCarryOver(
  db: Queries,
  id: string,
  change: Partial<
    Pick<
      CarryOverRecord,
      'done' | 'total' | 'state' | 'grants' | 'fault' | 'endedAt' | 'undoneAt'
    > & { made: CarriedCounts }
  >,
): Promise<void> {
  await db.update(carryOvers).set(change).where(eq(carryOvers.id, id));
}

/** Notes what was made out of what. */
export async function noteCarried(
  tx: Queries,
  { id, schoolId }: Pick<CarryOverRecord, 'id' | 'schoolId'>,
  those: readonly CarriedRecord[],
): Promise<void> {
  const ids = (which: 'key' | 'sourceId' | 'madeId') => uuids(those.map((one) => one[which]));
  await tx.execute(
    sql`insert into carried (school_id, carry_over_id, kind, key, source_id, made_id)
      select ${schoolId}::uuid, ${id}::uuid, w.* from unnest(${sql.param(those.map(({ kind }) => kind))}::text[],
        ${ids('key')}, ${ids('sourceId')}, ${ids('madeId')}) w`,
  );
}

/** What was made in one go. */
export function carriedIn(db: Queries, carryOverId: string): Promise<CarriedRecord[]> {
  return db.select().from(carried).where(eq(carried.carryOverId, carryOverId));
}

/** Forgets what was made, so that it can be made again. */
export async function forgetCarried(tx: Queries, carryOverId: string): Promise<void> {
  await tx.delete(carried).where(eq(carried.carryOverId, carryOverId));
  await tx.delete(staleMarks).where(eq(staleMarks.carryOverId, carryOverId));
}

/** Marks what looks out of date; what is marked already stays. */
export async function addMarks(
  tx: Queries,
  those: readonly (typeof staleMarks.$inferInsert)[],
): Promise<void> {
  if (those.length > 0)
    await tx
      .insert(staleMarks)
      .values([...those])
      .onConflictDoNothing();
}

/** The mark `m` on item `i` is open: it was not settled, and what it marks is there as it was. */
export const MARK_IS_OPEN = sql`m.settled_at is null and case when m.place = 'title' then i.title = m.found
  else m.hash is not distinct from (select v.hash from versions v where v.id = i.current_version_id) end`;

/** By which frames somebody finds what is out of date on a page that they carried over; null where nothing is marked on it. */
export async function staleFramesOf(
  db: Queries,
  personId: string,
  itemId: string,
): Promise<StaleFrames | null> {
  const [found] = await rows<{ frames: unknown }>(
    db,
    sql`select o.frames from stale_marks m join items i on i.id = m.item_id join carry_overs o on o.id = m.carry_over_id
      where m.item_id = ${itemId}::uuid and m.place = 'text' and o.person_id = ${personId}::uuid and o.undone_at is null and ${MARK_IS_OPEN}
      limit 1`,
  );
  return found ? StaleFrames.parse(found.frames) : null;
}

/** Settles marks: what they mark was mended, or stays as it is. */
export async function settleMarks(tx: Queries, ids: readonly string[], t: number): Promise<void> {
  await tx
    .update(staleMarks)
    .set({ settledAt: new Date(t) })
    .where(and(sql`${staleMarks.id} = any (${uuids(ids)})`, isNull(staleMarks.settledAt)));
}

/** What was made of the sources earlier by a person, and is still there: in the Bin, or not. */
export function carriedBefore(
  db: Queries,
  personId: string,
  sourceIds: readonly string[],
): Promise<(CarriedRecord & { binned: boolean })[]> {
  return rows(
    db,
    sql`select c.kind, c.key, c.source_id as "sourceId", c.made_id as "madeId", b.binned
      from carried c join carry_overs o on o.id = c.carry_over_id and o.person_id = ${personId}::uuid
        cross join lateral (
          select exists (select from folders a where a.id = any (f.path) and a.binned_at is not null) as binned
            from folders f where c.kind = 'folder' and f.id = c.made_id and f.owner_id = o.person_id
          union all select p.binned_at is not null or exists (
              select from folders f join folders a on a.id = any (f.path) and a.binned_at is not null where f.id = p.folder_id)
            from placements p where c.kind = 'placement' and p.id = c.made_id
          union all select h.removed_at is not null from headings h where c.kind = 'heading' and h.id = c.made_id
          union all select a.taken_back_at is not null from appearances a where c.kind = 'appearance' and a.id = c.made_id
          union all select x.removed_at is not null from boxes x where c.kind = 'box' and x.id = c.made_id) b
      where c.source_id = any (${uuids(sourceIds)})
      order by o.created_at`,
  );
}
