import type { CarryClass, StaleMark } from '@sammlung/contract';
import type { ReleaseRule } from '@sammlung/core';
import { sql, type SQL } from 'drizzle-orm';
import { ms, rows, uuids, type Queries } from '../../db/database.ts';
import { active } from '../../domain/people.ts';
import { firstPlace } from '../../domain/grants.ts';
import { ruleOf, releaseColumns, type ReleaseRow } from '../../domain/access/load-library.ts';
import { OUTSIDE_BIN } from '../../domain/access/year-folders.ts';
import { MARK_IS_OPEN, type CarryOverRecord } from '../../domain/carry-overs.ts';
import type { SignedIn } from '../../platform/sessions.ts';

/** A class that somebody teaches, in whichever year. */
export type TaughtClass = CarryClass & { yearId: string; courseId: string };

/** The classes that somebody teaches, closed years too, with how much is on their pages. */
export function taughtClasses(db: Queries, personId: string) {
  return rows<
    TaughtClass & {
      entries: number;
      boxes: { id: string; title: string }[];
    }
  >(
    db,
    sql`select c.id, c.code, c.colour, k.title as course, k.id as "courseId", c.year_id as "yearId",
        (select count(*)::int from appearances a where a.class_id = c.id and a.taken_back_at is null) as entries,
        coalesce((select json_agg(json_build_object('id', b.id, 'title', b.title) order by b.created_at, b.id) from boxes b
          where b.class_id = c.id and b.removed_at is null), '[]') as boxes
      from course_teachers x join courses k on k.id = x.course_id and k.removed_at is null
        join classes c on c.course_id = k.id and c.removed_at is null
      where x.person_id = ${personId}::uuid order by k.title collate natural_order, c.code collate natural_order, c.id`,
  );
}

/** A folder to carry over, with the classes to which it is handed out itself. */
export interface SourceFolder {
  readonly id: string;
  readonly parentId: string | null;
  readonly title: string;
  readonly position: number;
  readonly release: ReleaseRule;
}

/** These folders of a person with all below them that is not in the Bin. */
export async function foldersToCarry(
  db: Queries,
  tops: readonly string[],
): Promise<SourceFolder[]> {
  const found = await rows<Omit<SourceFolder, 'release'> & ReleaseRow>(
    db,
    sql`select f.id, f.parent_id as "parentId", f.title, f.position, ${releaseColumns('f', 'folder_id')}
      from folders f where f.path && ${uuids(tops)} and ${OUTSIDE_BIN} order by cardinality(f.path), f.position, f.id`,
  );
  return found.map((row) => ({ ...row, release: ruleOf(row) }));
}

export interface SourcePlacement {
  readonly id: string;
  readonly folderId: string;
  readonly release: ReleaseRule;
  readonly itemId: string;
  readonly ownerId: string;
  readonly kind: 'file' | 'link' | 'page';
  readonly title: string;
  readonly extension: string;
  readonly lessonDate: string | null;
  readonly nameKey: string;
  readonly hash: string | null;
}

/** What is in folders, the Bin left out. */
export async function placementsToCarry(
  db: Queries,
  folderIds: readonly string[],
): Promise<SourcePlacement[]> {
  const found = await rows<Omit<SourcePlacement, 'release'> & ReleaseRow>(
    db,
    sql`select p.id, p.folder_id as "folderId", p.item_id as "itemId", i.owner_id as "ownerId", i.kind, i.title, i.extension,
        i.lesson_date::text as "lessonDate", p.name_key as "nameKey", v.hash, ${releaseColumns('p', 'placement_id')}
      from placements p join items i on i.id = p.item_id left join versions v on v.id = i.current_version_id
      where p.folder_id = any (${uuids(folderIds)}) and p.binned_at is null order by p.folder_id, p.position, p.id`,
  );
  return found.map((row) => ({ ...row, release: ruleOf(row) }));
}

/** To which classes folders are handed out: each by itself, and the topmost ones by those above them too. */
export function classesWith(db: Queries, folderIds: readonly string[], tops: readonly string[]) {
  return rows<{ folderId: string; classId: string }>(
    db,
    sql`select distinct f.id as "folderId", c.id as "classId" from folders f
        join grants g on g.folder_id = any (f.path) and (g.folder_id = f.id or f.id = any (${uuids(tops)}))
        join classes c on c.id = g.class_id or c.course_id = g.course_id
      where f.id = any (${uuids(folderIds)}) and g.taken_back_at is null and g.appearance_id is null and c.removed_at is null`,
  );
}

/** What there is in folders: the keys of the names of folders and of things. */
export async function takenIn(db: Queries, folderIds: readonly string[]) {
  const ids = uuids(folderIds);
  const [below, within] = await Promise.all([
    rows<{ folderId: string; key: string }>(
      db,
      sql`select parent_id as "folderId", name_key as key from folders where parent_id = any (${ids}) and binned_at is null`,
    ),
    rows<{ folderId: string; key: string }>(
      db,
      sql`select folder_id as "folderId", name_key as key from placements
        where folder_id = any (${ids}) and binned_at is null`,
    ),
  ]);
  return { folders: below, things: within };
}

/** What folders are called. */
export async function titlesOf(db: Queries, folderIds: readonly string[]) {
  const found = await rows<{ id: string; title: string }>(
    db,
    sql`select id, title from folders where id = any (${uuids(folderIds)})`,
  );
  return new Map(found.map(({ id, title }) => [id, title]));
}

