import type { Colour, HandedFolder, NewThing, NewThings, StaffRoom } from '@sammlung/contract';
import { and, eq, isNotNull, sql, type SQL } from 'drizzle-orm';
import { at, rows, type Queries } from '../../db/database.ts';
import { jsonArray, jsonObject, type Field } from '../../db/json-sql.ts';
import { LONG, statement } from '../../db/statement.ts';
import { people, schools } from '../../db/schema/index.ts';
import {
  accessParams,
  handedTable,
  waysInTable,
  outSince,
  pathState,
  placementOut,
  rightIn,
  viewerStatement,
  type AccessParams,
  type Viewer,
} from '../../domain/access/access-sql.ts';
import { CHANGED, ITEM_FIELDS, PREVIEW } from '../../domain/files/list.ts';
import { notOpened, type Opened } from '../../domain/openings.ts';
import { Json } from '../../platform/json.ts';

/** Audiences by roster are announced; school and public are not, they open by their door. */
const ANNOUNCED = sql`('person', 'class', 'course')`;

/**
 * `ways_in`, `roots` (what was handed out to the viewer by roster), and `reached`: the folders below, once for each way in on
 * which they were handed out and that leads to them, with when they were handed out (`since`) and have been out
 * (`opened_at`); `within`, where it is given, leaves out all other folders.
 */
function reachedFolders(params: AccessParams, within: SQL) {
  return sql`${waysInTable(params)}, ${handedTable(params)},
    roots as materialized (select * from handed where kind in ${ANNOUNCED}),
    below as materialized (
      select f.id as folder_id, f.title, f.path, o.kind, o.way_id, o.reading, o.exempt, min(o.since) as since
      from roots o join folders f on f.path @> array[o.folder_id]
      where o.folder_id is not null and f.owner_id is distinct from ${params.me} and ${inFolders(sql`f.id`, within)}
      group by f.id, o.kind, o.way_id, o.reading, o.exempt),
    reached as materialized (
      select below.*, state.opened_at
      from below cross join lateral ${pathState(sql`below.path`, sql`below`, params)} state
      where not state.shut)`;
}

const inFolders = (id: SQL, within: SQL) => sql`(${within} is null or ${id} = any (${within}))`;

/** Which of the things that came in are asked for. */
export interface Wanted {
  readonly limit: number;
  /** Only what came by this class; `me`: what came to the person alone. */
  readonly by?: string | undefined;
  /** Only what lies in these folders. */
  readonly within?: readonly string[];
}

/**
 * `came`: what was handed out to the viewer by roster and is out, each item once, where and when it came first
 * (`at`), all classes by which it came, and whether that state of it has been opened.
 */
function came(params: AccessParams, within: SQL) {
  return sql`${reachedFolders(params, within)},
    alone as materialized (
      select p.id as placement_id, o.reading, o.exempt, o.since, state.opened_at, (
          select r.title from reached r where r.folder_id = f.id and r.kind = o.kind and r.way_id = o.way_id
            and r.reading is not distinct from o.reading) as title
      from roots o join placements p on p.item_id = o.item_id join folders f on f.id = p.folder_id
        cross join lateral ${pathState(sql`f.path`, sql`o`, params)} state
      where not state.shut and f.owner_id is distinct from ${params.me} and ${inFolders(sql`f.id`, within)}),
    ways as materialized (
      select p.id, p.item_id, p.version_id, p.version_at, k.reading, k.title,
        greatest(k.opened_at, p.added_at, ${outSince(sql`p`, sql`release_`)}, k.since) as at
      from reached k join placements p on p.folder_id = k.folder_id ${RELEASED}
      where ${placementOut(sql`p`, sql`k`, params)}
      union all
      select p.id, p.item_id, p.version_id, p.version_at, k.reading, k.title,
        greatest(k.opened_at, p.added_at, ${outSince(sql`p`, sql`release_`)}, k.since)
      from alone k join placements p on p.id = k.placement_id ${RELEASED}
      where ${placementOut(sql`p`, sql`k`, params)}),
    several as (
      select item_id, array_agg(distinct reading) as readings from ways
      where item_id in (select item_id from ways group by item_id having count(*) > 1) group by item_id),
    things as (
      select distinct on (item_id) id, title as folder_title, version_id, greatest(at, version_at) as at,
        array_remove(coalesce(several.readings, array[reading]), null) as class_ids
      from ways left join several using (item_id)
      order by item_id, ways.at, ways.id, ways.title),
    came as materialized (select p.*, not ${notOpened(params, sql`p`, sql`p.at`)} as opened from things p)`;
}

const RELEASED = sql`left join class_releases release_ on release_.placement_id = p.id and release_.class_id = k.reading`;

/** Whether a thing that came in came by a class, or, for `me`, by none. */
const cameBy = (by: SQL) =>
  sql`(${by} is null or ${by} = any (class_ids::text[]) or (${by} = 'me' and cardinality(class_ids) = 0))`;

