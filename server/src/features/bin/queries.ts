import { sql, type SQL } from 'drizzle-orm';
import { at, ms, rows, uuids, type Queries } from '../../db/database.ts';
import { viewerOf } from '../../domain/access/viewer.ts';
import { accessParams, waysInTable, rightIn } from '../../domain/access/access-sql.ts';
import { binOwner, LAST_PLACE } from '../../domain/bin.ts';

export interface BinnedRecord extends Record<string, unknown> {
  kind: 'folder' | 'placement';
  id: string;
  title: string;
  mark: string | null;
  itemKind: 'file' | 'link' | 'page' | null;
  extension: string;
  size: number | null;
  items: number;
  where: string[];
  placeGone: boolean;
  binnedAt: number;
}

/** Whether a folder or something above it lies in the Bin. */
const gone = (path: SQL) => sql`exists (
  select from folders n where n.id = any (${path}) and n.binned_at is not null)`;

/**
 * What lies in a person's Bin, newest first: topmost folders, and items that lie nowhere else. Of folders of others only
 * those are named that the person sees, and where they may no longer add, the place is gone for them.
 */
export function binned(db: Queries, personId: string, t: number) {
  const params = accessParams(viewerOf({ id: personId }, t));
  return rows<BinnedRecord>(
    db,
    sql`with ${waysInTable(params)}
      select 'folder' as kind, f.id, f.title, f.mark, null as "itemKind", '' as extension, null::float8 as size,
        (select count(*)::int from folders b join placements p on p.folder_id = b.id
          where b.path @> array[f.id] and p.binned_at is null) as items,
        (select coalesce(json_agg(n.title order by cardinality(n.path)), '[]')
          from folders n where n.id = any (f.path) and n.id <> f.id) as "where",
        ${gone(sql`array_remove(f.path, f.id)`)} as "placeGone", ${ms(sql`f.binned_at`)} as "binnedAt"
      from folders f
      where ${binOwner(sql`f`)} = ${personId}::uuid and f.binned_at is not null
      union all
      select 'placement', p.id, i.title, null, i.kind::text, i.extension, v.size::float8, 0,
        (select coalesce(json_agg(n.title order by cardinality(n.path)), '[]') from folders n
          where n.id = any (f.path) and (n.owner_id = ${personId}::uuid or ${rightIn(sql`n`, params)} > 0)),
        ${gone(sql`f.path`)} or ${rightIn(sql`f`, params)} < 2, ${ms(sql`p.binned_at`)}
      from placements p join items i on i.id = p.item_id join folders f on f.id = p.folder_id
        left join versions v on v.id = i.current_version_id
      where i.owner_id = ${personId}::uuid and ${LAST_PLACE}
      order by "binnedAt" desc, title`,
  );
}

/** Something in a Bin, with the item of a placement. */
export interface InBin extends Record<string, unknown> {
  kind: 'folder' | 'placement';
  id: string;
  itemId: string | null;
}

/** What lies in a person's Bin, or of it what has lain there since before an instant. */
export function inBin(db: Queries, personId: string, before: number | null = null) {
  const since = (column: SQL) => (before === null ? sql`true` : sql`${column} < ${at(before)}`);
  return rows<InBin>(
    db,
    sql`select 'folder' as kind, f.id, null::uuid as "itemId" from folders f
      where ${binOwner(sql`f`)} = ${personId}::uuid and f.binned_at is not null and ${since(sql`f.binned_at`)}
      union all
      select 'placement', p.id, p.item_id from placements p join items i on i.id = p.item_id
      where i.owner_id = ${personId}::uuid and ${LAST_PLACE} and ${since(sql`p.binned_at`)}`,
  );
}

/** Everybody in whose Bin something has lain since before an instant. */
export async function ownersOverdue(db: Queries, before: number): Promise<string[]> {
  const found = await rows<{ id: string }>(
    db,
    sql`select ${binOwner(sql`f`)} as id from folders f where binned_at < ${at(before)}
      union
      select i.owner_id from placements p join items i on i.id = p.item_id
        where p.binned_at < ${at(before)} and ${LAST_PLACE}`,
  );
  return found.map((owner) => owner.id);
}

/** What these folders are part of (`treeOf`). */
export async function treesOf(db: Queries, folderIds: readonly string[]): Promise<string[]> {
  const found = await rows<{ treeId: string }>(
    db,
    sql`select distinct coalesce(owner_id, path[1]) as "treeId" from folders where id = any (${uuids(folderIds)})`,
  );
  return found.map(({ treeId }) => treeId);
}

/** Whether a folder, or something above it, is in the Bin. */
export async function isInBin(tx: Queries, folderId: string | null): Promise<boolean> {
  if (folderId === null) return false;
  const found = await rows(
    tx,
    sql`select f.id from folders f where f.id = ${folderId}::uuid and ${gone(sql`f.path`)}`,
  );
  return found.length > 0;
}
