import type { NewThing, NewThings, StaffRoom } from '@sammlung/contract';
import { and, eq, isNotNull, isNull, sql, type SQL } from 'drizzle-orm';
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
import { inFolders, mineTable, reachedFolders, RELEASED } from '../../domain/access/reached.ts';
import { ITEM_FIELDS, PREVIEW } from '../../domain/files/list.ts';
import { notOpenedOf, openedTable, type Opened } from '../../domain/openings.ts';
import { mailLanguage } from '../../domain/people.ts';
import { Json } from '../../platform/json.ts';

/** Which of the things that came in are asked for. */
export interface Wanted {
  readonly limit: number;
  /** Only what came by this class; `me`: what came to the person alone. */
  readonly by?: string | undefined;
  /** Only what lies in these folders. */
  readonly within?: readonly string[];
}

/**
 * What was handed out to the viewer by roster and is out, each item once. Nearly all of it is `PLAIN`: it comes by its folder and
 * when that came or later, so `sources` (the folders, with when they came, `base`, and by which classes) stand for it. The rest is
 * in `things`: where and when each came first, and all classes by which it came. Of what is in the viewer’s place of a hand-in box there is
 * only what others have put there. Recursive.
 */
function came(params: AccessParams, within: SQL) {
  return sql`${reachedFolders(params, within)}, ${openedTable(params)},
    sources as materialized (
      select folder_id, title, min(greatest(opened_at, since)) as base, array_remove(array_agg(distinct reading), null) as class_ids
      from reached where not in_place group by folder_id, title),
    alone as materialized (
      select p.id as placement_id, o.reading, o.exempt, o.since, state.opened_at, (
          select r.title from reached r where r.folder_id = f.id and r.kind = o.kind and r.way_id = o.way_id
            and r.reading is not distinct from o.reading) as title
      from roots o join placements p on p.item_id = o.item_id join folders f on f.id = p.folder_id
        cross join lateral ${pathState(sql`f.path`, sql`o`, params)} state
      where not state.shut and f.owner_id is distinct from ${params.me} and ${inFolders(sql`f.id`, within)}),
    special_ways as materialized (
      select ${WAY}, k.title, ${cameAt(sql`k`)} as at, array_remove(array[k.reading], null) as class_ids
      from reached k join placements p on p.folder_id = k.folder_id and not p.plain ${RELEASED}
      where ${placementOut(sql`p`, sql`k`, params)}
      union all
      select ${WAY}, k.title, ${cameAt(sql`k`)}, array_remove(array[k.reading], null)
      from alone k join placements p on p.id = k.placement_id ${RELEASED}
      where ${placementOut(sql`p`, sql`k`, params)}),
    in_places as materialized (
      select ${WAY}, k.title, ${cameAt(sql`k`)} as at, '{}'::uuid[] as class_ids
      from reached k join placements p on p.folder_id = k.folder_id and p.plain and p.added_by is distinct from ${params.me} ${RELEASED}
      where k.in_place),
    several_ways as materialized (
      select ${WAY}, k.title, greatest(k.base, p.added_at) as at, k.class_ids
      from sources k join placements p on p.folder_id = k.folder_id and p.plain and p.several),
    special_items as materialized (
      select item_id from special_ways union select item_id from in_places union (select item_id from several_ways group by item_id having count(*) > 1)),
    ways as (select * from special_ways union all select * from in_places union all select * from several_ways where item_id in (select item_id from special_items)),
    things as materialized (
      select p.*, ${notOpenedOf(params, sql`p`, sql`p.at`)} as fresh from (
        select (array_agg(ways.id order by at, ways.id, title))[1] as id, (array_agg(folder_id order by at, ways.id, title))[1] as folder_id,
          (array_agg(title order by at, ways.id, title))[1] as title, (array_agg(version_id))[1] as version_id,
          greatest(min(at), max(version_at)) as at, coalesce(array_agg(distinct c.id) filter (where c.id is not null), '{}') as class_ids
        from ways left join lateral unnest(class_ids) c (id) on true
        group by item_id) p)`;
}

const WAY = sql`p.id, p.item_id, p.folder_id, p.version_id, p.version_at`;

/** When placement `p` came on the way `k`, whatever version it has now. */
const cameAt = (k: SQL) =>
  sql`greatest(${k}.opened_at, p.added_at, ${outSince(sql`p`, sql`release_`)}, ${k}.since)`;

/** The placements `p` for which the source `k` stands. */
const PLAIN = sql`placements p where p.folder_id = k.folder_id and p.plain
  and not (p.several and p.item_id in (select item_id from special_items))`;
const PLAIN_AT = sql`greatest(k.base, p.came_at)`;

/** Whether a source or thing came by a class, or, for `me`, by none. */
const cameBy = (by: SQL) =>
  sql`(${by} is null or ${by} = any (class_ids::text[]) or (${by} = 'me' and cardinality(class_ids) = 0))`;

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
    sql`case when page.title is not null then ${jsonObject([
      ['id', 'word', sql`page.folder_id`],
      ['title', 'text', sql`page.title`],
    ])} end`,
  ],
  ['cameAt', 'instant', sql`page.at`],
  ['classes', 'json', sql`sets.classes`],
];

