import type { Colour, ReachItem, RecordedOpening } from '@sammlung/contract';
import { Openings } from '@sammlung/core';
import { sql, type SQL } from 'drizzle-orm';
import { at, iso, rows, uuids, type Queries } from '../../db/database.ts';
import {
  accessParams,
  placementOut,
  seesPlacement,
  waysInTable,
  type Viewer,
} from '../../domain/access/access-sql.ts';
import { reachedFolders, RELEASED } from '../../domain/access/reached.ts';
import { inSpan } from '../../domain/spans.ts';

/** An item whose reach is told, where it is. */
export type ReachedItem = Pick<
  ReachItem,
  'placementId' | 'itemId' | 'kind' | 'title' | 'extension' | 'version' | 'folder'
>;

/** The newest items of those at the `placed` placements, and how many there are; `folder` is what the folder `f` of one is called. */
const newestItems = (placed: SQL, folder: SQL, limit: number) => sql`
  at_placements as materialized (
    select distinct on (p.item_id) p.id, p.item_id, p.folder_id, p.added_at from placements p
    where p.id in ${placed} order by p.item_id, p.added_at desc)
  select p.id as "placementId", i.id as "itemId", i.kind, i.title, i.extension, v.number as version, ${folder} as folder,
      (count(*) over ())::int as all
    from at_placements p join items i on i.id = p.item_id join folders f on f.id = p.folder_id
      left join versions v on v.id = i.current_version_id
    order by p.added_at desc, i.title collate natural_order limit ${limit}`;

type Newest = ReachedItem & { all: number };
const split = (found: Newest[]) => ({
  items: found.map(({ all: _, ...item }) => item),
  all: found[0]?.all ?? 0,
});

/** The newest items in a folder and below, and how many there are. */
export async function itemsBelow(db: Queries, folderId: string, limit: number) {
  return split(
    await rows<Newest>(
      db,
      sql`with ${newestItems(
        sql`(select q.id from folders f join placements q on q.folder_id = f.id
          where f.path @> array[${folderId}::uuid] and q.binned_at is null
            and not exists (select from folders n where n.id = any (f.path) and n.binned_at is not null))`,
        sql`f.title`,
        limit,
      )}`,
    ),
  );
}

/** The newest items that a class has, which the viewer looks as, and how many there are. */
export async function itemsOfClass(db: Queries, viewer: Viewer, limit: number) {
  const params = accessParams(viewer);
  return split(
    await rows<Newest>(
      db,
      sql`with recursive ${reachedFolders(params, sql`null::uuid[]`)},
        ${newestItems(
          sql`(select p.id from reached k join placements p on p.folder_id = k.folder_id ${RELEASED}
              where ${placementOut(sql`p`, sql`k`, params)}
            union
            select p.id from roots k join placements p on p.item_id = k.item_id join folders f on f.id = p.folder_id
              where ${seesPlacement(sql`p`, sql`f`, params)})`,
          // Where an item is handed out by itself, its folder is not for the class to know.
          sql`case when f.id in (select folder_id from reached) then f.title else '' end`,
          limit,
        )}`,
    ),
  );
}

/** The item at a placement, without the name of its folder. */
export async function itemAt(db: Queries, placementId: string): Promise<ReachedItem | undefined> {
  const found = await rows<Newest>(
    db,
    sql`with ${newestItems(sql`(select ${placementId}::uuid)`, sql`''`, 1)}`,
  );
  return split(found).items[0];
}

/** A class to which somebody belongs at `t`. */
export type ClassOf = {
  personId: string;
  id: string;
  courseId: string;
  code: string;
  colour: Colour;
};

/** The names of these people, and the numbers by which openings know them. */
export async function namesOf(
  db: Queries,
  personIds: readonly string[],
): Promise<ReadonlyMap<string, { name: string; number: number }>> {
  const found = await rows<{ id: string; name: string; number: number }>(
    db,
    sql`select id, name, number from people where id = any (${uuids(personIds)})`,
  );
  return new Map(found.map((person) => [person.id, person]));
}

