import type { HandedFolder, ItemRow, NewThings, StaffRoom } from '@sammlung/contract';
import { and, eq, isNotNull, sql } from 'drizzle-orm';
import { at, ms, rows, uuids, type Queries } from '../../db/database.ts';
import { columns } from '../../db/json-sql.ts';
import { people, schools } from '../../db/schema/index.ts';
import {
  accessParams,
  handedSince,
  handedTable,
  waysInTable,
  openWaysIn,
  outSince,
  placementOpens,
  rightIn,
  type AccessParams,
  type Viewer,
} from '../../domain/access/access-sql.ts';
import { ITEM_FIELDS, PREVIEW } from '../../domain/files/list.ts';
import { notOpened, type Opened } from '../../domain/openings.ts';

/** Audiences by roster are announced; school and public are not, they open by their door. */
const ANNOUNCED = sql`('person', 'class', 'course')`;

/**
 * `ways_in`, `roots` (what was handed out to the viewer by roster), and `reached`: the folders below, once for each way
 * in that leads to them, with the columns of `openWaysIn`; `within` leaves out all other folders.
 */
function reachedFolders(params: AccessParams, within?: readonly string[]) {
  return sql`${waysInTable(params)}, ${handedTable(params)},
    roots as materialized (select * from handed where kind in ${ANNOUNCED}),
    reached as materialized (
      select k.*, f.id as folder_id, f.title, f.path, (
          select max(${outSince(sql`n`, sql`r`)})
          from folders n left join class_releases r on r.folder_id = n.id and r.class_id = k.reading
          where n.id = any (f.path)) as opened_at
      from folders f cross join lateral ${openWaysIn(sql`f.path`, params)} k
      where k.kind in ${ANNOUNCED} and f.owner_id is distinct from ${params.me}
        ${within ? sql`and f.id = any (${uuids(within)})` : sql``}
        and (f.path && (select array_agg(folder_id) from roots where folder_id is not null)
          or f.id in (select p.folder_id from roots join placements p on p.item_id = roots.item_id)))`;
}

export type CameRecord = ItemRow & {
  cameAt: number;
  folderId: string;
  folderTitle: string | null;
  classIds: string[];
};

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
function came(params: AccessParams, within?: readonly string[]) {
  return sql`${reachedFolders(params, within)},
    ways as (
      select p.id, p.item_id, k.reading, case when k.rank > 0 then k.title end as folder_title,
        greatest(k.opened_at, p.added_at, ${outSince(sql`p`, sql`r`)},
          ${handedSince(sql`k.path`, sql`p.item_id`, sql`k`, params)}) as at
      from reached k join placements p on p.folder_id = k.folder_id
        left join class_releases r on r.placement_id = p.id and r.class_id = k.reading
      where ${placementOpens(sql`p`, sql`k`, params)}),
    things as (
      select item_id, min(at) as at, (array_agg(id order by at, id))[1] as id,
        (array_agg(folder_title order by at, id, folder_title))[1] as folder_title,
        array_remove(array_agg(distinct reading), null) as class_ids
      from ways group by item_id),
    came as materialized (
      select p.id, p.folder_title, p.class_ids, i.title, i.current_version_id,
        greatest(p.at, v.created_at) as at,
        not ${notOpened(params, sql`greatest(p.at, v.created_at)`)} as opened
      from things p join items i on i.id = p.item_id left join versions v on v.id = i.current_version_id)`;
}

/** Whether a thing that came in came by a class, or, for `me`, by none. */
function cameBy(by: string | undefined) {
  if (by === undefined) return sql`true`;
  return by === 'me' ? sql`cardinality(class_ids) = 0` : sql`${by}::uuid = any (class_ids)`;
}

/** What came at the same moment stands by folder, and there from A to Z. */
const NEWEST_FIRST = sql`order by page.at desc, page.folder_title collate natural_order, page.title collate natural_order`;

/** How many things have not been opened: in all, of what came to the person alone, and by class. */
export interface Counts {
  readonly all: number;
  readonly me: number;
  readonly byClass: Readonly<Record<string, number>> | null;
}

/**
 * The newest of what came in, newest first, and how much of all that came in has not been opened; a thing that came by
 * two classes counts for both, once in all.
 */