/** `mine`: the viewer's classes; to a teacher who sees as somebody else, those that the teacher teaches or has handed to. */
const mineTable = (params: AccessParams) => sql`mine as materialized (
  select c.id, c.code, c.colour, k.title as course, k.id as course_id,
    row_number() over (order by k.title collate natural_order, c.code collate natural_order) as place
  from ways_in join classes c on ways_in.kind = 'class' and ways_in.id = c.id
    join courses k on k.id = c.course_id join years y on y.id = k.year_id
  where y.closed_at is null and c.removed_at is null and (${params.only} is null or ways_in.id = ${params.asClass}
    or exists (select from course_teachers x where x.course_id = k.id and x.person_id = ${params.only})
    or exists (select from grants g left join folders f on f.id = g.folder_id left join items i on i.id = g.item_id
      where g.taken_back_at is null and (g.class_id = c.id or g.course_id = k.id)
        and coalesce(f.owner_id, i.owner_id) = ${params.only})))`;

const CLASS_FIELDS: readonly Field[] = [
  ['id', 'word', sql`mine.id`],
  ['code', 'text', sql`mine.code`],
  ['colour', 'word', sql`mine.colour`],
];

const THING_FIELDS: readonly Field[] = [
  ...ITEM_FIELDS,
  ['opened', 'boolean', sql`page.opened`],
  [
    'folder',
    'json',
    sql`case when page.folder_title is not null then ${jsonObject([
      ['id', 'word', sql`p.folder_id`],
      ['title', 'text', sql`page.folder_title`],
    ])} end`,
  ],
  ['cameAt', 'instant', sql`page.at`],
  ['classes', 'json', sql`sets.classes`],
];

/** What came at the same moment is ordered by folder; on the page, there from A to Z. */
const NEWEST_FIRST = sql`page.at desc, page.folder_title collate natural_order`;

const LIMIT = sql`${sql.placeholder('limit')}::int`;

const cameStatement = viewerStatement<{
  things: string;
  more: boolean;
  classes: string;
  counts: { unopened: number; forMe: number };
}>(
  (
    params,
  ) => sql`with ${came(params, sql`${sql.placeholder('within')}::uuid[]`)}, ${mineTable(params)},
    fresh as (select * from came where not opened),
    page as materialized (
      select page.*, row_number() over () as place from (
        select * from came page where ${cameBy(sql`${sql.placeholder('by')}::text`)} order by ${NEWEST_FIRST}, page.id limit ${LIMIT} + 1) page),
    sets as materialized (
      select class_ids, (
        select ${jsonArray(jsonObject(CLASS_FIELDS), sql`mine.place`)} from mine where mine.id = any (class_ids)) as classes
      from page group by class_ids)
    select (
        select ${jsonArray(jsonObject(THING_FIELDS), sql`${NEWEST_FIRST}, i.title collate natural_order, page.id`)}
        from page join sets on sets.class_ids = page.class_ids join placements p on p.id = page.id join items i on i.id = p.item_id
          left join versions v on v.id = i.current_version_id
          ${PREVIEW}
        where page.place <= ${LIMIT}) as things,
      (select count(*) from page) > ${LIMIT} as more, (
        select ${jsonArray(
          jsonObject([...CLASS_FIELDS, ['unopened', 'number', sql`coalesce(counted.n, 0)`]]),
          sql`mine.place`,
        )}
        from mine left join (select c.id, count(*) as n from fresh, unnest(class_ids) c (id) group by c.id) counted on counted.id = mine.id) as classes,
      (select json_build_object('unopened', count(*), 'forMe', count(*) filter (where cardinality(class_ids) = 0)) from fresh) as counts`,
  LONG,
);

/**
 * The newest of what came in, newest first, with the viewer's classes and how much of all that came in has not been opened; a
 * thing that came by two classes counts for both, once in all.
 */
export async function whatCame(db: Queries, viewer: Viewer, { limit, by, within }: Wanted) {
  const [found] = await cameStatement(db, viewer, { limit, by, within });
  const { things, classes, ...rest } = found!;
  return {
    ...rest,
    things: new Json<NewThing[]>(things),
    classes: new Json<NewThings['classes']>(classes),
  };
}

/** What came in until `until` and has not been opened. */
export function unopenedUntil(
  db: Queries,
  viewer: Viewer,
  { by, until }: { by?: string | undefined; until: number },
): Promise<Opened[]> {
  return rows<Opened & Record<string, unknown>>(
    db,
    sql`with ${came(accessParams(viewer), sql`null::uuid[]`)}
      select p.school_id as "schoolId", p.id as "placementId", came.version_id as "versionId"
      from came join placements p on p.id = came.id
      where not came.opened and came.at <= ${at(until)} and ${cameBy(sql`${by ?? null}::text`)}`,
  );
}

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

export type CountedRecord = Omit<HandedFolder, 'folders'> & {
  classId: string | null;
  topId: string;
};