/** Those of the classes to which these people belong at `t`, in no order. */
export function classesOfPeople(
  db: Queries,
  personIds: readonly string[],
  among: { readonly classIds: readonly string[]; readonly courseIds: readonly string[] },
  t: number,
): Promise<ClassOf[]> {
  return rows<ClassOf>(
    db,
    sql`select distinct m.person_id as "personId", c.id, c.course_id as "courseId", c.code, c.colour
      from memberships m join classes c on c.id = m.class_id
      where m.person_id = any (${uuids(personIds)}) and ${inSpan(sql`m`, at(t))}
        and (c.id = any (${uuids(among.classIds)}) or c.course_id = any (${uuids(among.courseIds)}))`,
  );
}

/** When openings count: from `since` on, before `until`; days are counted from the first, in the school’s time zone. */
export interface Counted {
  readonly since: number;
  readonly until: number;
  readonly timeZone: string;
}

/** What has been opened of one item. */
export interface OpenedItem {
  /** Lists of how far (a place in `STATES`), on which day, and by whom: by any number of people, by their numbers. */
  readonly days: readonly (readonly number[])[];
  readonly byLink: ReachItem['byLink'];
}

const STATES = ['earlier', 'opened', 'downloaded'] as const;

/** What people opened from one instant to another: with both, so that PostgreSQL expects few and looks them up by the time. */
const openedBetween = (from: SQL, until: SQL) => sql`
  select o.placement_id, o.version_id, o.person_id, o.kind, o.at from openings o
  where o.at >= ${from} and o.at < ${until} and o.kind <> 'marked' and o.person_id is not null`;

/**
 * What has been opened of some items, in their order. Most of it has been put together by day; the day on which counting began is looked at
 * opening by opening, and so is what came since then.
 */
export async function openingsOf(
  db: Queries,
  itemIds: readonly string[],
  { since, until, timeZone }: Counted,
): Promise<OpenedItem[]> {
  const dayOf = (t: SQL) => sql`(${t} at time zone ${timeZone})::date`;
  const found = await rows<{ days: string | null; opened: number; downloaded: number }>(
    db,
    sql`with wanted as materialized (
        select x.place, i.current_version_id, p.id as placement_id
        from unnest(${uuids(itemIds)}) with ordinality x (id, place) join items i on i.id = x.id join placements p on p.item_id = i.id),
      bounds as materialized (
        select ${dayOf(at(since))} as first_day, full_day, greatest(full_day, openings_packed_until) as packed_until
        from schools cross join lateral (select (${dayOf(at(since))} + 1)::timestamp at time zone ${timeZone} as full_day) x
        where schools.id = (select school_id from placements where id = (select placement_id from wanted limit 1))),
      singly as materialized (
        ${openedBetween(at(since), sql`(select full_day from bounds)`)}
        union all
        ${openedBetween(sql`(select packed_until from bounds)`, at(until))}),
      days as (
        select w.place, d.version_id is distinct from w.current_version_id as earlier, d.kind, d.day, d.people
        from bounds cross join wanted w join opening_days d on d.placement_id = w.placement_id
        where d.day > bounds.first_day and bounds.packed_until > bounds.full_day
        union all
        select w.place, o.version_id is distinct from w.current_version_id, o.kind, ${dayOf(sql`o.at`)}, array_agg(q.number)
        from wanted w join singly o on o.placement_id = w.placement_id join people q on q.id = o.person_id
        group by 1, 2, 3, 4),
      by_people as (
        select place, '[' || string_agg('[' || (case when earlier then 0 when kind = 'downloaded' then 2 else 1 end) || ','
            || (day - (select first_day from bounds)) || ',' || array_to_string(people, ',') || ']', ',') || ']' as days
        from days group by 1),
      by_link as (
        select w.place, (count(*) filter (where o.kind = 'opened'))::int as opened, (count(*) filter (where o.kind = 'downloaded'))::int as downloaded
        from wanted w join openings o on o.placement_id = w.placement_id
        where o.person_id is null and o.at >= ${at(since)} group by 1)
      select days, coalesce(opened, 0) as opened, coalesce(downloaded, 0) as downloaded
      from (select distinct place from wanted) w left join by_people using (place) left join by_link using (place)
      order by w.place`,
  );
  return found.map(({ days, ...byLink }) => ({
    days: days === null ? [] : (JSON.parse(days) as number[][]),
    byLink,
  }));
}

