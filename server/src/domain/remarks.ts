import type { Point, Remark } from '@sammlung/contract';
import { count, eq, sql, type SQL } from 'drizzle-orm';
import { at, iso, rows, type Queries } from '../db/database.ts';
import { remarkReads, remarks } from '../db/schema/index.ts';

/** Remarks about things in places of hand-in boxes, and who has read them: nothing else writes them. */

export type RemarkRecord = typeof remarks.$inferSelect;

/** Whether the person `me` has not read the remark `r`. */
const isUnread = (me: SQL) => sql`(r.created_by <> ${me} and r.removed_at is null and not exists (
  select from remark_reads d where d.placement_id = r.placement_id and d.person_id = ${me} and d.read_at >= r.created_at))`;

/** How many remarks about placement `p` the person `me` has not read. */
export const unreadRemarks = (p: SQL, me: SQL): SQL =>
  sql`(select count(*)::int from remarks r where r.placement_id = ${p}.id and ${isUnread(me)})`;

/** The remarks about a thing, oldest first; `fresh` for the person who reads them. */
export async function remarksAbout(
  db: Queries,
  placementId: string,
  personId: string,
): Promise<Remark[]> {
  const found = await rows<
    Omit<Remark, 'by' | 'point'> & {
      personId: string;
      name: string;
      page: number | null;
      x: number | null;
      y: number | null;
    }
  >(
    db,
    sql`select r.id, r.reply_to as "replyTo", r.page, r.x, r.y, r.body, r.created_by as "personId", s.name,
        ${iso(sql`r.created_at`)} as at, r.edited_at is not null as edited, r.version, ${isUnread(sql`${personId}::uuid`)} as fresh
      from remarks r join people s on s.id = r.created_by
      where r.placement_id = ${placementId}::uuid and r.removed_at is null
      order by r.created_at, r.id`,
  );
  return found.map(({ personId: id, name, page, x, y, ...remark }) => ({
    ...remark,
    by: { id, name },
    point: page === null || x === null || y === null ? null : { page, x, y },
  }));
}

/** A remark, removed or not; null where there is none. */
export async function remarkById(db: Queries, id: string): Promise<RemarkRecord | null> {
  const [found] = await db.select().from(remarks).where(eq(remarks.id, id));
  return found ?? null;
}

/** How many remarks there are about a thing, removed ones too. */
export async function countRemarks(db: Queries, placementId: string): Promise<number> {
  const [found] = await db
    .select({ count: count() })
    .from(remarks)
    .where(eq(remarks.placementId, placementId));
  return found!.count;
}

/** Writes a remark about the version that a thing has now. Resolves to its id. */
export async function addRemark(
  tx: Queries,
  remark: {
    readonly schoolId: string;
    readonly placementId: string;
    readonly body: string;
    readonly point: Point | null;
    readonly replyTo: string | null;
    readonly createdBy: string;
  },
  t: number,
): Promise<string> {
  const { point, ...rest } = remark;
  const [made] = await tx
    .insert(remarks)
    .values({
      ...rest,
      ...(point && { page: point.page, x: point.x, y: point.y }),
      version: sql`(select v.number from placements p join versions v on v.id = p.version_id where p.id = ${remark.placementId}::uuid)`,
      createdAt: new Date(t),
    })
    .returning({ id: remarks.id });
  return made!.id;
}

/** Gives a remark other words, or removes it or brings it back. */
export async function changeRemark(
  tx: Queries,
  id: string,
  change: Partial<Pick<RemarkRecord, 'body' | 'editedAt' | 'removedAt'>>,
): Promise<void> {
  await tx.update(remarks).set(change).where(eq(remarks.id, id));
}

/** Notes that a person has read the remarks about a thing until `t`. */
export async function noteRead(
  db: Queries,
  read: { readonly schoolId: string; readonly placementId: string; readonly personId: string },
  t: number,
): Promise<void> {
  const readAt = new Date(t);
  await db
    .insert(remarkReads)
    .values({ ...read, readAt })
    .onConflictDoUpdate({
      target: [remarkReads.personId, remarkReads.placementId],
      set: { readAt: sql`greatest(${remarkReads.readAt}, excluded.read_at)` },
    });
}

/** The remarks that others wrote since an instant about what a student has in boxes, and that the student has not read: by thing. */
export function unreadSince(
  db: Queries,
  personId: string,
  since: number,
): Promise<{ title: string; box: string; remarks: number }[]> {
  return rows(
    db,
    sql`select i.title, b.title as box, count(*)::int as remarks
      from places l join boxes b on b.id = l.box_id join folders f on f.in_place and f.path[1] = l.folder_id
        join placements p on p.folder_id = f.id and p.binned_at is null join items i on i.id = p.item_id
        join remarks r on r.placement_id = p.id
      where l.person_id = ${personId}::uuid and b.removed_at is null and r.created_at > ${at(since)} and ${isUnread(sql`${personId}::uuid`)}
      group by i.id, i.title, b.id, b.title order by b.title collate natural_order, i.title collate natural_order`,
  );
}
