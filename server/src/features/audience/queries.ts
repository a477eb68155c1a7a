import type { Membership, Viewer } from '@sammlung/core';
import { sql } from 'drizzle-orm';
import { at, ms, rows, uuids, type Queries } from '../../db/database.ts';

export type Person = NonNullable<Viewer['person']>;

/** The folders below a folder and every item that lies in them, the Bin left out. */
export async function contentsBelow(db: Queries, folderId: string) {
  const folders = await rows<{ id: string }>(
    db,
    sql`select id from folders where path @> array[${folderId}::uuid] and binned_at is null`,
  );
  const folderIds = folders.map((f) => f.id);
  const items = await rows<{ id: string }>(
    db,
    sql`select distinct item_id as id from placements where folder_id = any (${uuids(folderIds)}) and binned_at is null`,
  );
  return { folderIds, itemIds: items.map((i) => i.id) };
}

/** The classes of a teacher in years that are open, with how many belong to each at `t`. */
export function classesTaught(db: Queries, teacherId: string, t: number) {
  return rows<{ id: string; code: string; colour: string; people: number }>(
    db,
    sql`select c.id, c.code, c.colour, (
          select count(distinct m.person_id)::int from memberships m where m.class_id = c.id
            and (m.from_at is null or m.from_at <= ${at(t)})
            and (m.until_at is null or m.until_at > ${at(t)})) as people
      from course_teachers ct join courses k on k.id = ct.course_id join years y on y.id = k.year_id
        join classes c on c.course_id = k.id
      where ct.person_id = ${teacherId}::uuid and y.closed_at is null
      order by k.title collate natural_order, c.code collate natural_order`,
  );
}

/** Everybody whom a handing out to these classes, courses and persons, to staff or (`all`) the school, may reach. */
export async function peopleReached(
  db: Queries,
  schoolId: string,
  reach: {
    classIds: readonly string[];
    courseIds: readonly string[];
    personIds: readonly string[];
    all: boolean;
  },
): Promise<Person[]> {
  const found = await rows<{ id: string; staff: boolean; memberships: Membership[] | null }>(
    db,
    sql`select p.id, p.kind <> 'student' as staff, (
        select json_agg(json_build_object('classId', m.class_id, 'courseId', c.course_id,
          'from', ${ms(sql`m.from_at`)}, 'until', ${ms(sql`m.until_at`)}))
        from memberships m join classes c on c.id = m.class_id where m.person_id = p.id) as memberships
      from people p
      where p.school_id = ${schoolId}::uuid and (
        ${reach.all} or p.kind <> 'student' or p.id = any (${uuids(reach.personIds)})
        or p.id in (select m.person_id from memberships m join classes c on c.id = m.class_id
          where c.id = any (${uuids(reach.classIds)}) or c.course_id = any (${uuids(reach.courseIds)})))`,
  );
  return found.map((p) => ({
    id: p.id,
    schoolId,
    staff: p.staff,
    memberships: p.memberships ?? [],
  }));
}

/** Titles of items that lie directly in a folder, with their placement. */
export function itemsDirectlyIn(db: Queries, folderId: string) {
  return rows<{ placementId: string; itemId: string; title: string }>(
    db,
    sql`select p.id as "placementId", i.id as "itemId", i.title
      from placements p join items i on i.id = p.item_id
      where p.folder_id = ${folderId}::uuid and p.binned_at is null order by i.title collate natural_order`,
  );
}
