import { and, desc, eq, isNull, sql } from 'drizzle-orm';
import { rows, type Queries } from '../../db/database.ts';
import { doors, folders, items } from '../../db/schema/index.ts';
import {
  accessParams,
  rightIn,
  seesPlacement,
  waysInTable,
  type Viewer,
} from '../../domain/access/access-sql.ts';
import type { DoorRow } from '../../domain/doors.ts';
import { firstPlace } from '../../domain/grants.ts';

/** Every open door to what is a person's own, newest first, with what it opens. */
export function openDoorsOf(db: Queries, ownerId: string) {
  return db
    .select({
      door: doors,
      title: sql<string>`coalesce(${folders.title}, ${items.title})`,
      placementId: sql<string | null>`(${firstPlace(sql`${items.id}`)})`,
    })
    .from(doors)
    .leftJoin(folders, eq(folders.id, doors.folderId))
    .leftJoin(items, eq(items.id, doors.itemId))
    .where(
      and(
        isNull(doors.closedAt),
        sql`coalesce(${folders.ownerId}, ${items.ownerId}) = ${ownerId}::uuid`,
      ),
    )
    .orderBy(desc(doors.createdAt));
}

/** What a door opens, as far as the viewer sees it; null where they do not. */
export async function openedBy(
  db: Queries,
  viewer: Viewer,
  door: Pick<DoorRow, 'folderId' | 'itemId'>,
): Promise<{ folderId: string | null; placementId: string | null } | null> {
  const params = accessParams(viewer);
  const [seen] = await rows<{ folderId: string | null; placementId: string | null }>(
    db,
    sql`with ${waysInTable(params)}
      select f.id as "folderId", null::uuid as "placementId" from folders f
        where f.id = ${door.folderId}::uuid and ${rightIn(sql`f`, params)} > 0
      union all
      (select null, p.id from placements p join folders f on f.id = p.folder_id
        where p.item_id = ${door.itemId}::uuid and ${seesPlacement(sql`p`, sql`f`, params)} limit 1)`,
  );
  return seen ?? null;
}

/** What is behind a door is called. */
export async function titleBehind(
  db: Queries,
  { folderId, itemId }: Pick<DoorRow, 'folderId' | 'itemId'>,
): Promise<string> {
  const [named] = folderId
    ? await db.select({ title: folders.title }).from(folders).where(eq(folders.id, folderId))
    : await db.select({ title: items.title }).from(items).where(eq(items.id, itemId!));
  return named!.title;
}
