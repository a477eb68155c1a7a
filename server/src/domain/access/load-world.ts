import type { Audience, Membership, ShownDoor, Viewer, World } from '@sammlung/core';
import { inArray, sql, type SQL } from 'drizzle-orm';
import { ms, rows, uuids, type Queries } from '../../db/database.ts';
import { doors } from '../../db/schema/index.ts';
import { active } from '../people.ts';
import { loadLibrary } from './load-library.ts';

type Person = NonNullable<Viewer['person']>;

/** Ids of folders and items that a change concerns. */
export interface Scope {
  readonly folderIds: readonly string[];
  readonly itemIds: readonly string[];
}

/** The given folders with all below them, and every item that lies in these, the Bin left out. */
export async function contentsBelow(db: Queries, folderIds: readonly string[]): Promise<Scope> {
  const folders = await rows<{ id: string }>(
    db,
    sql`select id from folders where path && ${uuids(folderIds)} and binned_at is null`,
  );
  const ids = folders.map((f) => f.id);
  const items = await rows<{ id: string }>(
    db,
    sql`select distinct item_id as id from placements where folder_id = any (${uuids(ids)}) and binned_at is null`,
  );
  return { folderIds: ids, itemIds: items.map((i) => i.id) };
}

/**
 * The part of a school that decides about some folders and items, with everybody who may be reached by what is
 * handed out in it, or would be by `more`: one side of a consequence.
 */
export async function loadWorld(
  db: Queries,
  schoolId: string,
  scope: Scope,
  more: readonly { kind: string; id: string }[] = [],
) {
  const library = await loadLibrary(db, scope);
  const audiences = [...library.data.handingsOut.map((h) => h.audience), ...more];
  const idsOf = (kind: Audience['kind']) => [
    ...new Set(audiences.filter((a) => a.kind === kind).map((a) => a.id)),
  ];
  const [people, doorRows] = await Promise.all([
    peopleReached(db, schoolId, {
      classIds: idsOf('class'),
      courseIds: idsOf('course'),
      personIds: idsOf('person'),
      all: idsOf('school').length > 0,
    }),
    idsOf('door').length > 0
      ? db
          .select()
          .from(doors)
          .where(inArray(doors.id, idsOf('door')))
      : [],
  ]);
  const shown = doorRows.map(({ id, kind, schoolId: at }): ShownDoor => ({
    id,
    kind,
    schoolId: at,
  }));
  const world: World = { library, people, doors: shown };
  return { world, library, people, doorRows };
}

/** Everybody whom a handing out to these classes, courses and persons, to staff or (`all`) the school, may reach. */
function peopleReached(
  db: Queries,
  schoolId: string,
  reach: {
    classIds: readonly string[];
    courseIds: readonly string[];
    personIds: readonly string[];
    all: boolean;
  },
): Promise<Person[]> {
  return peopleWho(
    db,
    sql`p.school_id = ${schoolId}::uuid and (
      ${reach.all} or p.kind <> 'student' or p.id = any (${uuids(reach.personIds)})
      or p.id in (select m.person_id from memberships m join classes c on c.id = m.class_id
        where c.id = any (${uuids(reach.classIds)}) or c.course_id = any (${uuids(reach.courseIds)})))`,
  );
}

/** The given people with their memberships, as the rule wants to know them: in classes of closed years nobody is any more. */
export function loadPeople(db: Queries, ids: readonly string[]): Promise<Person[]> {
  return peopleWho(db, sql`p.id = any (${uuids(ids)})`);
}

async function peopleWho(db: Queries, condition: SQL): Promise<Person[]> {
  const found = await rows<{
    id: string;
    schoolId: string;
    staff: boolean;
    memberships: Membership[] | null;
    teaches: string[] | null;
  }>(
    db,
    sql`select p.id, p.school_id as "schoolId", p.kind <> 'student' as staff, (
        select json_agg(json_build_object('classId', m.class_id, 'courseId', c.course_id,
          'from', ${ms(sql`m.from_at`)}, 'until', ${ms(sql`m.until_at`)}))
        from memberships m join classes c on c.id = m.class_id join years y on y.id = c.year_id
        where m.person_id = p.id and y.closed_at is null) as memberships, (
        select json_agg(c.id) from course_teachers y join classes c on c.course_id = y.course_id
        where y.person_id = p.id and c.removed_at is null) as teaches
      from people p where ${active(sql`p`)} and ${condition}`,
  );
  return found.map((p) => ({ ...p, memberships: p.memberships ?? [], teaches: p.teaches ?? [] }));
}
