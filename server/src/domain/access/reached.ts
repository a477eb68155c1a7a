import type { Colour, HandedFolder } from '@sammlung/contract';
import { sql, type SQL } from 'drizzle-orm';
import type { Queries } from '../../db/database.ts';
import { LONG } from '../../db/statement.ts';
import { CHANGED } from '../files/list.ts';
import { notOpened } from '../openings.ts';
import {
  handedTable,
  pathState,
  placementOut,
  viewerStatement,
  walkedTable,
  waysInTable,
  type AccessParams,
  type Viewer,
} from './access-sql.ts';

/** What was handed out to somebody by roster, and by which of their classes. */

/** Audiences by roster are announced; school and public are not, they open by their door. */
const ANNOUNCED = sql`('person', 'class', 'course')`;

/**
 * `ways_in`, `roots` (what was handed out to the viewer by roster), and `reached`: the folders below, once for each way in on
 * which they were handed out and that leads to them, with when they were handed out (`since`) and have been out
 * (`opened_at`), and whether they are in the place of a hand-in box (`in_place`); `within`, where it is given, leaves out all other
 * folders. Recursive.
 */
export function reachedFolders(params: AccessParams, within: SQL) {
  return sql`${waysInTable(params)}, ${handedTable(params)},
    roots as materialized (select * from handed where kind in ${ANNOUNCED}),
    ${walkedTable(sql`roots`, params)},
    reached as materialized (
      select folder_id, title, path, kind, way_id, reading, exempt, opened_at, owner_id is null as in_place, min(since) as since
      from walked where owner_id is distinct from ${params.me} and ${inFolders(sql`folder_id`, within)}
      group by folder_id, title, path, kind, way_id, reading, exempt, opened_at, owner_id)`;
}

export const inFolders = (id: SQL, within: SQL) =>
  sql`(${within} is null or ${id} = any (${within}))`;

export const RELEASED = sql`left join class_releases release_ on release_.placement_id = p.id and release_.class_id = k.reading`;

/** `mine`: the viewer's classes; to a teacher who sees as somebody else, those that the teacher teaches or has handed to. */
export const mineTable = (params: AccessParams) => sql`mine as materialized (
  select c.id, c.code, c.colour, k.title as course, k.id as course_id,
    row_number() over (order by k.title collate natural_order, c.code collate natural_order) as place
  from ways_in join classes c on ways_in.kind = 'class' and ways_in.id = c.id
    join courses k on k.id = c.course_id join years y on y.id = k.year_id
  where y.closed_at is null and c.removed_at is null and (${params.only} is null or ways_in.id = ${params.asClass}
    or exists (select from course_teachers x where x.course_id = k.id and x.person_id = ${params.only})
    or exists (select from grants g left join folders f on f.id = g.folder_id left join items i on i.id = g.item_id
      where g.taken_back_at is null and (g.class_id = c.id or g.course_id = k.id)
        and coalesce(f.owner_id, i.owner_id) = ${params.only})))`;

/** The viewer's classes, as `mineTable` has them. */
export const classesOf = (db: Queries, viewer: Viewer) => classesStatement(db, viewer, {});
const classesStatement = viewerStatement<{
  id: string;
  code: string;
  colour: Colour;
  course: string;
  teachers: string[];
}>(
  (params) => sql`with ${waysInTable(params)}, ${mineTable(params)}
    select id, code, colour, course, coalesce((
        select json_agg(p.name order by p.name) from course_teachers ct join people p on p.id = ct.person_id
        where ct.course_id = mine.course_id), '[]') as teachers
    from mine order by place`,
);

/**
 * `counted(id, reading, items, unopened, newest)`: how many items somebody sees in folders and below, on the ways of each class, and how
 * many of them they have not opened. Needs `reached`.
 */
