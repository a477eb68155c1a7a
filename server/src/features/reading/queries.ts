import { and, desc, eq, sql } from 'drizzle-orm';
import { rows, type Queries } from '../../db/database.ts';
import { items, people, versions } from '../../db/schema/index.ts';
import { accessParams, rightIn, waysInTable, type Viewer } from '../../domain/access/access-sql.ts';
import type { SeenFolder } from '../../domain/access/folders.ts';

/** For each item, the viewer's own other folders in which it lies. */
export async function otherPlaces(
  db: Queries,
  viewer: Viewer,
  { ownerId, id: folderId }: Pick<SeenFolder, 'ownerId' | 'id'>,
  itemIds: string[],
) {
  const params = accessParams(viewer);
  return rows<{ itemId: string; id: string; title: string; placementId: string }>(
    db,
    sql`with ${waysInTable(params)}
      select p.item_id as "itemId", p.id as "placementId", f.id, f.title
      from placements p join folders f on f.id = p.folder_id
      where p.item_id = any (${sql.param(itemIds)}::uuid[]) and p.binned_at is null
        and f.owner_id = ${ownerId}::uuid and f.id <> ${folderId}::uuid
        and (f.owner_id = ${params.me} or ${rightIn(sql`f`, params)} > 0)
      order by f.title collate natural_order`,
  );
}

/** All states of a file, newest first. */
export function versionsOfItem(db: Queries, itemId: string) {
  return db
    .select({
      id: versions.id,
      number: versions.number,
      size: versions.size,
      mediaType: versions.mediaType,
      originalName: versions.originalName,
      createdAt: versions.createdAt,
      createdBy: people.name,
    })
    .from(versions)
    .innerJoin(people, eq(people.id, versions.createdBy))
    .where(eq(versions.itemId, itemId))
    .orderBy(desc(versions.number));
}

/** One state of a file with what the file is called; null where it has no such one. */
export async function versionOfItem(db: Queries, itemId: string, versionId: string) {
  const [found] = await db
    .select({
      schoolId: versions.schoolId,
      hash: versions.hash,
      mediaType: versions.mediaType,
      title: items.title,
      extension: items.extension,
      page: sql<boolean>`${items.kind} = 'page'`,
      number: versions.number,
    })
    .from(versions)
    .innerJoin(items, eq(items.id, versions.itemId))
    .where(and(eq(versions.id, versionId), eq(versions.itemId, itemId)));
  return found ?? null;
}
