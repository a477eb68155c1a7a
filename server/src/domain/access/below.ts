import { sql } from 'drizzle-orm';
import { rows, uuids, type Queries } from '../../db/database.ts';
import { AppError } from '../../platform/errors.ts';
import { accessParams, waysInTable, rightIn, seesPlacement, type Viewer } from './access-sql.ts';

/** What somebody sees of some things and of all that lies in them: to take along, or to copy. */

export interface FolderRecord extends Record<string, unknown> {
  id: string;
  parentId: string | null;
  title: string;
}

export interface ItemRecord extends Record<string, unknown> {
  placementId: string;
  folderId: string;
  folderTitle: string;
  schoolId: string;
  itemId: string;
  kind: 'file' | 'link' | 'page';
  title: string;
  extension: string;
  url: string | null;
  hash: string | null;
  size: number;
  versionId: string | null;
  changedAt: string;
}

/** These folders and all below them, as far as the viewer sees them; those above come first. */
function foldersBelow(db: Queries, viewer: Viewer, ids: readonly string[]) {
  const params = accessParams(viewer);
  return rows<FolderRecord>(
    db,
    sql`with ${waysInTable(params)}
      select f.id, f.parent_id as "parentId", f.title from folders f
      where f.path && ${uuids(ids)} and f.binned_at is null and ${rightIn(sql`f`, params)} > 0
      order by cardinality(f.path), f.title collate natural_order, f.id`,
  );
}

/** What the viewer sees in these folders, and of these placements. */
function itemsOf(
  db: Queries,
  viewer: Viewer,
  folderIds: readonly string[],
  placementIds: readonly string[],
) {
  const params = accessParams(viewer);
  return rows<ItemRecord>(
    db,
    sql`with ${waysInTable(params)}
      select p.id as "placementId", p.folder_id as "folderId", f.title as "folderTitle", p.school_id as "schoolId",
        i.id as "itemId", i.kind, i.title, i.extension, i.url, v.hash, coalesce(v.size, 0)::float8 as size,
        v.id as "versionId",
        to_json(greatest(p.added_at, v.created_at)) #>> '{}' as "changedAt"
      from placements p join folders f on f.id = p.folder_id join items i on i.id = p.item_id
        left join versions v on v.id = i.current_version_id
      where (p.folder_id = any (${uuids(folderIds)}) or p.id = any (${uuids(placementIds)}))
        and ${seesPlacement(sql`p`, sql`f`, params)}
      order by p.folder_id, i.title collate natural_order, p.id`,
  );
}

/**
 * The things with all below them, as far as the viewer sees it. Throws `not-found` when one of the things themselves is
 * not seen.
 */
export async function thingsBelow(
  db: Queries,
  viewer: Viewer,
  things: readonly { readonly kind: 'folder' | 'placement'; readonly id: string }[],
): Promise<{ folders: FolderRecord[]; items: ItemRecord[] }> {
  const ids = (kind: 'folder' | 'placement') =>
    things.filter((thing) => thing.kind === kind).map((thing) => thing.id);
  const folders = await foldersBelow(db, viewer, ids('folder'));
  const items = await itemsOf(
    db,
    viewer,
    folders.map((f) => f.id),
    ids('placement'),
  );
  const seen = new Set([...folders.map((f) => f.id), ...items.map((i) => i.placementId)]);
  if (things.some((thing) => !seen.has(thing.id))) throw new AppError('not-found');
  return { folders, items };
}
