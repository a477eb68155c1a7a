import type { Colour, Thing } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import { at, iso, ms, rows, uuids, type Queries } from '../../db/database.ts';
import { viewerStatement, waysInTable, type Viewer } from '../../domain/access/access-sql.ts';
import { appearsOnWebsite, outForAll } from '../../domain/class-pages.ts';
import { inSpan } from '../../domain/spans.ts';

const THINGS = sql`(
  select coalesce(json_agg(json_build_object('kind', case when x.folder_id is null then 'placement' else 'folder' end,
    'id', coalesce(x.folder_id, x.placement_id)) order by x.position), '[]')
  from entry_things x where x.entry_id = e.id)`;

/** How what is on a page is ordered: by heading, and there by hand. */
const ORDER = sql`h.position nulls first, h.id, a.position, a.id`;

/** An entry on the page of a class, as far as somebody who belongs to the class sees that it is there. */
export type SeenEntry = {
  readonly appearanceId: string;
  readonly title: string;
  readonly text: string;
  readonly at: string;
  readonly keepOnTop: boolean;
  readonly headingId: string | null;
  readonly things: readonly Thing[];
};

/** The entries on the page of a class that are out for the viewer, in their order. */
export const entriesSeen = (db: Queries, viewer: Viewer, classId: string) =>
  seen(db, viewer, { class: classId });
const seen = viewerStatement<SeenEntry>(
  (params) => sql`with ${waysInTable(params)}
    select a.id as "appearanceId", e.title, e.text, ${iso(sql`greatest(a.created_at, a.from_at)`)} as at,
      a.keep_on_top as "keepOnTop", h.id as "headingId", ${THINGS} as things
    from appearances a join entries e on e.id = a.entry_id left join headings h on h.id = a.heading_id and h.removed_at is null
    where a.class_id = ${sql.placeholder('class')}::uuid and a.taken_back_at is null and not a.held and ${inSpan(sql`a`, params.t)}
      and exists (select from ways_in k where k.kind = 'class' and k.id = a.class_id)
      and (not a.for_some or exists (
        select from appearance_people w where w.appearance_id = a.id and w.person_id = ${params.me}))
      -- Whoever looks as somebody else sees the words of colleagues only on pages that they make as well.
      and (${params.only} is null or e.owner_id = ${params.only} or exists (
        select from classes c join course_teachers k on k.course_id = c.course_id where c.id = a.class_id and k.person_id = ${params.only}))
    order by ${ORDER}`,
);

/** What is set for the page of a class; nothing is, where nobody has set anything. */
export async function settingsOf(db: Queries, classId: string) {
  const [found] = await rows<{
    numbered: boolean;
    websiteLoose: boolean;
    tells: 'nothing' | 'number' | 'titles';
    folder: { id: string; title: string } | null;
  }>(
    db,
    sql`select s.numbered, s.website_loose as "websiteLoose", s.website_tells as tells, case when f.id is not null then json_build_object('id', f.id, 'title', f.title) end as folder
      from class_pages s left join folders f on f.id = s.current_folder_id and f.binned_at is null
      where s.class_id = ${classId}::uuid`,
  );
  return found ?? { numbered: false, websiteLoose: false, tells: 'nothing' as const, folder: null };
}

/** What a class is, for its website. */
export async function classFacts(db: Queries, classId: string) {
  const [found] = await rows<{
    id: string;
    code: string;
    colour: Colour;
    course: string;
    teachers: string[];
    schoolName: string;
  }>(
    db,
    sql`select c.id, c.code, c.colour, k.title as course, s.name as "schoolName", coalesce((
        select json_agg(p.name order by p.name) from course_teachers ct join people p on p.id = ct.person_id
        where ct.course_id = k.id), '[]') as teachers
      from classes c join courses k on k.id = c.course_id join schools s on s.id = c.school_id where c.id = ${classId}::uuid`,
  );
  return found!;
}

