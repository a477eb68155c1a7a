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

/** When openings count: from `since` on; days are counted from that one, in the school’s time zone. */
export interface Counted {
  readonly since: number;
  readonly timeZone: string;
}

/** What has been opened of one item besides. */
export interface OpenedBesides {
  /** How many other students opened it. */
  readonly others: number;
  readonly byLink: ReachItem['byLink'];
}

/** How many parts of the items are looked up side by side, where there are many. */
const PARTS = 2;
const MANY = 100;

/** What has been opened of some items, in their order: by these people, and besides. */
export async function openingsOf(
  db: Queries,
  itemIds: readonly string[],
  personIds: readonly string[],
  counted: Counted,
): Promise<{ openings: Openings; besides: OpenedBesides[] }> {
  const openings = new Openings(personIds.length, itemIds.length);
  const days = new Days(counted);
  const { length } = itemIds;
  const size = length > MANY ? Math.ceil(length / PARTS) : Math.max(1, length);
  const parts = Array.from({ length: Math.ceil(length / size) }, (_, n) => n * size);
  const found = await Promise.all(
    parts.map(async (from) => {
      const records = await openingRows(db, itemIds.slice(from, from + size), personIds, counted);
      for (const [n, record] of records.entries())
        addAll(openings, from + n, record.openings, days);
      return records;
    }),
  );
  const besides = found.flat().map(({ others, opened, downloaded }) => ({
    others,
    byLink: { opened, downloaded },
  }));
  return { openings, besides };
}

/** An opening as one number: who (from 1 on), how far they got, and how many minutes after `since` that was. */
const MINUTES = 10_000_000;
const STATES = ['earlier', 'opened', 'downloaded'] as const;

/**
 * The openings of items as lists of numbers: with thousands of people and hundreds of things, a row for each, or putting them together in the
 * database, takes several times as long.
 */
function openingRows(
  db: Queries,
  itemIds: readonly string[],
  personIds: readonly string[],
  { since }: Counted,
) {
  return rows<{ openings: string | null; others: number; opened: number; downloaded: number }>(
    db,
    sql`with wanted as materialized (
        select x.place, i.current_version_id, p.id as placement_id
        from unnest(${uuids(itemIds)}) with ordinality x (id, place) join items i on i.id = x.id join placements p on p.item_id = i.id),
      readers as materialized (
        select id, place from unnest(${uuids(personIds)}) with ordinality x (id, place)),
      found as materialized (
        select w.place, array_agg((r.place * ${STATES.length}
              + case when o.version_id is distinct from w.current_version_id then 0 when o.kind = 'downloaded' then 2 else 1 end) * ${MINUTES}::int8
              + floor((date_part('epoch', o.at) - ${since / 1000}::float8) / 60)::int8) filter (where r.id is not null) as openings,
          array_agg(o.person_id) filter (where o.person_id is not null and r.id is null) as others,
          count(*) filter (where o.person_id is null and o.kind = 'opened') as opened,
          count(*) filter (where o.person_id is null and o.kind = 'downloaded') as downloaded
        from wanted w join openings o on o.placement_id = w.placement_id left join readers r on r.id = o.person_id
        where o.kind <> 'marked' and o.at >= ${at(since)}
        group by 1)
      select found.openings::text, (select count(*)::int from people p where p.id = any (found.others) and p.kind = 'student') as others,
        coalesce(opened, 0)::int as opened, coalesce(downloaded, 0)::int as downloaded
      from (select distinct place from wanted) w left join found using (place)
      order by w.place`,
  );
}

function addAll(openings: Openings, item: number, found: string | null, days: Days): void {
  if (found === null) return;
  for (const number of JSON.parse(`[${found.slice(1, -1)}]`) as number[]) {
    const minutes = number % MINUTES;
    const who = (number - minutes) / MINUTES;
    const state = STATES[who % STATES.length]!;
    openings.add(Math.floor(who / STATES.length) - 1, item, state, days.of(minutes));
  }
}

/** Which day it was, so many minutes after an instant, where the school is: asked of the calendar once for each hour. */
class Days {
  readonly #since: number;
  readonly #format: Intl.DateTimeFormat;
  readonly #first: number;
  readonly #known: number[] = [];

  constructor({ since, timeZone }: Counted) {
    this.#since = since;
    this.#format = new Intl.DateTimeFormat('sv-SE', { timeZone });
    this.#first = this.#dayAt(since);
  }

  of(minutes: number): number {
    // Midnights are at whole quarters of an hour everywhere.
    const quarter = Math.floor((Math.floor(this.#since / 60_000) + minutes) / 15);
    return (this.#known[quarter - Math.floor(this.#since / 900_000)] ??=
      this.#dayAt(quarter * 900_000) - this.#first);
  }

  #dayAt(t: number): number {
    return Date.parse(`${this.#format.format(t)}T00:00:00Z`) / 86_400_000;
  }
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