export async function whatCame(
  db: Queries,
  viewer: Viewer,
  { limit, by, within }: Wanted,
): Promise<{ things: CameRecord[]; counts: Counts }> {
  const [found] = await rows<{ things: CameRecord[] | null; counts: Counts }>(
    db,
    sql`with ${came(accessParams(viewer), within)},
      fresh as (select * from came where not opened),
      page as (select * from came page where ${cameBy(by)} ${NEWEST_FIRST} limit ${limit}),
      shown as (
        select ${columns(ITEM_FIELDS)}, page.opened, p.folder_id as "folderId", page.folder_title as "folderTitle",
          page.class_ids as "classIds", ${ms(sql`page.at`)} as "cameAt"
        from page join placements p on p.id = page.id join items i on i.id = p.item_id
          left join versions v on v.id = i.current_version_id
          ${PREVIEW}
        ${NEWEST_FIRST})
      select (select json_agg(shown) from shown) as things, json_build_object(
        'all', (select count(*) from fresh),
        'me', (select count(*) from fresh where cardinality(class_ids) = 0),
        'byClass', (
          select json_object_agg(id, n) from (
            select c.id, count(*) as n from fresh, unnest(fresh.class_ids) c (id) group by c.id) counted)) as counts`,
  );
  return { things: found!.things ?? [], counts: found!.counts };
}

/** What came in until `until` and has not been opened. */
export function unopenedUntil(
  db: Queries,
  viewer: Viewer,
  { by, until }: { by?: string | undefined; until: number },
): Promise<Opened[]> {
  return rows<Opened & Record<string, unknown>>(
    db,
    sql`with ${came(accessParams(viewer))}
      select p.school_id as "schoolId", p.id as "placementId", came.current_version_id as "versionId"
      from came join placements p on p.id = came.id
      where not came.opened and came.at <= ${at(until)} and ${cameBy(by)}`,
  );
}

/** The viewer's classes; to a teacher who sees as somebody else, those that the teacher teaches or has handed to. */
export function classesOf(db: Queries, viewer: Viewer) {
  const params = accessParams(viewer);
  return rows<{ id: string; code: string; colour: string; course: string; teachers: string[] }>(
    db,
    sql`with ${waysInTable(params)}
      select c.id, c.code, c.colour, k.title as course, coalesce((
          select json_agg(p.name order by p.name) from course_teachers ct join people p on p.id = ct.person_id
          where ct.course_id = k.id), '[]') as teachers
      from ways_in join classes c on ways_in.kind = 'class' and ways_in.id = c.id
        join courses k on k.id = c.course_id join years y on y.id = k.year_id
      where y.closed_at is null and c.removed_at is null and (${params.only} is null or ways_in.id = ${params.asClass}
        or exists (select from course_teachers x where x.course_id = k.id and x.person_id = ${params.only})
        or exists (select from grants g left join folders f on f.id = g.folder_id left join items i on i.id = g.item_id
          where g.taken_back_at is null and (g.class_id = c.id or g.course_id = k.id)
            and coalesce(f.owner_id, i.owner_id) = ${params.only}))
      order by k.title collate natural_order, c.code collate natural_order`,
  );
}

export type CountedRecord = Omit<HandedFolder, 'folders'> & {
  classId: string | null;
  topId: string;
};

/**
 * The folders handed out by roster that are out, each under the class it came by (no class: to the person), and the
 * folders directly in them; `topId` is the one that was handed out. Those kept on top come first, then those in which
 * something came in last.
 */
export function handedFolders(db: Queries, viewer: Viewer) {
  const params = accessParams(viewer);
  return rows<CountedRecord>(
    db,
    sql`with ${reachedFolders(params)},
      tops as (
        select distinct k.folder_id as id, k.reading as class_id
        from reached k join roots o on o.folder_id = k.folder_id and o.kind = k.kind and o.way_id = k.id
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
        select distinct p.id, k.path, k.reading, ${notOpened(params, sql`greatest(p.added_at, v.created_at)`)} as unopened,
          greatest(p.added_at, v.created_at) as at
        from reached k join placements p on p.folder_id = k.folder_id join items i on i.id = p.item_id
          left join versions v on v.id = i.current_version_id
        where ${placementOpens(sql`p`, sql`k`, params)}),
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

/** What is on the page of somebody besides what came in: whether they want a mail each day, and how many classes they are asked to join. */
export async function ownNotes(
  db: Queries,
  personId: string | null,
): Promise<Pick<NewThings, 'digest' | 'joinRequests'>> {
  const [found] = await rows<Pick<NewThings, 'digest' | 'joinRequests'>>(
    db,
    sql`select case when p.email is not null then p.digest end as digest, (
        select count(*)::int from join_requests r where r.person_id = p.id and r.answer is null) as "joinRequests"
      from people p where p.id = ${personId}::uuid`,
  );
  return found ?? { digest: null, joinRequests: 0 };
}

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
