import {
  groupBy,
  Library,
  type Audience,
  type HandingOut,
  type Level,
  type Readers,
  type Release,
  type ReleaseRule,
} from '@sammlung/core';
import { sql } from 'drizzle-orm';
import { ms, rows, uuids, type Queries } from '../../db/database.ts';

export type ReleaseRow = {
  held: boolean;
  from: number | null;
  until: number | null;
  perClass: ({ classId: string } & Release)[] | null;
};

/** What a folder or item is called, for screens that show where something comes from. */
export interface Titles {
  readonly folders: ReadonlyMap<string, string>;
}

/**
 * Loads the part of a school that decides about some folders and items into core's library: the folders with all
 * above them, every place where the items lie, and everything handed out on any of these. Places in hand-in boxes are handed
 * out by nobody: who has them is not among it.
 */
export async function loadLibrary(
  db: Queries,
  scope: { folderIds: readonly string[]; itemIds: readonly string[] },
): Promise<Library & { titles: Titles }> {
  const placementRows = await rows<
    { id: string; folderId: string; itemId: string; binned: boolean } & ReleaseRow
  >(
    db,
    sql`select p.id, p.folder_id as "folderId", p.item_id as "itemId", p.binned_at is not null as binned,
        ${releaseColumns('p', 'placement_id')}
      from placements p where p.item_id = any (${uuids(scope.itemIds)}) and p.binned_at is null`,
  );
  const folderIds = [...new Set([...scope.folderIds, ...placementRows.map((p) => p.folderId)])];
  const folderRows = await rows<
    {
      id: string;
      ownerId: string | null;
      title: string;
      path: string[];
      binned: boolean;
      yearClosed: boolean;
    } & ReleaseRow
  >(
    db,
    sql`select f.id, f.owner_id as "ownerId", f.title, to_json(f.path) as path, f.binned_at is not null as binned,
        y.closed_at is not null as "yearClosed", ${releaseColumns('f', 'folder_id')}
      from folders f left join years y on y.id = f.year_id
      where f.id in (select unnest(path) from folders where id = any (${uuids(folderIds)}))`,
  );
  const handingRows = await rows<{
    id: string;
    folderId: string | null;
    itemId: string | null;
    kind: Audience['kind'];
    audienceId: string;
    level: Level;
    from: number | null;
    until: number | null;
    appearanceId: string | null;
  }>(
    db,
    sql`select h.id, h.folder_id as "folderId", h.item_id as "itemId", h.audience_kind as kind,
        h.audience_id as "audienceId", h.level, ${ms(sql`h.from_at`)} as "from", ${ms(sql`least(h.until_at, y.closed_at)`)} as "until",
        h.appearance_id as "appearanceId"
      from handings_out h left join classes c on h.audience_kind = 'class' and c.id = h.audience_id
        left join courses k on h.audience_kind = 'course' and k.id = h.audience_id
        left join years y on y.id = coalesce(c.year_id, k.year_id)
      where not h.of_place
        and (h.folder_id = any (${uuids(folderRows.map((f) => f.id))}) or h.item_id = any (${uuids(scope.itemIds)}))`,
  );
  const of = (kind: Audience['kind']) =>
    handingRows.filter((h) => h.kind === kind).map((h) => h.audienceId);
  const library = new Library({
    readers: await readersOf(db, of('person'), of('course')),
    folders: folderRows.map(({ id, ownerId, path, binned, yearClosed, ...release }) => ({
      id,
      ownerId,
      path,
      binned,
      yearClosed,
      release: ruleOf(release),
    })),
    placements: placementRows.map(({ id, folderId, itemId, binned, ...release }) => ({
      id,
      folderId,
      itemId,
      binned,
      release: ruleOf(release),
    })),
    handingsOut: handingRows.map((h): HandingOut => ({
      id: h.id,
      target: h.folderId
        ? { kind: 'folder', id: h.folderId }
        : { kind: 'item', id: h.itemId ?? '' },
      audience: { kind: h.kind, id: h.audienceId },
      level: h.level,
      from: h.from,
      until: h.until,
      appearanceId: h.appearanceId,
    })),
  });
  return Object.assign(library, {
    titles: { folders: new Map(folderRows.map((f) => [f.id, f.title])) },
  });
}

/** Those of the persons who are staff, and the classes of the courses. */
async function readersOf(
  db: Queries,
  personIds: readonly string[],
  courseIds: readonly string[],
): Promise<Readers> {
  if (personIds.length + courseIds.length === 0) return { staff: new Set(), classesOf: new Map() };
  const found = await rows<{ id: string; courseId: string | null }>(
    db,
    sql`select id, null::uuid as "courseId" from people where id = any (${uuids(personIds)}) and kind <> 'student'
      union all select id, course_id from classes where course_id = any (${uuids(courseIds)}) and removed_at is null`,
  );
  const classes = found.filter((row) => row.courseId !== null);
  return {
    staff: new Set(found.filter((row) => row.courseId === null).map((row) => row.id)),
    classesOf: new Map(
      [...groupBy(classes, (row) => row.courseId!)].map(([courseId, several]) => [
        courseId,
        several.map((row) => row.id),
      ]),
    ),
  };
}

export function releaseColumns(alias: string, column: string) {
  const row = sql.raw(alias);
  return sql`${row}.held, ${ms(sql`${row}.from_at`)} as "from", ${ms(sql`${row}.until_at`)} as "until", (
    select json_agg(json_build_object('classId', r.class_id, 'held', r.held,
      'from', ${ms(sql`r.from_at`)}, 'until', ${ms(sql`r.until_at`)}))
    from class_releases r where r.${sql.raw(column)} = ${row}.id) as "perClass"`;
}

export function ruleOf({ held, from, until, perClass }: ReleaseRow): ReleaseRule {
  return {
    held,
    from,
    until,
    perClass: new Map(
      (perClass ?? []).map((r) => [r.classId, { held: r.held, from: r.from, until: r.until }]),
    ),
  };
}
