import { sql } from 'drizzle-orm';
import { rows, uuids, type Queries } from '../../db/database.ts';
import {
  asking,
  keysTable,
  rightIn,
  seesPlacement,
  type Asker,
} from '../../platform/access/twin.ts';

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
  kind: 'file' | 'link' | 'page';
  title: string;
  extension: string;
  url: string | null;
  body: string | null;
  hash: string | null;
  size: number;
  versionId: string | null;
  changedAt: string;
}

/** These folders and all below them, as far as the asker sees them; those above come first. */
export function foldersBelow(db: Queries, asker: Asker, t: number, ids: readonly string[]) {
  const ask = asking(asker, t);
  return rows<FolderRecord>(
    db,
    sql`with ${keysTable(ask)}
      select f.id, f.parent_id as "parentId", f.title from folders f
      where f.path && ${uuids(ids)} and f.binned_at is null and ${rightIn(sql`f`, ask)} > 0
      order by cardinality(f.path), f.title collate natural_order, f.id`,
  );
}

/** What the asker sees in these folders, and of these placements. */
export function itemsOf(
  db: Queries,
  asker: Asker,
  t: number,
  folderIds: readonly string[],
  placementIds: readonly string[],
) {
  const ask = asking(asker, t);
  return rows<ItemRecord>(
    db,
    sql`with ${keysTable(ask)}
      select p.id as "placementId", p.folder_id as "folderId", f.title as "folderTitle", p.school_id as "schoolId",
        i.kind, i.title, i.extension, i.url, i.body, v.hash, coalesce(v.size, 0)::float8 as size,
        v.id as "versionId",
        to_json(greatest(p.added_at, v.created_at)) #>> '{}' as "changedAt"
      from placements p join folders f on f.id = p.folder_id join items i on i.id = p.item_id
        left join versions v on v.id = i.current_version_id
      where (p.folder_id = any (${uuids(folderIds)}) or p.id = any (${uuids(placementIds)}))
        and ${seesPlacement(sql`p`, sql`f`, ask)}
      order by p.folder_id, i.title collate natural_order, p.id`,
  );
}

/** Notes that somebody took these along; once an hour for the same is enough. */
export async function noteTaken(db: Queries, asker: Asker, items: readonly ItemRecord[]) {
  // Whoever looks as somebody else leaves no trace of them.
  if (items.length === 0 || asker.only) return;
  const doorId = asker.personId ? null : (asker.doorIds[0] ?? null);
  await db.execute(sql`
    insert into openings (school_id, placement_id, version_id, person_id, door_id, kind)
    select ${items[0]!.schoolId}::uuid, x.p, x.v, ${asker.personId}::uuid, ${doorId}::uuid, 'downloaded'
    from unnest(${uuids(items.map((i) => i.placementId))}, ${sql.param(items.map((i) => i.versionId))}::uuid[]) x (p, v)
    where not exists (
      select from openings o where o.placement_id = x.p and o.version_id is not distinct from x.v
        and o.person_id is not distinct from ${asker.personId}::uuid
        and o.door_id is not distinct from ${doorId}::uuid
        and o.kind = 'downloaded' and o.at > now() - interval '1 hour')`);
}