/** Notes what these people, given by their numbers, have opened of the items; what others have, comes back: their numbers, by item. */
export function addAll(
  openings: Openings,
  found: readonly OpenedItem[],
  numbers: readonly number[],
): ReadonlySet<number>[] {
  const places = new Int32Array(Math.max(0, ...numbers) + 1).fill(NOBODY);
  numbers.forEach((number, place) => (places[number] = place));
  return found.map(({ days }, item) => {
    const others = new Set<number>();
    for (const [state, day, ...people] of days) {
      const known: number[] = [];
      for (let n = 0; n < people.length; n += 1) {
        const place = places[people[n]!];
        if (place === undefined || place === NOBODY) others.add(people[n]!);
        else known.push(place);
      }
      openings.add(known, item, STATES[state!]!, day!);
    }
    return others;
  });
}
const NOBODY = -1;

/** How many of these people are students. */
export async function countStudents(db: Queries, numbers: ReadonlySet<number>): Promise<number> {
  const [found] = await rows<{ count: number }>(
    db,
    sql`select count(*)::int as count from people where kind = 'student' and number = any (${sql.param([...numbers])}::int[])`,
  );
  return found!.count;
}

/** What somebody did with one item: the newest version they have opened, when they first did, and when they downloaded the newest one there is. */
export type OpenedBy = {
  personId: string;
  version: number | null;
  openedAt: string;
  downloadedAt: string | null;
};

export function openedBy(
  db: Queries,
  itemId: string,
  personIds: readonly string[],
  since: number,
): Promise<OpenedBy[]> {
  return rows<OpenedBy>(
    db,
    sql`select o.person_id as "personId", max(v.number) as version,
        ${iso(sql`(array_agg(o.at order by v.number desc nulls last, o.at))[1]`)} as "openedAt",
        ${iso(sql`min(o.at) filter (where o.kind = 'downloaded' and o.version_id is not distinct from i.current_version_id)`)} as "downloadedAt"
      from items i join placements p on p.item_id = i.id join openings o on o.placement_id = p.id
        left join versions v on v.id = o.version_id
      where i.id = ${itemId}::uuid and o.person_id = any (${uuids(personIds)}) and o.kind <> 'marked' and o.at >= ${at(since)}
      group by 1`,
  );
}

/** How often an item was opened before openings became counts. */
export async function countedEarlier(db: Queries, itemId: string) {
  const [found] = await rows<{ people: number; visitors: number }>(
    db,
    sql`select coalesce(sum(x.count) filter (where not x.visitors), 0)::int as people,
        coalesce(sum(x.count) filter (where x.visitors), 0)::int as visitors
      from opening_counts x join placements p on p.id = x.placement_id
      where p.item_id = ${itemId}::uuid and x.kind = 'opened'`,
  );
  return found!;
}

/** What a person has opened themselves, newest first, older than the opening `before`; what they do not see any more has no name. */
export function recordedOf(
  db: Queries,
  viewer: Viewer,
  { before, limit }: { before: number | null; limit: number },
): Promise<RecordedOpening[]> {
  const params = accessParams(viewer);
  return rows<RecordedOpening>(
    db,
    sql`with ${waysInTable(params)},
      own as materialized (
        select o.id, o.kind, o.at, o.placement_id, o.version_id from openings o
        where o.person_id = ${params.me} and o.kind <> 'marked' and (${before}::bigint is null or o.id < ${before}::bigint)
        order by o.id desc limit ${limit})
      select own.id::float8 as id, own.kind, ${iso(sql`own.at`)} as at, v.number as version,
        case when seen.yes then i.title end as title, case when seen.yes then p.id end as "placementId"
      from own join placements p on p.id = own.placement_id join folders f on f.id = p.folder_id join items i on i.id = p.item_id
        left join versions v on v.id = own.version_id
        cross join lateral (select ${seesPlacement(sql`p`, sql`f`, params)} as yes) seen
      order by own.id desc`,
  );
}
