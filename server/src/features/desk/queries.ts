import type { Origin } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import { rows, uuids, type Queries } from '../../db/database.ts';
import {
  accessParams,
  waysInTable,
  seesPlacement,
  type Viewer,
} from '../../domain/access/access-sql.ts';

/** What of an original goes into its copy. */
export interface Original extends Record<string, unknown> {
  id: string;
  description: string;
  lessonDate: string | null;
  mediaType: string | null;
  originalName: string | null;
  hash: string | null;
  size: number | null;
  versionId: string | null;
}

/** The newest state of items, by their ids. */
export function originalsOf(db: Queries, itemIds: readonly string[]) {
  return rows<Original>(
    db,
    sql`select i.id, i.description, i.lesson_date::text as "lessonDate", v.media_type as "mediaType",
        v.original_name as "originalName", v.hash, v.size::float8 as size, v.id as "versionId"
      from items i left join versions v on v.id = i.current_version_id where i.id = any (${uuids(itemIds)})`,
  );
}

/** Which of these contents a person's files hold already: they take no more room. */
export async function heldBy(db: Queries, personId: string, hashes: readonly string[]) {
  const found = await rows<{ hash: string }>(
    db,
    sql`select distinct v.hash from items i join versions v on v.item_id = i.id
      where i.owner_id = ${personId}::uuid and v.hash = any (${sql.param([...hashes])}::text[])`,
  );
  return new Set(found.map((v) => v.hash));
}

/** Where the copies in a folder come from: what is not seen any more is not named. */
export function originsIn(db: Queries, viewer: Viewer, folderId: string) {
  const params = accessParams(viewer);
  return rows<Origin & Record<string, unknown>>(
    db,
    sql`with ${waysInTable(params)}
      select p.id as "placementId", place.id as "originalId",
        case when place.id is not null then w.name end as "ownerName",
        case when place.id is null then 'gone'
          when o.current_version_id is distinct from i.copy_of_version_id then 'newer' else 'same' end as state
      from placements p join items i on i.id = p.item_id join items o on o.id = i.copy_of_item_id
        join people w on w.id = o.owner_id
        left join lateral (
          select q.id from placements q join folders f on f.id = q.folder_id
          where q.item_id = o.id and ${seesPlacement(sql`q`, sql`f`, params)} limit 1) place on true
      where p.folder_id = ${folderId}::uuid and p.binned_at is null`,
  );
}

/** The folder of a person that is in no other one, the Bin left out; null where there is none. */
export async function topFolderOf(db: Queries, personId: string): Promise<string | null> {
  const [found] = await rows<{ id: string }>(
    db,
    sql`select id from folders where owner_id = ${personId}::uuid and parent_id is null and binned_at is null`,
  );
  return found?.id ?? null;
}
