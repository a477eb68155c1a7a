import type { Thing } from '@sammlung/contract';
import { and, desc, eq, isNull, sql } from 'drizzle-orm';
import { at, rows, type Queries } from '../../db/database.ts';
import { classes, courses, doors, folders, items } from '../../db/schema/index.ts';
import {
  accessParams,
  rightIn,
  seesPlacement,
  waysInTable,
  type Viewer,
} from '../../domain/access/access-sql.ts';
import type { DoorRow } from '../../domain/doors.ts';
import { appearsOnWebsite } from '../../domain/class-pages.ts';
import { firstPlace } from '../../domain/grants.ts';

/** What the website of a class is called. */
const WEBSITE = sql<string>`${courses.title} || ' ' || ${classes.code}`;

/** Every open door to what is a person's own, or to the websites of classes that they teach: newest first, with what it opens. */
export function openDoorsOf(db: Queries, ownerId: string) {
  return db
    .select({
      door: doors,
      title: sql<string>`coalesce(${folders.title}, ${items.title}, ${WEBSITE})`,
      placementId: sql<string | null>`(${firstPlace(sql`${items.id}`)})`,
    })
    .from(doors)
    .leftJoin(folders, eq(folders.id, doors.folderId))
    .leftJoin(items, eq(items.id, doors.itemId))
    .leftJoin(classes, eq(classes.id, doors.classId))
    .leftJoin(courses, eq(courses.id, classes.courseId))
    .where(
      and(
        isNull(doors.closedAt),
        sql`(coalesce(${folders.ownerId}, ${items.ownerId}) = ${ownerId}::uuid
          or (${doors.classId} is not null and ${websiteMadeBy(ownerId)}))`,
      ),
    )
    .orderBy(desc(doors.createdAt));
}

/** Whether the class of a row is there, its year open, and the person teaches it. */
const websiteMadeBy = (personId: string) => sql`${classes.removedAt} is null and exists (
  select from course_teachers k join years y on y.id = ${classes.yearId} and y.closed_at is null
  where k.course_id = ${classes.courseId} and k.person_id = ${personId}::uuid)`;

/** What a door opens, as far as the viewer sees it; null where they do not. */
export async function openedBy(
  db: Queries,
  viewer: Viewer,
  door: Pick<DoorRow, 'folderId' | 'itemId'>,
): Promise<{ folderId: string | null; placementId: string | null } | null> {
  const params = accessParams(viewer);
  const [seen] = await rows<{ folderId: string | null; placementId: string | null }>(
    db,
    sql`with ${waysInTable(params)}
      select f.id as "folderId", null::uuid as "placementId" from folders f
        where f.id = ${door.folderId}::uuid and ${rightIn(sql`f`, params)} > 0
      union all
      (select null, p.id from placements p join folders f on f.id = p.folder_id
        where p.item_id = ${door.itemId}::uuid and ${seesPlacement(sql`p`, sql`f`, params)} limit 1)`,
  );
  return seen ?? null;
}

/** What is behind a door is called. */
export async function titleBehind(
  db: Queries,
  { folderId, itemId, classId }: Pick<DoorRow, 'folderId' | 'itemId' | 'classId'>,
): Promise<string> {
  const [named] = classId
    ? await db
        .select({ title: WEBSITE })
        .from(classes)
        .innerJoin(courses, eq(courses.id, classes.courseId))
        .where(eq(classes.id, classId))
    : folderId
      ? await db.select({ title: folders.title }).from(folders).where(eq(folders.id, folderId))
      : await db.select({ title: items.title }).from(items).where(eq(items.id, itemId!));
  return named!.title;
}

/** The things of all entries on the website of a class, seen or not. */
export function thingsOnWebsite(db: Queries, classId: string, t: number): Promise<Thing[]> {
  return rows<Thing>(
    db,
    sql`select case when x.folder_id is null then 'placement' else 'folder' end as kind, coalesce(x.folder_id, x.placement_id) as id
      from appearances a left join headings h on h.id = a.heading_id and h.removed_at is null
        join entry_things x on x.entry_id = a.entry_id
      where a.class_id = ${classId}::uuid and ${appearsOnWebsite(at(t))}`,
  );
}
