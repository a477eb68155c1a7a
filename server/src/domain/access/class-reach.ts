import type { PlacedFile, TrayFolder } from '@sammlung/core';
import { sql } from 'drizzle-orm';
import { at, ms, rows, uuids, type Queries } from '../../db/database.ts';
import { notOver } from '../spans.ts';

/** To which classes folders and files of a library go out, now or later: for those who put things into it. */

/**
 * The folders of a person (null: of nobody) that are not in the Bin, and `others` beside them, each with the classes to which it is handed out, by itself, from
 * above, or with their course.
 */
export function foldersWithClasses(
  db: Queries,
  ownerId: string | null,
  others: readonly string[],
  t: number,
): Promise<TrayFolder[]> {
  return rows<{ id: string; title: string; parentId: string | null; classIds: string[] }>(
    db,
    sql`with binned as materialized (
        select coalesce(array_agg(id), '{}') as ids from folders where binned_at is not null
          and (owner_id = ${ownerId}::uuid or id in (select unnest(path) from folders where id = any (${uuids(others)})))),
      mine as materialized (
        select f.id, f.title, f.parent_id, f.path from folders f cross join binned
        where (f.owner_id = ${ownerId}::uuid or f.id = any (${uuids(others)})) and not f.path && binned.ids),
      handed as materialized (
        select distinct h.folder_id, c.id as class_id
        from handings_out h join classes c on c.removed_at is null
          and h.audience_id = case h.audience_kind when 'class' then c.id when 'course' then c.course_id end
        where h.folder_id in (select unnest(path) from mine) and ${notOver(sql`h`, at(t))}),
      reached as (
        select distinct mine.id, handed.class_id
        from mine cross join lateral unnest(mine.path) above (id) join handed on handed.folder_id = above.id)
      select mine.id, mine.title, mine.parent_id as "parentId",
        coalesce((array_agg(reached.class_id) filter (where reached.class_id is not null))::text[], '{}') as "classIds"
      from mine left join reached on reached.id = mine.id
      group by mine.id, mine.title, mine.parent_id`,
  );
}

/** Which files of a library are wanted: with one of these contents, in one of these folders, and the newest of all. */
export interface WantedFiles {
  readonly hashes: readonly string[];
  readonly folderIds: readonly string[];
  readonly newest: number;
}

/** The files in some folders, newest first, each with the classes to which it goes out there, and whether it is the person's own. */
export async function filesWithClasses(
  db: Queries,
  folders: readonly TrayFolder[],
  { id: personId, schoolId }: { readonly id: string; readonly schoolId: string },
  { hashes, folderIds, newest }: WantedFiles,
): Promise<PlacedFile[]> {
  const ids = uuids(folders.map(({ id }) => id));
  const found = await rows<Omit<PlacedFile, 'classIds'> & { held: boolean; released: boolean }>(
    db,
    sql`select i.id as "itemId", p.id as "placementId", p.folder_id as "folderId", i.title, i.extension,
        v.original_name as "originalName", v.hash, ${ms(sql`p.added_at`)} as at, p.held, p.released,
        (i.owner_id = ${personId}::uuid) as own
      from placements p join items i on i.id = p.item_id and i.kind = 'file' join versions v on v.id = i.current_version_id
      where p.id in (
        select id from placements where folder_id = any (${uuids(folderIds)}) and binned_at is null
        union select q.id from versions w join placements q on q.item_id = w.item_id
          where w.school_id = ${schoolId}::uuid and w.hash = any (${sql.param([...hashes])}::text[]) and q.folder_id = any (${ids})
        union (select id from placements where folder_id = any (${ids}) and binned_at is null
          order by added_at desc, id limit ${newest}))
        and p.binned_at is null
      order by p.added_at desc, p.id`,
  );
  const own = await releasesOf(
    db,
    found.filter((file) => file.released).map(({ placementId }) => placementId),
  );
  const alone = await handedAlone(db, personId);
  const reached = new Map(folders.map(({ id, classIds }) => [id, classIds]));
  const none: readonly string[] = [];
  return found.map(({ held, released, ...file }) => {
    const above = reached.get(file.folderId) ?? none;
    const rules = released ? (own.get(file.placementId) ?? []) : [];
    const handed = alone.get(file.itemId) ?? none;
    // Nearly all are as their folder is.
    if (rules.length === 0 && handed.length === 0)
      return { ...file, classIds: held ? none : above };
    const out = [...(held ? [] : above), ...rules.filter((r) => !r.held).map((r) => r.classId)];
    const kept = new Set(rules.filter((r) => r.held).map((r) => r.classId));
    const classIds = out.filter((id) => !kept.has(id) && above.includes(id));
    return { ...file, classIds: [...new Set([...classIds, ...handed])] };
  });
}

async function releasesOf(db: Queries, placementIds: readonly string[]) {
  const found = await rows<{ placementId: string; classId: string; held: boolean }>(
    db,
    sql`select placement_id as "placementId", class_id as "classId", held from class_releases
      where placement_id = any (${uuids(placementIds)})`,
  );
  const byPlacement = new Map<string, { classId: string; held: boolean }[]>();
  for (const { placementId, ...rule } of found)
    byPlacement.set(placementId, [...(byPlacement.get(placementId) ?? []), rule]);
  return byPlacement;
}

/** The classes to which items of a person are handed out by themselves. */
async function handedAlone(db: Queries, ownerId: string) {
  const found = await rows<{ itemId: string; classIds: string[] }>(
    db,
    sql`select h.item_id as "itemId", array_agg(distinct c.id)::text[] as "classIds"
      from handings_out h join items i on i.id = h.item_id join classes c on c.removed_at is null
        and h.audience_id = case h.audience_kind when 'class' then c.id when 'course' then c.course_id end
      where i.owner_id = ${ownerId}::uuid
      group by h.item_id`,
  );
  return new Map(found.map(({ itemId, classIds }) => [itemId, classIds]));
}