/**
 * The folders handed out by roster that are out, each under the class it came by (no class: to the person), and the
 * folders directly in them; `topId` is the one that was handed out. Those kept on top come first, then those in which
 * something came in last.
 */
export const handedFolders = (db: Queries, viewer: Viewer) => foldersStatement(db, viewer, {});
const foldersStatement = viewerStatement<CountedRecord>(
  (params) => sql`with ${reachedFolders(params, sql`null::uuid[]`)},
      tops as (
        select distinct k.folder_id as id, k.reading as class_id
        from reached k join roots o on o.folder_id = k.folder_id and o.kind = k.kind and o.way_id = k.way_id
        where not exists (
          select from roots a where a.folder_id = any (k.path) and a.folder_id <> k.folder_id
            and a.reading is not distinct from k.reading)),
      shown as (
        select id, id as top_id, class_id from tops
        union
        select k.folder_id, tops.id, tops.class_id
        from tops join folders f on f.parent_id = tops.id
          join reached k on k.folder_id = f.id and k.reading is not distinct from tops.class_id),
      seen as materialized (
        select distinct p.id, k.path, k.reading, ${notOpened(params, sql`p`, CHANGED)} as unopened, ${CHANGED} as at
        from reached k join placements p on p.folder_id = k.folder_id ${RELEASED}
        where ${placementOut(sql`p`, sql`k`, params)}),
      counted as (
        select above.id, seen.reading, count(*)::int as items, (count(*) filter (where seen.unopened))::int as unopened,
          max(seen.at) as newest
        from seen cross join lateral unnest(seen.path) above (id)
        group by above.id, seen.reading)
      select f.id, shown.top_id as "topId", f.title, f.mark, shown.class_id as "classId",
        coalesce(counted.items, 0) as items, coalesce(counted.unopened, 0) as unopened
      from shown join folders f on f.id = shown.id
        left join counted on counted.id = shown.id and counted.reading is not distinct from shown.class_id
      order by f.keep_on_top desc, counted.newest desc nulls last, f.position, f.title collate natural_order`,
  LONG,
);

/** The folders of others that were handed out to staff or to the viewer by name, each topmost one once. */
export function staffFolders(db: Queries, viewer: Viewer) {
  const params = accessParams(viewer);
  return rows<StaffRoom['folders'][number]>(
    db,
    sql`with ${waysInTable(params)}, ${handedTable(params)},
      roots as materialized (
        select distinct f.id from handed h join folders f on f.id = h.folder_id
        where h.kind in ('staff', 'person') and f.owner_id is distinct from ${params.me}),
      found as (select f.*, ${rightIn(sql`f`, params)} as right_here from roots join folders f on f.id = roots.id)
    select f.id, f.title, f.mark, o.name as "ownerName", (array['view', 'view', 'add', 'manage'])[f.right_here + 1] as right, (
        select count(*)::int from placements p where p.folder_id = f.id and p.binned_at is null) as items, (
        select count(*)::int from folders b where b.parent_id = f.id and b.binned_at is null) as folders
      from found f join people o on o.id = f.owner_id
      where f.right_here > 0 and not exists (select from roots a where a.id = any (f.path) and a.id <> f.id)
      order by o.name, f.position, f.title collate natural_order`,
  );
}

/** What is on the page of somebody besides what came in: whether they want a mail each day, and how many classes they are asked to join. */
export async function ownNotes(
  db: Queries,
  personId: string | null,
): Promise<Pick<NewThings, 'digest' | 'joinRequests'>> {
  const [found] = await notesStatement(db, { person: personId });
  return found ?? { digest: null, joinRequests: 0 };
}
const notesStatement = statement<Pick<NewThings, 'digest' | 'joinRequests'>>(
  () => sql`select case when p.email is not null then p.digest end as digest, (
      select count(*)::int from join_requests r where r.person_id = p.id and r.answer is null) as "joinRequests"
    from people p where p.id = ${sql.placeholder('person')}::uuid`,
);

/** Everybody who wants that mail and has not had one after `since`. */
export function wantingDigest(db: Queries, since: number) {
  return db
    .select({
      zone: schools.timeZone,
      school: schools.name,
      id: people.id,
      language: people.language,
      schoolId: schools.id,
    })
    .from(people)
    .innerJoin(schools, eq(schools.id, people.schoolId))
    .where(
      and(
        eq(people.digest, true),
        isNotNull(people.email),
        sql`not exists (select from mails m where m.person_id = ${people.id} and m.kind = 'digest'
          and m.created_at > ${at(since)})`,
      ),
    );
}

/** What somebody is called. */
export async function nameOf(
  db: Queries,
  personId: string,
): Promise<{ name: string; staff: boolean }> {
  const [found] = await db.select().from(people).where(eq(people.id, personId));
  return { name: found!.name, staff: found!.kind !== 'student' };
}