/** The entries on the page of a class that are out for all of it, in their order, with what of them may be on its website. */
export function entriesOut(db: Queries, classId: string, t: number) {
  return rows<SeenEntry & { onWebsite: boolean; openText: boolean }>(
    db,
    sql`select a.id as "appearanceId", e.title, e.text, ${iso(sql`greatest(a.created_at, a.from_at)`)} as at,
        a.keep_on_top as "keepOnTop", h.id as "headingId", ${THINGS} as things, a.open_text as "openText",
        ${appearsOnWebsite(at(t))} as "onWebsite"
      from appearances a join entries e on e.id = a.entry_id left join headings h on h.id = a.heading_id and h.removed_at is null
      where a.class_id = ${classId}::uuid and ${outForAll(at(t))}
      order by ${ORDER}`,
  );
}

/** The same entries for those who make the page: drafts too, and what has ended. */
export function entriesEdited(db: Queries, classId: string) {
  return rows<
    SeenEntry & {
      entryId: string;
      ownerId: string;
      held: boolean;
      from: number | null;
      until: number | null;
      people: { id: string; name: string }[] | null;
      alsoOn: { id: string; code: string; colour: Colour; courseId: string }[];
    }
  >(
    db,
    sql`select a.id as "appearanceId", e.id as "entryId", e.owner_id as "ownerId", e.title, e.text,
        ${iso(sql`greatest(a.created_at, a.from_at)`)} as at, a.keep_on_top as "keepOnTop", h.id as "headingId",
        a.held, ${ms(sql`a.from_at`)} as "from", ${ms(sql`a.until_at`)} as "until", ${THINGS} as things,
        case when a.for_some then (
          select coalesce(json_agg(json_build_object('id', p.id, 'name', p.name) order by p.name), '[]')
          from appearance_people w join people p on p.id = w.person_id where w.appearance_id = a.id) end as people, (
          select coalesce(json_agg(json_build_object('id', c.id, 'code', c.code, 'colour', c.colour, 'courseId', c.course_id) order by c.code), '[]')
          from appearances o join classes c on c.id = o.class_id
          where o.entry_id = e.id and o.taken_back_at is null and o.id <> a.id and c.removed_at is null) as "alsoOn"
      from appearances a join entries e on e.id = a.entry_id left join headings h on h.id = a.heading_id and h.removed_at is null
      where a.class_id = ${classId}::uuid and a.taken_back_at is null
      order by ${ORDER}`,
  );
}

/** Those of the people who belong to a class at `t`, by name; all of them where none are given. */
export function membersNow(
  db: Queries,
  classId: string,
  t: number,
  among: readonly string[] | null,
) {
  return rows<{ id: string; name: string }>(
    db,
    sql`select distinct p.id, p.name from memberships m join people p on p.id = m.person_id
      where m.class_id = ${classId}::uuid and ${inSpan(sql`m`, sql`${new Date(t).toISOString()}::timestamptz`)}
        and (${among === null} or p.id = any (${sql.param([...(among ?? [])])}::uuid[]))
      order by p.name`,
  );
}

/** On how many pages an entry is, and on how many of classes that the person teaches. */
export async function pagesWith(db: Queries, entryId: string, personId: string) {
  const [found] = await rows<{ pages: number; own: number }>(
    db,
    sql`select count(*)::int as pages, (count(*) filter (where exists (
        select from course_teachers k where k.course_id = c.course_id and k.person_id = ${personId}::uuid)))::int as own
      from appearances a join classes c on c.id = a.class_id
      where a.entry_id = ${entryId}::uuid and a.taken_back_at is null and c.removed_at is null`,
  );
  return found!;
}

/** Where an entry is on pages that the person makes: of classes that are there, that they teach, and whose year is open. */
export async function appearancesMade(
  db: Queries,
  entryId: string,
  personId: string,
): Promise<string[]> {
  const found = await rows<{ id: string }>(
    db,
    sql`select a.id from appearances a join classes c on c.id = a.class_id join years y on y.id = c.year_id
        join course_teachers k on k.course_id = c.course_id and k.person_id = ${personId}::uuid
      where a.entry_id = ${entryId}::uuid and a.taken_back_at is null and c.removed_at is null and y.closed_at is null
      order by c.id`,
  );
  return found.map(({ id }) => id);
}

