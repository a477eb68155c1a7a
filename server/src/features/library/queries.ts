import type { Colour } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import { at, rows, uuids, type Queries } from '../../db/database.ts';
import { foldersHandedOut } from '../../domain/access/access-sql.ts';

export type TreeRecord = {
  id: string;
  parentId: string | null;
  title: string;
  mark: string | null;
  colour: Colour | null;
  handedOut: boolean;
};

/** All folders of a person that are not in the Bin, siblings in their order. */
export function treeOf(db: Queries, ownerId: string, t: number): Promise<TreeRecord[]> {
  return rows<TreeRecord>(
    db,
    sql`with handed as materialized (
        select ${foldersHandedOut(sql`${ownerId}::uuid`, at(t))} as ids),
      binned as materialized (
        select array_agg(id) as ids from folders where owner_id = ${ownerId}::uuid and binned_at is not null)
      select f.id, f.parent_id as "parentId", f.title, f.mark, f.colour,
        y.closed_at is null and coalesce(f.path && handed.ids, false) as "handedOut"
      from folders f left join years y on y.id = f.year_id cross join handed cross join binned
      where f.owner_id = ${ownerId}::uuid and not coalesce(f.path && binned.ids, false)
      order by f.keep_on_top desc, f.position, f.title collate natural_order, f.id`,
  );
}

export type TopRecord = {
  id: string;
  title: string;
  mark: string | null;
  colour: Colour | null;
  keepOnTop: boolean;
  items: number;
  folders: number;
};

/** The topmost folders of a person with how much is directly in each. */
export function topFoldersOf(db: Queries, ownerId: string): Promise<TopRecord[]> {
  return rows<TopRecord>(
    db,
    sql`select f.id, f.title, f.mark, f.colour, f.keep_on_top as "keepOnTop",
        (select count(*)::int from placements p where p.folder_id = f.id and p.binned_at is null) as items,
        (select count(*)::int from folders b where b.parent_id = f.id and b.binned_at is null) as folders
      from folders f
      where f.owner_id = ${ownerId}::uuid and f.parent_id is null and f.binned_at is null
      order by f.keep_on_top desc, f.position, f.title collate natural_order, f.id`,
  );
}

/** The title of an item of which another one has the name already in one of these folders, or is to come with it. */
export async function itemNameTaken(
  tx: Queries,
  folderIds: readonly string[],
  itemIds: readonly string[],
): Promise<string | null> {
  const [sameNamed] = await rows<{ title: string }>(
    tx,
    sql`with coming as materialized (
        select i.id, i.title, item_name_key(i.title, i.extension) as key from items i where i.id = any (${uuids(itemIds)}))
      select c.title from unnest(${uuids(folderIds)}) f (id) cross join coming c
        join placements p on p.folder_id = f.id and p.name_key = c.key and p.binned_at is null and p.item_id <> c.id
      union all
      (select min(title) from coming group by key having count(*) > 1)
      limit 1`,
  );
  return sameNamed?.title ?? null;
}
