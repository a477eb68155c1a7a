import type { Added, Flag, RemovedByOther, RequestView, ScheduledChange } from '@sammlung/contract';
import { sql, type SQL } from 'drizzle-orm';
import { at, iso, rows, type Queries } from '../../db/database.ts';
import { inSpan, notOver } from '../../domain/spans.ts';
import { firstPlace } from '../../domain/grants.ts';
import { LAST_PLACE } from '../../domain/bin.ts';

/** Every folder and placement of a person that is not in the Bin, with its title and the folder it lies in. */
const things = (ownerId: string) => sql`
  binned as materialized (select array_agg(id) as ids from folders where owner_id = ${ownerId}::uuid and binned_at is not null),
  mine as materialized (
    select f.* from folders f cross join binned
    where f.owner_id = ${ownerId}::uuid and not coalesce(f.path && binned.ids, false)),
  things as (
    select 'folder' as kind, f.id, f.id as folder_id, null::uuid as item_id, f.title, u.title as place, f.held, f.from_at, f.until_at
      from mine f left join mine u on u.id = f.parent_id
    union all
    select 'placement', p.id, p.folder_id, p.item_id, i.title, f.title, p.held, p.from_at, p.until_at
      from mine f join placements p on p.folder_id = f.id and p.binned_at is null join items i on i.id = p.item_id)`;

type ScheduledChangeRow = Omit<ScheduledChange, 'thing' | 'for'> & {
  kind: 'folder' | 'placement';
  id: string;
  label: string | null;
  colour: ScheduledChange['for'][number]['colour'];
};

/** What of a person's things goes out or ends between two instants, soonest first. */
export function scheduledChanges(db: Queries, ownerId: string, from: number, until: number) {
  const soon = (column: SQL) => sql`${column} > ${at(from)} and ${column} <= ${at(until)}`;
  return rows<ScheduledChangeRow>(
    db,
    sql`with ${things(ownerId)},
      scheduled as (
        select x.*, null::text as label, null::colour as colour, w.what, w.at
          from things x, lateral (values ('out', x.from_at), ('ends', x.until_at)) w (what, at) where not x.held
        union all
        select x.*, c.code, c.colour, w.what, w.at
          from things x join class_releases r on r.folder_id = x.id or r.placement_id = x.id join classes c on c.id = r.class_id,
            lateral (values ('out', r.from_at), ('ends', r.until_at)) w (what, at) where not r.held
        union all
        select x.*, coalesce(c.code, k.title, p.name, ''), coalesce(c.colour, k.colour), w.what, w.at
          from things x join grants g on g.taken_back_at is null and (g.folder_id = x.id or g.item_id = x.item_id)
            left join classes c on c.id = g.class_id left join courses k on k.id = g.course_id left join people p on p.id = g.person_id,
            lateral (values ('out', g.from_at), ('ends', g.until_at)) w (what, at)
        union all
        select x.*, '', null, 'ends', d.until_at
          from things x join doors d on d.closed_at is null and (d.folder_id = x.id or d.item_id = x.item_id))
      select kind, id, title, place, label, colour, what, ${iso(sql`at`)} as at from scheduled
      where ${soon(sql`at`)} order by scheduled.at, title collate natural_order limit 200`,
  );
}

type RequestRow = Omit<RequestView, 'thing' | 'person'> & {
  folderId: string | null;
  placementId: string | null;
  name: string;
  personKind: RequestView['person']['kind'];
};

/** The requests that wait for a person's answer, oldest first. */
export function requestsTo(db: Queries, ownerId: string) {
  return rows<RequestRow>(
    db,
    sql`select r.id, coalesce(p.name, r.visitor_name) as name, coalesce(p.kind::text, 'visitor') as "personKind",
        r.visitor_email as email, r.folder_id as "folderId", (
          ${firstPlace(sql`r.item_id`)}) as "placementId",
        coalesce(f.title, i.title) as title, r.message, ${iso(sql`r.created_at`)} as "askedAt",
        coalesce((select json_agg(distinct jsonb_build_object('id', c.id, 'code', c.code, 'colour', c.colour))
          from memberships m join classes c on c.id = m.class_id join course_teachers t on t.course_id = c.course_id
          where m.person_id = p.id and t.person_id = ${ownerId}::uuid and c.removed_at is null
            and ${notOver(sql`m`, sql`now()`)}), '[]') as classes
      from requests r left join people p on p.id = r.person_id
        left join folders f on f.id = r.folder_id left join items i on i.id = r.item_id
      where r.answer is null and coalesce(f.owner_id, i.owner_id) = ${ownerId}::uuid
      order by r.created_at limit 100`,
  );
}

