import type { Colour, ReachItem, RecordedOpening } from '@sammlung/contract';
import type { ItemOpening } from '@sammlung/core';
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

/** The newest items of those at the `placed` placements, and how many there are. */
const newestItems = (placed: SQL, limit: number) => sql`
  at_placements as materialized (
    select distinct on (p.item_id) p.id, p.item_id, p.folder_id, p.added_at from placements p
    where p.id in ${placed} order by p.item_id, p.added_at desc)
  select p.id as "placementId", i.id as "itemId", i.kind, i.title, i.extension, v.number as version, f.title as folder,
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
          where f.path @> array[${folderId}::uuid] and f.binned_at is null and q.binned_at is null)`,
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
          limit,
        )}`,
    ),
  );
}

/** The item at a placement. */
export async function itemAt(db: Queries, placementId: string): Promise<ReachedItem | undefined> {
  const found = await rows<Newest>(
    db,
    sql`with ${newestItems(sql`(select ${placementId}::uuid)`, 1)}`,
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

/** The names of these people. */
export async function namesOf(
  db: Queries,
  personIds: readonly string[],
): Promise<ReadonlyMap<string, string>> {
  const found = await rows<{ id: string; name: string }>(
    db,
    sql`select id, name from people where id = any (${uuids(personIds)})`,
  );
  return new Map(found.map(({ id, name }) => [id, name]));
}

/** Those of the classes to which these people belong at `t`, in the order of their codes. */
export function classesOfPeople(
  db: Queries,
  personIds: readonly string[],
  among: { readonly classIds: readonly string[]; readonly courseIds: readonly string[] },
  t: number,
): Promise<ClassOf[]> {
  return rows<ClassOf>(
    db,
    sql`select distinct m.person_id as "personId", c.id, c.course_id as "courseId", c.code, c.colour, c.code collate natural_order as sorted
      from memberships m join classes c on c.id = m.class_id
      where m.person_id = any (${uuids(personIds)}) and ${inSpan(sql`m`, at(t))}
        and (c.id = any (${uuids(among.classIds)}) or c.course_id = any (${uuids(among.courseIds)}))
      order by sorted, c.id`,
  );
}

const STATES = ['earlier', 'opened', 'downloaded'] as const;
/** More days than anything is told of. */
const DAYS = 1000;

/** What has been opened of one item. */
export interface OpenedItem {
  /** By those who were asked for, by their places in the list. */
  readonly openings: Omit<ItemOpening, 'item'>[];
  /** How many other students opened it. */
  readonly others: number;
  readonly byLink: ReachItem['byLink'];
}

/** When openings count: from `since` on; days are counted from that one, in the school’s time zone. */
export interface Counted {
  readonly since: number;
  readonly timeZone: string;
}

/**
 * What has been opened of some items, in their order. What each of these people did is put together in the database, as numbers: of
 * thousands of people and hundreds of things it would be too many rows.
 */
export async function openingsOf(
  db: Queries,
  itemIds: readonly string[],
  personIds: readonly string[],
  { since, timeZone }: Counted,
): Promise<OpenedItem[]> {
  const day = (t: SQL) =>
    sql`((${t} at time zone ${timeZone})::date - (${at(since)} at time zone ${timeZone})::date)`;
  const found = await rows<{
    place: number;
    pairs: string | null;
    others: number;
    opened: number;
    downloaded: number;
  }>(
    db,
    sql`with wanted as materialized (
        select i.id, x.place, i.current_version_id, p.id as placement_id
        from unnest(${uuids(itemIds)}) with ordinality x (id, place) join items i on i.id = x.id join placements p on p.item_id = i.id),
      readers as materialized (
        select id, place from unnest(${uuids(personIds)}) with ordinality x (id, place)),
      pairs as (
        select w.place, o.person_id,
          bool_or(o.version_id is not distinct from w.current_version_id) as newest,
          bool_or(o.kind = 'downloaded' and o.version_id is not distinct from w.current_version_id) as downloaded,
          min(o.at) as first_at, max(o.at) as last_at
        from wanted w join openings o on o.placement_id = w.placement_id
        where o.person_id is not null and o.kind <> 'marked' and o.at >= ${at(since)}
        group by 1, 2),
      by_people as (
        select pairs.place, '[' || string_agg((readers.place - 1) || ',' || (
            (case when downloaded then 2 when newest then 1 else 0 end * ${DAYS} + ${day(sql`first_at`)}) * ${DAYS} + ${day(sql`last_at`)})
            , ',') filter (where readers.id is not null) || ']' as pairs,
          count(people.id)::int as others
        from pairs left join readers on readers.id = pairs.person_id
          left join people on readers.id is null and people.id = pairs.person_id and people.kind = 'student'
        group by 1),
      by_link as (
        select w.place, count(*) filter (where o.kind = 'opened')::int as opened, count(*) filter (where o.kind = 'downloaded')::int as downloaded
        from wanted w join openings o on o.placement_id = w.placement_id
        where o.person_id is null and o.at >= ${at(since)} group by 1)
      select place::int as place, pairs, coalesce(others, 0) as others, coalesce(opened, 0) as opened, coalesce(downloaded, 0) as downloaded
      from by_people full join by_link using (place)`,
  );
  const byPlace = new Map(found.map((row) => [row.place, row]));
  return itemIds.map((_, n) => {
    const row = byPlace.get(n + 1);
    return {
      openings: decode(row?.pairs ?? '[]'),
      others: row?.others ?? 0,
      byLink: { opened: row?.opened ?? 0, downloaded: row?.downloaded ?? 0 },
    };
  });
}

function decode(pairs: string): Omit<ItemOpening, 'item'>[] {
  const numbers = JSON.parse(pairs) as number[];
  const found: Omit<ItemOpening, 'item'>[] = [];
  for (let n = 0; n < numbers.length; n += 2) {
    const [person, code] = [numbers[n]!, numbers[n + 1]!];
    found.push({
      person,
      state: STATES[Math.floor(code / (DAYS * DAYS))]!,
      firstDay: Math.floor(code / DAYS) % DAYS,
      lastDay: code % DAYS,
    });
  }
  return found;
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
