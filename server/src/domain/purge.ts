import { sql } from 'drizzle-orm';
import { binOwner } from './bin.ts';
import { at, rows, uuids, type Queries } from '../db/database.ts';

/** Deleting for good: the one place that takes rows out of the tables of others, since they go together or not at all. */

/**
 * Holds folders with all below them, and items, with what refers to them, until the transaction ends: nobody can take
 * them out of the Bin, put something into them or refer to them meanwhile.
 */
export async function lockForPurge(
  tx: Queries,
  folderIds: readonly string[],
  itemIds: readonly string[],
): Promise<void> {
  const folders = sql`(select id from folders where path && ${uuids(folderIds)})`;
  const items = sql`(select item_id from placements where folder_id in ${folders} union select unnest(${uuids(itemIds)}))`;
  // In the order in which a new placement looks at its folder and its item, so that the two do not wait for each other.
  for (const statement of [
    sql`select from folders where id in ${folders} order by id for update`,
    sql`select from items where id in ${items} order by id for update`,
    sql`select from placements where folder_id in ${folders} or item_id in ${items} order by id for update`,
    sql`select from versions where item_id in ${items} order by id for update`,
    sql`select from grants where folder_id in ${folders} or item_id in ${items} order by id for update`,
    sql`select from doors where folder_id in ${folders} or item_id in ${items} order by id for update`,
  ])
    await tx.execute(statement);
}

/**
 * Gives what others have put into these folders back to them, before the folders are deleted: each folder in which
 * something of somebody's lay is made anew in that person's Bin, and their things move there. What also lies elsewhere
 * stays there.
 */
export async function giveBack(
  tx: Queries,
  folderIds: readonly string[],
  t: number,
): Promise<void> {
  const losing = await rows<{ folderId: string; ownerId: string; places: string[] }>(
    tx,
    sql`with gone as materialized (select f.id, ${binOwner(sql`f`)} as owner_id from folders f where f.path && ${uuids(folderIds)}),
      losing as (
        select distinct on (p.item_id) p.id, p.folder_id, i.owner_id
        from placements p join gone g on g.id = p.folder_id join items i on i.id = p.item_id
        where i.owner_id <> g.owner_id and not exists (
          select from placements q where q.item_id = i.id and q.binned_at is null and q.folder_id not in (select id from gone))
        order by p.item_id, p.binned_at desc nulls first)
      select folder_id as "folderId", owner_id as "ownerId", array_agg(id) as places
      from losing group by folder_id, owner_id`,
  );
  for (const { folderId, ownerId, places } of losing)
    await tx.execute(
      sql`with made as (
          insert into folders (school_id, owner_id, title, mark, colour, created_by, binned_at, binned_by)
          select school_id, ${ownerId}::uuid, title, mark, colour, ${ownerId}::uuid, ${at(t)}, coalesce(owner_id, binned_by, ${ownerId}::uuid)
          from folders where id = ${folderId}::uuid returning id)
        update placements set folder_id = made.id from made where placements.id = any (${uuids(places)})`,
    );
}

/**
 * Deletes folders with all below them, and items, with everything that speaks of them. An item that also lies
 * outside these folders stays. Returns the content hashes that may have become unused. Only under `lockForPurge`, and
 * once others have what is theirs (`giveBack`).
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
      where (i.id = any (${uuids(itemIds)}) or i.id in (select p.item_id from placements p join folders f on f.id = p.folder_id
          where f.id = any (${folders}) and ${binOwner(sql`f`)} = i.owner_id))
        and not exists (select from placements p where p.item_id = i.id and p.binned_at is null
          and p.folder_id <> all (${folders}))`,
  );
  const items = uuids(dead.map((i) => i.id));
  const hashes = await rows<{ schoolId: string; hash: string }>(
    tx,
    sql`select school_id as "schoolId", hash from versions where item_id = any (${items})
      union select school_id, hash from page_pictures where item_id = any (${items})`,
  );
  const places = sql`(select id from placements where folder_id = any (${folders}) or item_id = any (${items}))`;
  const grants = sql`(select id from grants where folder_id = any (${folders}) or item_id = any (${items}))`;
  const doors = sql`(select id from doors where folder_id = any (${folders}) or item_id = any (${items}))`;
  const notes = sql`(select id from notes where grant_id in ${grants} or item_id = any (${items}))`;
  for (const statement of [
    sql`delete from remark_reads where placement_id in ${places}`,
    sql`delete from remarks where placement_id in ${places}`,
    sql`delete from openings where placement_id in ${places} or door_id in ${doors}`,
    sql`delete from opening_counts where placement_id in ${places}`,
    sql`delete from uploads where placement_id in ${places} or folder_id = any (${folders})`,
    sql`delete from class_releases where placement_id in ${places} or folder_id = any (${folders})`,
    sql`delete from mails where note_id in ${notes}`,
    sql`delete from notes where id in ${notes}`,
    sql`delete from kept where folder_id = any (${folders}) or item_id = any (${items}) or door_id in ${doors}`,
    sql`delete from requests where folder_id = any (${folders}) or item_id = any (${items})`,
    sql`delete from grants where id in ${grants}`,
    sql`delete from doors where id in ${doors}`,
    sql`delete from placements where id in ${places}`,
    sql`update items set copy_of_item_id = null, copy_of_version_id = null where copy_of_item_id = any (${items})`,
    sql`delete from page_drafts where item_id = any (${items})`,
    sql`delete from page_pictures where item_id = any (${items})`,
    // Items and versions refer to each other.
    sql`update items set current_version_id = null where id = any (${items})`,
    sql`delete from versions where item_id = any (${items})`,
    sql`delete from items where id = any (${items})`,
    sql`delete from places where folder_id = any (${folders})`,
    // Children first: deleting by depth would need many statements, one statement checks at its end.
    sql`delete from folders where id = any (${folders})`,
  ])
    await tx.execute(statement);
  return hashes;
}
