import { sql, type SQL } from 'drizzle-orm';
import { ms, rows, type Queries } from '../../db/database.ts';
import {
  ownsFolder,
  rightIn,
  viewerStatement,
  waysInTable,
  type Viewer,
} from '../access/access-sql.ts';
import { CHANGED, hereTable, seesRow } from './list.ts';

/** What is in a folder, by names: for programs that walk it like folders of their own. */

/** An item as programs have it. */
export type WalkedItem = {
  readonly placementId: string;
  readonly itemId: string;
  readonly folderId: string;
  readonly kind: 'file' | 'link' | 'page';
  readonly title: string;
  readonly extension: string;
  readonly url: string | null;
  /** Null for a link. */
  readonly hash: string | null;
  readonly size: number | null;
  readonly mediaType: string | null;
  readonly version: number | null;
  /** Milliseconds. */
  readonly createdAt: number;
  readonly changedAt: number;
};

export type WalkedFolder = {
  readonly id: string;
  readonly title: string;
  /** Milliseconds. */
  readonly createdAt: number;
};

const ITEM = sql`p.id as "placementId", i.id as "itemId", p.folder_id as "folderId", i.kind, i.title, i.extension, i.url,
  v.hash, v.size::float8 as size, v.media_type as "mediaType", v.number as version,
  ${ms(sql`i.created_at`)} as "createdAt", ${ms(CHANGED)} as "changedAt"`;

const KEY = sql`${sql.placeholder('key')}::text`;
const named = (column: SQL) =>
  sql`(${KEY} is null or ${column} in (${KEY}, ${sql.placeholder('other')}::text))`;

const items = viewerStatement<WalkedItem>(
  (params) => sql`with ${hereTable(params)}
    select ${ITEM}
    from here join placements p on p.folder_id = here.id join items i on i.id = p.item_id
      left join versions v on v.id = i.current_version_id
    where here.right_ > 0 and ${named(sql`p.name_key`)} and ${seesRow(sql`here.own`, sql`open`, params)}
    order by p.position, p.id`,
);

const below = viewerStatement<WalkedFolder>(
  (params) => sql`with ${waysInTable(params)}
    select f.id, f.title, ${ms(sql`f.created_at`)} as "createdAt" from folders f
    where f.parent_id = ${sql.placeholder('folder')}::uuid and f.binned_at is null and ${named(sql`f.name_key`)}
      and (coalesce(${ownsFolder(sql`f`, params)}, false) or ${rightIn(sql`f`, params)} > 0)
    order by f.title collate natural_order, f.id`,
);

/** The items in a folder that the viewer sees there; with `key` only those of that name, or of the `other` one. */
export const itemsSeen = (
  db: Queries,
  viewer: Viewer,
  folder: string,
  key: string | null = null,
  other: string | null = null,
) => items(db, viewer, { folder, order: null, key, other });

/** The folders in a folder that the viewer sees; with `key` only the one of that name. */
export const foldersSeen = (
  db: Queries,
  viewer: Viewer,
  folder: string,
  key: string | null = null,
) => below(db, viewer, { folder, key, other: null });

/** The folders at the top of a person's own library. */
export function topFolders(
  db: Queries,
  ownerId: string,
  key: string | null = null,
): Promise<WalkedFolder[]> {
  return rows<WalkedFolder>(
    db,
    sql`select f.id, f.title, ${ms(sql`f.created_at`)} as "createdAt" from folders f
      where f.owner_id = ${ownerId}::uuid and f.parent_id is null and f.binned_at is null
        and (${key}::text is null or f.name_key = ${key}::text)
      order by f.title collate natural_order, f.id`,
  );
}

/** How many of a path's names lead from the top of a library to folders, and the last of these; one round trip for the whole path. */
export async function walkLibrary(
  db: Queries,
  ownerId: string,
  keys: readonly string[],
): Promise<{ readonly steps: number; readonly folderId: string | null }> {
  const [found] = await rows<{ steps: number; id: string }>(
    db,
    sql`with recursive names as (select ${sql.param([...keys])}::text[] as keys),
      walk as (
        select 1 as steps, f.id from names join folders f on f.name_key = keys[1]
        where f.owner_id = ${ownerId}::uuid and f.parent_id is null and f.binned_at is null
        union all
        select walk.steps + 1, f.id from walk cross join names
          join folders f on f.parent_id = walk.id and f.name_key = keys[walk.steps + 1] and f.binned_at is null)
      select steps, id from walk order by steps desc limit 1`,
  );
  return { steps: found?.steps ?? 0, folderId: found?.id ?? null };
}