/** What came at the same moment is ordered by folder; on the page, there from A to Z. */
const NEWEST_FIRST = sql`page.at desc, page.title collate natural_order, page.folder_id`;

const LIMIT = sql`${sql.placeholder('limit')}::int`;
const BY = sql`${sql.placeholder('by')}::text`;

/** Of the folders, as many are looked into as there may be things on the page: each holds one at least, and newer ones than all further folders. */
const cameStatement = viewerStatement<{
  things: string;
  more: boolean;
  classes: string;
  counts: { unopened: number; forMe: number };
}>(
  (
    params,
  ) => sql`with recursive ${came(params, sql`${sql.placeholder('within')}::uuid[]`)}, ${mineTable(params)},
    counted as materialized (
      select * from sources k cross join lateral (
        select count(*) filter (where ${notOpenedOf(params, sql`p`, PLAIN_AT)}) as fresh, max(p.came_at) as newest from ${PLAIN}) plain
      where newest is not null),
    tops as (
      select * from counted where ${cameBy(BY)} order by greatest(base, newest) desc, title collate natural_order, folder_id limit ${LIMIT} + 1),
    page as materialized (
      select page.*, row_number() over () as place from (
        select * from (
          select p.*, k.title, k.class_ids from tops k cross join lateral (
            select p.id, p.folder_id, ${PLAIN_AT} as at, p.came_at, not ${notOpenedOf(params, sql`p`, PLAIN_AT)} as opened
            from ${PLAIN} order by p.came_at desc, p.id limit ${LIMIT} + 1) p
          union all
          select id, folder_id, at, at, not fresh, title, class_ids from things where ${cameBy(BY)}) page
        order by ${NEWEST_FIRST}, came_at desc, id limit ${LIMIT} + 1) page),
    sets as materialized (
      select class_ids, (
        select ${jsonArray(jsonObject(CLASS_FIELDS), sql`mine.place`)} from mine where mine.id = any (class_ids)) as classes
      from page group by class_ids),
    unopened as materialized (
      select class_ids, fresh as n from counted where fresh > 0 union all select class_ids, 1 from things where fresh)
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
        from mine left join (
          select c.id, sum(n) as n from unopened, unnest(class_ids) c (id) group by c.id) counted on counted.id = mine.id) as classes,
      (select json_build_object('unopened', coalesce(sum(n), 0), 'forMe', coalesce(sum(n) filter (where cardinality(class_ids) = 0), 0))
        from unopened) as counts`,
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
  const params = accessParams(viewer);
  return rows<Opened & Record<string, unknown>>(
    db,
    sql`with recursive ${came(params, sql`null::uuid[]`)},
      unopened as (
        select p.id, ${PLAIN_AT} as at, k.class_ids
        from sources k cross join lateral (select * from ${PLAIN} and ${notOpenedOf(params, sql`p`, PLAIN_AT)}) p
        union all
        select id, at, class_ids from things where fresh)
      select p.school_id as "schoolId", p.id as "placementId", p.version_id as "versionId"
      from unopened join placements p on p.id = unopened.id
      where unopened.at <= ${at(until)} and ${cameBy(sql`${by ?? null}::text`)}`,
  );
}

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

/**
 * What is on the page of somebody besides what came in: whether they want a mail each day, how many classes they are asked to join, and how
 * many hand-in boxes they have a place in.
 */
export async function ownNotes(
  db: Queries,
  personId: string | null,
): Promise<Pick<NewThings, 'digest' | 'joinRequests' | 'boxes'>> {
  const [found] = await notesStatement(db, { person: personId });
  return found ?? { digest: null, joinRequests: 0, boxes: 0 };
}
const notesStatement = statement<Pick<NewThings, 'digest' | 'joinRequests' | 'boxes'>>(
  () => sql`select case when p.email is not null then p.digest end as digest, (
      select count(*)::int from join_requests r where r.person_id = p.id and r.answer is null) as "joinRequests", (
      select count(*)::int from places l join boxes b on b.id = l.box_id
        where l.person_id = p.id and b.removed_at is null and (b.closed_at is null or b.cleared_at is not null)) as boxes
    from people p where p.id = ${sql.placeholder('person')}::uuid`,
);

/** Everybody who wants that mail and has not had one after `since`. */
export function wantingDigest(db: Queries, since: number) {
  return db
    .select({
      zone: schools.timeZone,
      school: schools.name,
      id: people.id,
      language: mailLanguage(sql`people`),
      schoolId: schools.id,
    })
    .from(people)
    .innerJoin(schools, eq(schools.id, people.schoolId))
    .where(
      and(
        eq(people.digest, true),
        isNotNull(people.email),
        isNull(people.deactivatedAt),
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
