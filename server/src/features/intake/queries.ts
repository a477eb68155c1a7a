import type { Crumb } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import { rows, type Queries } from '../../db/database.ts';

/** Items in a folder that have this content, one of these name keys, or a name that begins with `beginning`. */
export function lyingIn(
  db: Queries,
  folderId: string,
  { hash, keys, beginning }: { hash: string; keys: readonly string[]; beginning: string },
) {
  return rows<{
    placementId: string;
    itemId: string;
    ownerId: string;
    addedBy: string;
    name: string;
    hash: string;
    number: number | null;
  }>(
    db,
    sql`select p.id as "placementId", i.id as "itemId", i.owner_id as "ownerId", p.added_by as "addedBy",
        i.title || case when i.extension = '' then '' else '.' || i.extension end as name,
        coalesce(v.hash, '') as hash, (select max(w.number) from versions w where w.item_id = i.id) as number
      from placements p join items i on i.id = p.item_id left join versions v on v.id = i.current_version_id
      where p.folder_id = ${folderId}::uuid and p.binned_at is null
        and (starts_with(p.name_key, ${beginning}) or v.hash = ${hash}
          or p.name_key = any (${sql.param([...keys])}::text[]))`,
  );
}

/** Files of a person with this content that lie somewhere. */
export function lyingElsewhere(db: Queries, personId: string, hash: string) {
  return rows<{ itemId: string; name: string; hash: string }>(
    db,
    sql`select i.id as "itemId", v.hash,
        i.title || case when i.extension = '' then '' else '.' || i.extension end as name
      from versions v join items i on i.current_version_id = v.id
      where v.hash = ${hash} and i.owner_id = ${personId}::uuid
        and exists (select from placements p join folders f on f.id = p.folder_id
          where p.item_id = i.id and p.binned_at is null
            and not exists (select from folders n where n.id = any (f.path) and n.binned_at is not null))
      order by i.created_at, i.id`,
  );
}

/** The other folders of a person in which an item lies. */
export function placesOf(db: Queries, personId: string, itemId: string, folderId: string) {
  return rows<Crumb>(
    db,
    sql`select f.id, f.title from placements p join folders f on f.id = p.folder_id
      where p.item_id = ${itemId}::uuid and p.binned_at is null and f.id <> ${folderId}::uuid
        and f.owner_id = ${personId}::uuid
      order by f.title collate natural_order`,
  );
}
