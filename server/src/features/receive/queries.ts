import type { HandedFolder, ItemRow, StaffRoom } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import { ms, rows, type Queries } from '../../db/database.ts';
import {
  asking,
  handedTo,
  keysTable,
  openKeys,
  placementOpens,
  rightIn,
  type Ask,
  type Asker,
} from '../../platform/access/twin.ts';

/** Audiences by roster are announced; school and public are not, they open by their door. */
const ANNOUNCED = sql`('person', 'class', 'course')`;

/**
 * `keys`, `roots` (what was handed out to the asker by roster), and `reached`: the folders below, once for each key
 * that comes through to them, with the columns of `openKeys`.
 */
function reachedFolders(ask: Ask) {
  return sql`${keysTable(ask)},
    roots as materialized (
      select h.folder_id, h.item_id, k.kind, k.id as key_id, k.reading
      from keys k join handings_out h on ${handedTo(sql`h`, sql`k`, ask)}
      where k.kind in ${ANNOUNCED}),
    reached as materialized (
      select k.*, f.id as folder_id, f.title, f.path, (
          select max(case when r.id is null then n.from_at else r.from_at end)
          from folders n left join class_releases r on r.folder_id = n.id and r.class_id = k.reading
          where n.id = any (f.path)) as opened_at
      from folders f cross join lateral ${openKeys(sql`f.path`, ask)} k
      where k.kind in ${ANNOUNCED} and f.owner_id is distinct from ${ask.me}
        and (f.path && (select array_agg(folder_id) from roots where folder_id is not null)
          or f.id in (select p.folder_id from roots join placements p on p.item_id = roots.item_id)))`;
}

const unopened = ({ me }: Ask) => sql`not exists (
  select from openings o where o.person_id = ${me} and o.placement_id = p.id
    and o.version_id is not distinct from i.current_version_id)`;

export type CameRecord = Omit<ItemRow, 'changedAt'> & {
  changedAt: number;
  cameAt: number;
  folderId: string;
  folderTitle: string | null;
  classIds: string[];
};

/** What was handed out to the asker by roster and is out, by when it came to them, newest first. */
export function whatCame(db: Queries, asker: Asker, t: number, limit: number) {
  const ask = asking(asker, t);
  return rows<CameRecord>(
    db,
    sql`with ${reachedFolders(ask)},
      came as (
        select p.id, max(k.title) filter (where k.rank > 0) as folder_title,
          array_remove(array_agg(distinct k.reading), null) as class_ids,
          min(greatest(k.opened_at, p.added_at, coalesce(r.from_at, p.from_at), (
            select min(greatest(h.created_at, h.from_at)) from handings_out h
            where (h.folder_id = any (k.path) or h.item_id = p.item_id)
              and ${handedTo(sql`h`, sql`k`, ask)}))) as at
        from reached k join placements p on p.folder_id = k.folder_id
          left join class_releases r on r.placement_id = p.id and r.class_id = k.reading
        where ${placementOpens(sql`p`, sql`k`, ask)}
        group by p.id)
      select * from (
        select distinct on (i.id) p.id as "placementId", i.id as "itemId", i.kind, i.title, i.extension, i.url,
          v.media_type as "mediaType", v.size::float8 as size, v.number as version, i.lesson_date as "lessonDate",
          p.keep_on_top as "keepOnTop", case when w.small is not null then left(w.hash, 12) end as small,
          null as opening,
          not ${unopened(ask)} as opened, p.folder_id as "folderId",
          came.folder_title as "folderTitle", to_json(came.class_ids) as "classIds",
          ${ms(sql`greatest(p.added_at, v.created_at)`)} as "changedAt",
          ${ms(sql`greatest(came.at, v.created_at)`)} as "cameAt"
        from came join placements p on p.id = came.id join items i on i.id = p.item_id
          left join versions v on v.id = i.current_version_id
          left join previews w on w.school_id = v.school_id and w.hash = v.hash
        order by i.id, came.at) found
      order by "cameAt" desc, title
      limit ${limit}`,
  );
}