/** The entries on pages of classes, as they are ordered there, with their things. */
export function entriesToCarry(db: Queries, classIds: readonly string[]) {
  return rows<{
    id: string;
    entryId: string;
    classId: string;
    headingId: string | null;
    keepOnTop: boolean;
    fromAt: number | null;
    untilAt: number | null;
    forSome: boolean;
    title: string;
    text: string;
    things: { kind: 'folder' | 'placement'; id: string }[];
  }>(
    db,
    sql`select a.id, a.entry_id as "entryId", a.class_id as "classId", h.id as "headingId", a.keep_on_top as "keepOnTop",
        ${ms(sql`a.from_at`)} as "fromAt", ${ms(sql`a.until_at`)} as "untilAt", a.for_some as "forSome", e.title, e.text,
        coalesce((select json_agg(json_build_object('kind', case when t.folder_id is null then 'placement' else 'folder' end,
          'id', coalesce(t.folder_id, t.placement_id)) order by t.position) from entry_things t where t.entry_id = e.id), '[]') as things
      from appearances a join entries e on e.id = a.entry_id left join headings h on h.id = a.heading_id and h.removed_at is null
      where a.class_id = any (${uuids(classIds)}) and a.taken_back_at is null order by a.class_id, a.position, a.id`,
  );
}

export function headingsToCarry(db: Queries, classIds: readonly string[]) {
  return rows<{
    id: string;
    classId: string;
    title: string;
    mark: string | null;
    colour: CarryClass['colour'] | null;
  }>(
    db,
    sql`select id, class_id as "classId", title, mark, colour from headings
      where class_id = any (${uuids(classIds)}) and removed_at is null order by class_id, position, id`,
  );
}

export function boxesToCarry(db: Queries, ids: readonly string[]) {
  return rows<{
    id: string;
    classId: string;
    title: string;
    text: string;
    endsAt: number | null;
    takesLate: boolean;
  }>(
    db,
    sql`select id, class_id as "classId", title, text, ${ms(sql`ends_at`)} as "endsAt", takes_late as "takesLate" from boxes
      where id = any (${uuids(ids)}) and removed_at is null order by created_at, id`,
  );
}

/** What is written in contents, as far as it was read. */
export function textsOf(db: Queries, schoolId: string, hashes: readonly string[], most: number) {
  return rows<{ hash: string; body: string }>(
    db,
    sql`select hash, left(body, ${most}) as body from texts where school_id = ${schoolId}::uuid
      and hash = any (${sql.param([...hashes])}::text[])`,
  );
}

/** The marks of what was carried over that are open, and that the person can still reach. */
export function openMarks(db: Queries, carryOverId: string, most: number) {
  return rows<StaleMark & { itemId: string }>(
    db,
    sql`select m.id, l.id as "placementId", i.id as "itemId", i.title, i.kind, m.place, m.count, m.found, m.proposed
      from stale_marks m join items i on i.id = m.item_id
        cross join lateral (${firstPlace(sql`i.id`)}) l
      where m.carry_over_id = ${carryOverId}::uuid and ${MARK_IS_OPEN}
      order by m.place, i.title collate natural_order, m.id limit ${most}`,
  );
}

/** How many marks of each of these are open. */
export function countOpenMarks(db: Queries, carryOverIds: readonly string[]) {
  return rows<{ id: string; count: number }>(
    db,
    sql`select m.carry_over_id as id, count(*)::int as count from stale_marks m join items i on i.id = m.item_id
      where m.carry_over_id = any (${uuids(carryOverIds)}) and ${MARK_IS_OPEN}
        and exists (select from placements p where p.item_id = i.id and p.binned_at is null)
      group by m.carry_over_id`,
  );
}

/**
 * What one carrying over made and is still the person’s, where it was put: the topmost folders, what is in folders that it did not make, and the
 * handings out of these folders.
 */
export async function stillMade(
  db: Queries,
  personId: string,
  { id, grants }: Pick<CarryOverRecord, 'id' | 'grants'>,
) {
  const made = (kind: string) =>
    sql`select made_id from carried where carry_over_id = ${id}::uuid and kind = ${kind}`;
  const own = sql`f.owner_id = ${personId}::uuid`;
  const those = async (text: SQL) => (await rows<{ id: string }>(db, text)).map((one) => one.id);
  return {
    folders: await those(
      sql`select f.id from folders f where f.id in (${made('folder')}) and ${own} and f.binned_at is null
        and (f.parent_id is null or f.parent_id not in (${made('folder')}))`,
    ),
    placements: await those(
      sql`select p.id from placements p join folders f on f.id = p.folder_id and ${own}
        where p.id in (${made('placement')}) and p.binned_at is null and f.id not in (${made('folder')})`,
    ),
    grants: await those(
      sql`select g.id from grants g join folders f on f.id = g.folder_id and ${own}
        where g.id = any (${uuids(grants)}) and g.taken_back_at is null`,
    ),
  };
}

/** Whoever asked for it, as far as they may still come in: what is done later is done by the rights that they have then. */
export async function personOf(db: Queries, id: string): Promise<SignedIn | null> {
  const [found] = await rows<SignedIn & Record<string, unknown>>(
    db,
    sql`select p.id, p.name, p.kind, p.school_id as "schoolId", s.name as "schoolName", s.time_zone as "timeZone", s.sample, p.language,
        '' as "sessionId"
      from people p join schools s on s.id = p.school_id where p.id = ${id}::uuid and ${active(sql`p`)}`,
  );
  return found ?? null;
}
