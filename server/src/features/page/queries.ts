import type { Language } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../../platform/sessions.ts';
import { AppError } from '../../platform/errors.ts';
import { rows, type Queries } from '../../db/database.ts';
import {
  classesHanded,
  seesPlacement,
  viewerStatement,
  waysInTable,
  type Viewer,
} from '../../domain/access/access-sql.ts';

const seen = viewerStatement<{
  itemId: string;
  schoolId: string;
  folderId: string;
  versionId: string | null;
  version: number;
  hash: string | null;
}>(
  (params) => sql`with ${waysInTable(params)}
    select i.id as "itemId", p.school_id as "schoolId", f.id as "folderId", v.id as "versionId", coalesce(v.number, 0) as version, v.hash
    from placements p join folders f on f.id = p.folder_id join items i on i.id = p.item_id
      left join versions v on v.id = i.current_version_id
    where p.id = ${sql.placeholder('placement')}::uuid and i.kind = 'page' and ${seesPlacement(sql`p`, sql`f`, params)}`,
);

/** A page that the viewer sees, in the version that readers get. Throws `not-found` otherwise. */
export async function pageSeen(db: Queries, viewer: Viewer, placementId: string) {
  const [found] = await seen(db, viewer, { placement: placementId });
  if (!found) throw new AppError('not-found');
  return found;
}

/** The version of a page that readers get; number 0 where nothing of it has been shown. */
export async function shownVersion(db: Queries, itemId: string) {
  const [found] = await rows<{ version: number; hash: string | null; versionId: string | null }>(
    db,
    sql`select coalesce(v.number, 0) as version, v.hash, v.id as "versionId" from items i left join versions v on v.id = i.current_version_id
      where i.id = ${itemId}::uuid`,
  );
  return found!;
}

/** Places of an item that are held back for all alike, as a page is before it is shown for the first time. */
export function heldPlaces(tx: Queries, itemId: string) {
  return rows<{ id: string }>(
    tx,
    sql`select id from placements where item_id = ${itemId}::uuid and held and from_at is null and until_at is null and not released`,
  );
}

/** The classes to which an item is handed out where it is, each with its language, where it has one. */
export function classesOfReaders(
  db: Queries,
  { folderId, itemId }: { folderId: string; itemId: string },
) {
  return rows<{ id: string; language: Language | null }>(
    db,
    sql`select distinct c.id, c.language from folders f join classes c on c.id in ${classesHanded(sql`f.path`, sql`${itemId}::uuid`)}
      where f.id = ${folderId}::uuid`,
  );
}

/**
 * When and for whom what is in a folder was written: the year of the folder, else the one in which the day was; and the classes of that
 * year to which it is handed out, or that the person teaches. Null where the school has no such year.
 */
export async function frameOf(
  db: Queries,
  { folderId, itemId }: { folderId: string; itemId: string },
  person: SignedIn,
  day: string,
) {
  const [found] = await rows<{
    id: string;
    firstDay: string;
    lastDay: string;
    handed: string[];
    taught: string[];
  }>(
    db,
    sql`with folder as (select path from folders where id = ${folderId}::uuid),
      handed as (select id from classes where id in ${classesHanded(sql`(select path from folder)::uuid[]`, sql`${itemId}::uuid`)})
      select y.id, y.first_day::text as "firstDay", y.last_day::text as "lastDay", (
          select coalesce(json_agg(c.code order by c.code), '[]') from classes c
          where c.year_id = y.id and c.id in (select id from handed)) as handed, (
          select coalesce(json_agg(c.code order by c.code), '[]') from classes c join course_teachers k on k.course_id = c.course_id
          where c.year_id = y.id and k.person_id = ${person.id}::uuid and c.removed_at is null) as taught
      from years y where y.school_id = ${person.schoolId}::uuid
      order by exists (select from folders f join folder on f.id = any (folder.path) where f.year_id = y.id) desc,
        exists (select from classes c join handed on handed.id = c.id where c.year_id = y.id) desc,
        ${day}::date between y.first_day and y.last_day desc, abs(y.first_day - ${day}::date)
      limit 1`,
  );
  return found ?? null;
}