/** Where the things of an entry are: the folder that one is, or in which it is; with what they are called. */
export function placesOfThings(db: Queries, entryId: string) {
  return rows<{
    folderId: string;
    placementId: string | null;
    itemId: string | null;
    title: string;
    /** A page of which nothing has been shown yet: it is held back until then. */
    unshown: boolean;
  }>(
    db,
    sql`select coalesce(x.folder_id, p.folder_id) as "folderId", x.placement_id as "placementId", p.item_id as "itemId",
        coalesce(i.title, f.title) as title, coalesce(i.kind = 'page' and i.current_version_id is null, false) as unshown
      from entry_things x left join placements p on p.id = x.placement_id left join items i on i.id = p.item_id
        left join folders f on f.id = x.folder_id where x.entry_id = ${entryId}::uuid`,
  );
}

/** The items of placements. */
export async function itemsAt(db: Queries, placementIds: readonly string[]): Promise<string[]> {
  const found = await rows<{ id: string }>(
    db,
    sql`select distinct item_id as id from placements where id = any (${uuids(placementIds)})`,
  );
  return found.map(({ id }) => id);
}

/** What is handed out to a class, or to its course, without an entry: things that open it, each once. */
export function handedAlone(db: Queries, classId: string) {
  return rows<{ kind: Thing['kind']; id: string }>(
    db,
    sql`select 'folder' as kind, g.folder_id as id from grants g join classes c on c.id = ${classId}::uuid
        join folders f on f.id = g.folder_id and f.binned_at is null
      where g.taken_back_at is null and g.appearance_id is null and (g.class_id = c.id or g.course_id = c.course_id)
      union
      select 'placement', (select p.id from placements p where p.item_id = g.item_id and p.binned_at is null order by p.added_at limit 1)
      from grants g join classes c on c.id = ${classId}::uuid
      where g.item_id is not null and g.taken_back_at is null and g.appearance_id is null
        and (g.class_id = c.id or g.course_id = c.course_id)
        and exists (select from placements p where p.item_id = g.item_id and p.binned_at is null)`,
  );
}

/** How many entries are offered to be used again. */
const OFFERED = 60;

/**
 * Entries of a teacher, and those on pages of classes that they teach or taught, that are not on the page of this class: each with
 * the class on whose page it was last; the newest first, and only those with these words in title or text where there are any.
 */
export function entriesEarlier(db: Queries, personId: string, classId: string, words: string) {
  const like = `%${words.toLowerCase().replace(/[\\%_]/gu, '\\$&')}%`;
  return rows<{
    entryId: string;
    title: string;
    text: string;
    things: Thing[];
    code: string;
    colour: Colour;
    year: string;
    firstDay: string;
    lastDay: string;
    classes: string[];
  }>(
    db,
    sql`select e.id as "entryId", e.title, e.text, ${THINGS} as things, last.code, last.colour, y.label as year,
        y.first_day::text as "firstDay", y.last_day::text as "lastDay", last.codes as classes
      from entries e cross join lateral (
        select c.code, c.colour, c.year_id, a.created_at, (
            select json_agg(distinct o.code) from appearances b join classes o on o.id = b.class_id
            where b.entry_id = e.id and o.year_id = c.year_id) as codes
        from appearances a join classes c on c.id = a.class_id
        where a.entry_id = e.id and (e.owner_id = ${personId}::uuid or exists (
          select from course_teachers k where k.course_id = c.course_id and k.person_id = ${personId}::uuid))
        order by a.created_at desc limit 1) last join years y on y.id = last.year_id
      where not exists (
          select from appearances a where a.entry_id = e.id and a.class_id = ${classId}::uuid and a.taken_back_at is null)
        and (${words} = '' or lower(e.title) like ${like} or lower(e.text) like ${like})
      order by last.created_at desc, e.id limit ${OFFERED}`,
  );
}

/** The year of a class. */
export async function yearOfClass(db: Queries, classId: string) {
  const [found] = await rows<{ firstDay: string; lastDay: string }>(
    db,
    sql`select y.first_day::text as "firstDay", y.last_day::text as "lastDay"
      from classes c join years y on y.id = c.year_id where c.id = ${classId}::uuid`,
  );
  return found!;
}