/** The asker's classes at `t`. */
export function classesOf(db: Queries, asker: Asker, t: number) {
  return rows<{ id: string; code: string; colour: string; course: string; teachers: string[] }>(
    db,
    sql`with ${keysTable(asking(asker, t))}
      select c.id, c.code, c.colour, k.title as course, coalesce((
          select json_agg(p.name order by p.name) from course_teachers ct join people p on p.id = ct.person_id
          where ct.course_id = k.id), '[]') as teachers
      from keys join classes c on keys.kind = 'class' and keys.id = c.id
        join courses k on k.id = c.course_id join years y on y.id = k.year_id
      where y.closed_at is null and c.removed_at is null
      order by k.title collate natural_order, c.code collate natural_order`,
  );
}

export type CountedRecord = Omit<HandedFolder, 'folders'> & {
  classId: string | null;
  topId: string;
};

/**
 * The folders handed out by roster that are out, each under the class it came by (no class: to the person), and the
 * folders directly in them; `topId` is the one that was handed out.
 */
export function handedFolders(db: Queries, asker: Asker, t: number) {
  const ask = asking(asker, t);
  return rows<CountedRecord>(
    db,
    sql`with ${reachedFolders(ask)},
      tops as (
        select distinct k.folder_id as id, k.reading as class_id
        from reached k join roots o on o.folder_id = k.folder_id and o.kind = k.kind and o.key_id = k.id
        where k.rank > 0 and not exists (
          select from roots a where a.folder_id = any (k.path) and a.folder_id <> k.folder_id
            and a.reading is not distinct from k.reading)),
      shown as (
        select id, id as top_id, class_id from tops
        union
        select k.folder_id, tops.id, tops.class_id
        from tops join folders f on f.parent_id = tops.id
          join reached k on k.folder_id = f.id and k.rank > 0 and k.reading is not distinct from tops.class_id),
      seen as materialized (
        select distinct p.id, k.path, k.reading, ${unopened(ask)} as unopened
        from reached k join placements p on p.folder_id = k.folder_id join items i on i.id = p.item_id
        where ${placementOpens(sql`p`, sql`k`, ask)}),
      counted as (
        select above.id, seen.reading, count(*)::int as items, (count(*) filter (where seen.unopened))::int as unopened
        from seen cross join lateral unnest(seen.path) above (id)
        group by above.id, seen.reading)
      select f.id, shown.top_id as "topId", f.title, f.mark, shown.class_id as "classId",
        coalesce(counted.items, 0) as items, coalesce(counted.unopened, 0) as unopened
      from shown join folders f on f.id = shown.id
        left join counted on counted.id = shown.id and counted.reading is not distinct from shown.class_id
      order by f.keep_on_top desc, f.position, f.title collate natural_order`,
  );
}

/** The folders of others that were handed out to staff or to the asker by name, each topmost one once. */
export function staffFolders(db: Queries, asker: Asker, t: number) {
  const ask = asking(asker, t);
  return rows<StaffRoom['folders'][number]>(
    db,
    sql`with ${keysTable(ask)},
      roots as materialized (
        select distinct f.id from keys k join handings_out h on ${handedTo(sql`h`, sql`k`, ask)}
          join folders f on f.id = h.folder_id
        where k.kind in ('staff', 'person') and f.owner_id is distinct from ${ask.me}),
      found as (select f.*, ${rightIn(sql`f`, ask)} as right_here from roots join folders f on f.id = roots.id)
    select f.id, f.title, f.mark, o.name as "ownerName", (array['view', 'view', 'add', 'manage'])[f.right_here + 1] as right, (
        select count(*)::int from placements p where p.folder_id = f.id and p.binned_at is null) as items, (
        select count(*)::int from folders b where b.parent_id = f.id and b.binned_at is null) as folders
      from found f join people o on o.id = f.owner_id
      where f.right_here > 0 and not exists (select from roots a where a.id = any (f.path) and a.id <> f.id)
      order by o.name, f.position, f.title collate natural_order`,
  );
}
