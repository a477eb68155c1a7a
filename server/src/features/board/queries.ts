import { sql } from 'drizzle-orm';
import { at, rows, uuids, type Queries } from '../../db/database.ts';
import { isActive } from '../../domain/people.ts';
import { inSpan } from '../../domain/spans.ts';
import {
  accessParams,
  handedTable,
  waysInTable,
  rightIn,
  type Viewer,
} from '../../domain/access/access-sql.ts';

export type FolderRecord = {
  id: string;
  parentId: string | null;
  title: string;
  mark: string | null;
  items: number;
  ownerName: string | null;
};

/** The folders of the viewer and those of others that they manage, siblings in the order they stand. */
export function foldersDecided(db: Queries, viewer: Viewer): Promise<FolderRecord[]> {
  const params = accessParams(viewer);
  return rows<FolderRecord>(
    db,
    sql`with ${waysInTable(params)}, ${handedTable(params)},
      managed as materialized (
        select array_agg(f.id) as ids
        from handed h join folders f on f.id = h.folder_id
        where h.level = 'manage' and f.owner_id <> ${params.me} and ${rightIn(sql`f`, params)} >= 3),
      found as materialized (
        select f.* from folders f where f.owner_id = ${params.me}
        union all
        select f.* from folders f join managed on f.path && managed.ids where f.owner_id <> ${params.me}),
      binned as materialized (select array_agg(id) as ids from found where binned_at is not null)
    select f.id, f.parent_id as "parentId", f.title, f.mark,
        case when f.owner_id <> ${params.me} then o.name end as "ownerName", (
          select count(*)::int from placements p where p.folder_id = f.id and p.binned_at is null) as items
      from found f join people o on o.id = f.owner_id cross join binned
      where not coalesce(f.path && binned.ids, false)
      order by f.owner_id <> ${params.me}, f.keep_on_top desc, f.position, f.title collate natural_order, f.id`,
  );
}

/** How many people each class, course or school has at `t`, by its id. */
export async function headcounts(
  db: Queries,
  schoolId: string,
  classIds: readonly string[],
  courseIds: readonly string[],
  t: number,
): Promise<ReadonlyMap<string, number>> {
  const found = await rows<{ id: string; people: number }>(
    db,
    sql`with here as materialized (
        select c.id as class_id, c.course_id, m.person_id from classes c join memberships m on m.class_id = c.id
        where (c.id = any (${uuids(classIds)}) or c.course_id = any (${uuids(courseIds)}))
          and ${inSpan(sql`m`, at(t))} and ${isActive(sql`m.person_id`)})
      select class_id as id, count(distinct person_id)::int as people from here group by class_id
      union all select course_id, count(distinct person_id)::int from here group by course_id
      union all select ${schoolId}::uuid, count(*)::int from people where school_id = ${schoolId}::uuid and deactivated_at is null`,
  );
  return new Map(found.map(({ id, people }) => [id, people]));
}

/** How many colleagues a person has. */
export async function colleaguesOf(db: Queries, schoolId: string, personId: string) {
  const [found] = await rows<{ people: number }>(
    db,
    sql`select count(*)::int as people from people where school_id = ${schoolId}::uuid and kind <> 'student' and deactivated_at is null
      and id <> ${personId}::uuid`,
  );
  return found!.people;
}