type FlagRow = Omit<Flag, 'thing' | 'word'> & {
  thingKind: 'folder' | 'placement' | null;
  id: string | null;
};

/**
 * What may want a look: folders and items that are open to all, folders handed out to audiences in which there is
 * nobody, those handed out that a hold or an end keeps from every class, things still held back a week after the day
 * of their lesson, and classes that have nothing.
 */
export function flagsOf(db: Queries, ownerId: string, t: number) {
  return rows<FlagRow>(
    db,
    sql`with ${things(ownerId)},
      here as (select m.class_id, c.course_id from memberships m join classes c on c.id = m.class_id
        where ${inSpan(sql`m`, at(t))})
      select 'public' as kind, x.kind as "thingKind", x.id, null::uuid as "classId", x.title
        from things x join doors d on d.kind = 'public' and d.closed_at is null and ${notOver(sql`d`, at(t))}
          and (d.folder_id = x.id or d.item_id = x.item_id)
      union all
      select 'nobody', x.kind, x.id, null, x.title
        from things x join grants g on g.folder_id = x.id and g.taken_back_at is null and ${notOver(sql`g`, at(t))}
          left join mine f on f.id = x.id left join years y on y.id = f.year_id
        where y.closed_at is null
        group by x.kind, x.id, x.title
        having bool_and(g.audience_kind in ('class', 'course')) and not bool_or(exists (
          select from here where here.class_id = g.class_id or here.course_id = g.course_id))
      union all
      select distinct 'shut', 'folder', f.id, null::uuid, f.title
        from mine f join grants g on g.folder_id = f.id and g.audience_kind in ('class', 'course') and g.taken_back_at is null
          and ${notOver(sql`g`, at(t))}
          left join years y on y.id = f.year_id
        where y.closed_at is null and exists (
          select from folders n where n.id = any (f.path) and (n.held or n.until_at <= ${at(t)})
            and not exists (select from class_releases r where r.folder_id = n.id))
      union all
      select 'held-long', x.kind, x.id, null, x.title
        from things x join items i on i.id = x.item_id
        where x.held and i.lesson_date < (${at(t)} - interval '7 days')::date
          and exists (select from grants g join mine f on f.id = x.folder_id where g.folder_id = any (f.path) and g.taken_back_at is null)
      union all
      select 'empty-class', null, null, c.id, c.code
        from course_teachers ct join classes c on c.course_id = ct.course_id join years y on y.id = c.year_id
        where ct.person_id = ${ownerId}::uuid and y.closed_at is null and c.removed_at is null
          and not exists (select from grants g where g.taken_back_at is null and (g.class_id = c.id or g.course_id = c.course_id))
      limit 100`,
  );
}

type AddedRow = Omit<Added, 'thing' | 'folder'> & {
  id: string;
  folderId: string;
  folderTitle: string;
};

/** What came last into a person's library, by whom where it was somebody else. */
export function lastAdded(db: Queries, ownerId: string, limit: number) {
  return rows<AddedRow>(
    db,
    sql`with ${things(ownerId)}
      select p.id, i.title, f.id as "folderId", f.title as "folderTitle",
        case when p.added_by <> ${ownerId}::uuid then b.name end as "byName", ${iso(sql`p.added_at`)} as at
      from mine f join placements p on p.folder_id = f.id and p.binned_at is null join items i on i.id = p.item_id
        join people b on b.id = p.added_by
      order by p.added_at desc, i.title limit ${limit}`,
  );
}

type RemovedRow = Omit<RemovedByOther, 'thing'> & { kind: 'folder' | 'placement'; id: string };

/** What somebody else has removed of a person's things, and that is in their Bin: newest first. */
export function removedByOthers(db: Queries, ownerId: string, limit: number) {
  return rows<RemovedRow>(
    db,
    sql`select x.kind, x.id, x.title, b.name as "byName", x.items, ${iso(sql`x.binned_at`)} as at from (
        select 'folder' as kind, f.id, f.title, f.binned_by, f.binned_at, (
          select count(*)::int from folders b join placements p on p.folder_id = b.id
          where b.path @> array[f.id] and p.binned_at is null) as items
        from folders f where f.owner_id = ${ownerId}::uuid and f.binned_at is not null
        union all
        select 'placement', p.id, i.title, p.binned_by, p.binned_at, 0
        from placements p join items i on i.id = p.item_id where i.owner_id = ${ownerId}::uuid and ${LAST_PLACE}) x
      join people b on b.id = x.binned_by
      where x.binned_by <> ${ownerId}::uuid order by x.binned_at desc, x.title limit ${limit}`,
  );
}
