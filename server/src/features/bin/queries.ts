import { sql, type SQL } from 'drizzle-orm';
import { at, ms, rows, uuids, type Queries } from '../../db/database.ts';

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

/** A placement is in the Bin when its item lies nowhere else and none was taken out later. */
const LAST_PLACE = sql`p.binned_at is not null
  and not exists (select from placements q where q.item_id = p.item_id and q.id <> p.id
    and (q.binned_at is null or (q.binned_at, q.id) > (p.binned_at, p.id)))`;

/** What lies in a person's Bin, newest first: topmost folders, and items that lie nowhere else. */
export function binned(db: Queries, personId: string) {
  return rows<BinnedRecord>(
    db,
    sql`select 'folder' as kind, f.id, f.title, f.mark, null as "itemKind", '' as extension, null::float8 as size,
        (select count(*)::int from folders b join placements p on p.folder_id = b.id
          where b.path @> array[f.id] and p.binned_at is null) as items,
        (select coalesce(json_agg(n.title order by cardinality(n.path)), '[]')
          from folders n where n.id = any (f.path) and n.id <> f.id) as "where",
        ${gone(sql`array_remove(f.path, f.id)`)} as "placeGone", ${ms(sql`f.binned_at`)} as "binnedAt"
      from folders f
      where f.owner_id = ${personId}::uuid and f.binned_at is not null
      union all
      select 'placement', p.id, i.title, null, i.kind::text, i.extension, v.size::float8, 0,
        (select coalesce(json_agg(n.title order by cardinality(n.path)), '[]') from folders n where n.id = any (f.path)),
        ${gone(sql`f.path`)}, ${ms(sql`p.binned_at`)}
      from placements p join items i on i.id = p.item_id join folders f on f.id = p.folder_id
        left join versions v on v.id = i.current_version_id
      where i.owner_id = ${personId}::uuid and ${LAST_PLACE}
      order by "binnedAt" desc, title`,
  );
}

/** Of these placements, how many are the last place of their item. */
export async function countLastPlaces(db: Queries, ids: readonly string[]): Promise<number> {
  const [found] = await rows<{ count: number }>(
    db,
    sql`select count(*)::int as count from placements p where p.id = any (${uuids(ids)}) and ${LAST_PLACE}`,
  );
  return found!.count;
}

/** Folders and items whose time in the Bin is over, of everybody. */
export async function overdue(db: Queries, before: number) {
  const folders = await rows<{ id: string }>(
    db,
    sql`select id from folders where binned_at < ${at(before)}`,
  );
  const items = await rows<{ id: string }>(
    db,
    sql`select p.item_id as id from placements p where p.binned_at < ${at(before)} and ${LAST_PLACE}`,
  );
  return { folderIds: folders.map((f) => f.id), itemIds: items.map((i) => i.id) };
}

/**
 * Deletes folders with all below them, and items, with everything that speaks of them. An item that also lies
 * outside these folders stays. Returns the content hashes that may have become unused.
 */
export async function destroy(
  tx: Queries,
  folderIds: readonly string[],
  itemIds: readonly string[],
): Promise<{ schoolId: string; hash: string }[]> {
  const below = await rows<{ id: string }>(
    tx,
    sql`select id from folders where path && ${uuids(folderIds)}`,
  );
  const folders = uuids(below.map((f) => f.id));
  const dead = await rows<{ id: string }>(
    tx,
    sql`select i.id from items i
      where (i.id = any (${uuids(itemIds)}) or i.id in (select item_id from placements where folder_id = any (${folders})))
        and not exists (select from placements p where p.item_id = i.id and p.binned_at is null
          and p.folder_id <> all (${folders}))`,
  );
  const items = uuids(dead.map((i) => i.id));
  const hashes = await rows<{ schoolId: string; hash: string }>(
    tx,
    sql`select distinct school_id as "schoolId", hash from versions where item_id = any (${items})`,
  );
  const places = sql`(select id from placements where folder_id = any (${folders}) or item_id = any (${items}))`;
  const grants = sql`(select id from grants where folder_id = any (${folders}) or item_id = any (${items}))`;
  const doors = sql`(select id from doors where folder_id = any (${folders}) or item_id = any (${items}))`;
  for (const statement of [
    sql`delete from openings where placement_id in ${places} or door_id in ${doors}`,
    sql`delete from uploads where placement_id in ${places} or folder_id = any (${folders})`,
    sql`delete from class_releases where placement_id in ${places} or folder_id = any (${folders})`,
    sql`delete from notes where grant_id in ${grants}`,
    sql`delete from kept where folder_id = any (${folders}) or item_id = any (${items}) or door_id in ${doors}`,
    sql`delete from requests where folder_id = any (${folders}) or item_id = any (${items})`,
    sql`delete from comments where item_id = any (${items})`,
    sql`delete from grants where id in ${grants}`,
    sql`delete from doors where id in ${doors}`,
    sql`delete from placements where id in ${places}`,
    sql`update items set copy_of_item_id = null, copy_of_version_id = null where copy_of_item_id = any (${items})`,
    // Items and versions refer to each other: a file is let go of together with its versions.
    sql`update items set kind = 'page', body = '', current_version_id = null where id = any (${items}) and kind = 'file'`,
    sql`delete from versions where item_id = any (${items})`,
    sql`delete from items where id = any (${items})`,
    // Children first: deleting by depth would need many statements, one statement checks at its end.
    sql`delete from folders where id = any (${folders})`,
  ])
    await tx.execute(statement);
  return hashes;
}