const countedTable = (params: AccessParams) => sql`seen as materialized (
    select distinct p.id, k.path, k.reading, ${notOpened(params, sql`p`, CHANGED)} as unopened, ${CHANGED} as at
    from reached k join placements p on p.folder_id = k.folder_id ${RELEASED}
    where ${placementOut(sql`p`, sql`k`, params)}),
  counted as (
    select above.id, seen.reading, count(*)::int as items, (count(*) filter (where seen.unopened))::int as unopened,
      max(seen.at) as newest
    from seen cross join lateral unnest(seen.path) above (id)
    group by above.id, seen.reading)`;

export type CountedRecord = Omit<HandedFolder, 'folders'> & {
  classId: string | null;
  topId: string;
};

/**
 * The folders handed out by roster that are out, those of hand-in boxes left out, each under the class it came by (no class: to the person), and the
 * folders directly in them; `topId` is the one that was handed out. Those kept on top come first, then those in which
 * something came in last.
 */
export const handedFolders = (db: Queries, viewer: Viewer) => foldersStatement(db, viewer, {});
const foldersStatement = viewerStatement<CountedRecord>(
  (params) => sql`with recursive ${reachedFolders(params, sql`null::uuid[]`)},
      tops as (
        select distinct k.folder_id as id, k.reading as class_id
        from reached k join roots o on o.folder_id = k.folder_id and o.kind = k.kind and o.way_id = k.way_id
        where not k.in_place and not exists (
          select from roots a where a.folder_id = any (k.path) and a.folder_id <> k.folder_id
            and a.reading is not distinct from k.reading)),
      shown as (
        select id, id as top_id, class_id from tops
        union
        select k.folder_id, tops.id, tops.class_id
        from tops join folders f on f.parent_id = tops.id
          join reached k on k.folder_id = f.id and k.reading is not distinct from tops.class_id),
      ${countedTable(params)}
      select f.id, shown.top_id as "topId", f.title, f.mark, shown.class_id as "classId",
        coalesce(counted.items, 0) as items, coalesce(counted.unopened, 0) as unopened
      from shown join folders f on f.id = shown.id
        left join counted on counted.id = shown.id and counted.reading is not distinct from shown.class_id
      order by f.keep_on_top desc, counted.newest desc nulls last, f.position, f.title collate natural_order`,
  LONG,
);

/** What of these things, which the viewer sees, has not been opened: by their ids, how many items. */
export async function unopenedIn(
  db: Queries,
  viewer: Viewer,
  { folders, placements }: { folders: readonly string[]; placements: readonly string[] },
): Promise<ReadonlyMap<string, number>> {
  const found = await unopenedStatement(db, viewer, { folders, placements });
  return new Map(found.map(({ id, unopened }) => [id, unopened]));
}
const unopenedStatement = viewerStatement<{ id: string; unopened: number }>(
  (
    params,
  ) => sql`with recursive ${reachedFolders(params, sql`null::uuid[]`)}, ${countedTable(params)}
    select id, max(unopened) as unopened from counted where id = any (${sql.placeholder('folders')}::uuid[]) group by id
    union all
    select p.id, 1 from placements p where p.id = any (${sql.placeholder('placements')}::uuid[]) and ${notOpened(params, sql`p`, CHANGED)}`,
  LONG,
);

/** The items handed out by themselves that are out, each under the class it came by, and that are in no folder that came by it too. */
export const handedItems = (db: Queries, viewer: Viewer) => itemsStatement(db, viewer, {});
const itemsStatement = viewerStatement<{ id: string; classId: string | null }>(
  (params) => sql`with recursive ${reachedFolders(params, sql`null::uuid[]`)}
    select distinct on (k.reading, p.item_id) p.id, k.reading as "classId"
    from roots k join placements p on p.item_id = k.item_id join folders f on f.id = p.folder_id ${RELEASED}
      cross join lateral ${pathState(sql`f.path`, sql`k`, params)} state
    where not state.shut and f.owner_id is distinct from ${params.me} and ${placementOut(sql`p`, sql`k`, params)}
      and not exists (select from reached r where r.folder_id = f.id and r.reading is not distinct from k.reading)
    order by k.reading, p.item_id, p.added_at`,
  LONG,
);
