import type { Contents, FolderOrder } from '@sammlung/contract';
import { sql, type SQL } from 'drizzle-orm';
import { rows, type Queries } from '../../db/database.ts';
import { jsonArray, jsonObject, type Field } from '../../db/json-sql.ts';
import {
  openWaysIn,
  ownsFolder,
  placementOpens,
  rightIn,
  waysInTable,
  viewerStatement,
  type AccessParams,
  type Viewer,
} from '../access/access-sql.ts';
import { RIGHTS, type SeenRight } from '../access/folders.ts';
import { AppError } from '../../platform/errors.ts';
import { Json } from '../../platform/json.ts';
import { notOpened } from '../openings.ts';

/** When the state of `p` that there is now came to where it is. */
export const CHANGED = sql`greatest(p.added_at, p.version_at)`;

/** Fields of an item row for placement `p`, item `i`, its newest version `v` and what was made of that, `PREVIEW`. */
export const ITEM_FIELDS: readonly Field[] = [
  ['placementId', 'word', sql`p.id`],
  ['itemId', 'word', sql`i.id`],
  ['kind', 'word', sql`i.kind`],
  ['title', 'text', sql`i.title`],
  ['extension', 'text', sql`i.extension`],
  ['url', 'text', sql`i.url`],
  ['mediaType', 'text', sql`v.media_type`],
  ['size', 'number', sql`v.size::float8`],
  ['version', 'number', sql`v.number`],
  ['lessonDate', 'word', sql`i.lesson_date`],
  ['keepOnTop', 'boolean', sql`p.keep_on_top`],
  ['small', 'word', sql`case when w.small is not null then left(w.hash, 12) end`],
  [
    'opening',
    'text',
    sql`(select t.opening from texts t where t.school_id = v.school_id and t.hash = v.hash and w.small is null)`,
  ],
  ['changedAt', 'instant', CHANGED],
];

/** Whether the viewer has opened that state of it. */
export const opened = (params: AccessParams): Field => [
  'opened',
  'boolean',
  sql`not ${notOpened(params, sql`p`, CHANGED)}`,
];

/** What was made of the newest version. */
export const PREVIEW = sql`left join previews w on w.school_id = v.school_id and w.hash = v.hash`;

/** What is asked of a folder: a page after the placement `after`, in the folder's own order where none is given. */
export interface ListQuery {
  readonly after?: string | undefined;
  readonly order?: FolderOrder | undefined;
  readonly limit: number;
}

/** A folder that the viewer sees, with a page of it as the API has it. */
export interface Listing {
  readonly id: string;
  readonly schoolId: string;
  readonly ownerId: string;
  readonly right: SeenRight;
  readonly contents: Json<Contents>;
}

const param = (name: string, type: string) => sql`${sql.placeholder(name)}::${sql.raw(type)}`;

/**
 * How the items of a folder follow each other, in the order `sort`: below what is kept on top by number, then by title,
 * then by number; the id settles what is equal. Later days and arrivals come first.
 */
const ITEM_KEYS = sql`(case here.sort when 'hand' then p.position
    when 'lesson_date' then date '0001-01-01' - coalesce(i.lesson_date, date '0001-01-01')
    when 'newest' then -extract(epoch from p.added_at)::float8 else 0 end),
  (case here.sort when 'a_to_z' then i.title else '' end) collate natural_order,
  (case here.sort when 'lesson_date' then p.position else 0 end), p.id`;

/** How the folders in it do. */
const FOLDER_KEYS = sql`(case here.sort when 'newest' then -extract(epoch from f.created_at)::float8 when 'a_to_z' then 0 else f.position end),
  f.title collate natural_order, f.id`;

const FOLDER_FIELDS: readonly Field[] = [
  ['id', 'word', sql`f.id`],
  ['title', 'text', sql`f.title`],
  ['mark', 'text', sql`f.mark`],
  ['colour', 'word', sql`f.colour`],
  ['items', 'number', sql`in_it.items`],
  ['folders', 'number', sql`in_it.folders`],
  ['keepOnTop', 'boolean', sql`f.keep_on_top`],
];

/** Whether somebody who comes through on the ways in `open` sees placement `p`; whoever owns the folder (`own`) sees all. */
export const seesRow = (
  own: SQL,
  open: SQL,
  params: AccessParams,
) => sql`(case when ${own} then p.binned_at is null
  else exists (select from ${open} k where ${placementOpens(sql`p`, sql`k`, params)}) end)`;

/**
 * `ways_in`, and `here`: the folder, with the order in which it is listed (`sort`), whether it is the viewer's own, and what
 * they may do in it (`right_`); `open` are the ways in that lead to it.
 */
export const hereTable = (params: AccessParams) => sql`${waysInTable(params)},
  folder as materialized (select f.*, ${ownsFolder(sql`f`, params)} as own from folders f where f.id = ${param('folder', 'uuid')}),
  open as materialized (
    select k.* from folder cross join lateral ${openWaysIn(sql`folder.path`, params)} k
    where folder.owner_id is distinct from ${params.me}),
  here as materialized (
    select folder.*, coalesce(${param('order', 'text')}, "order"::text) as sort,
      case when own then 4 else coalesce((select max(rank) from open), 0) end as right_
    from folder)`;

const LIMIT = param('limit', 'int');

/** The placement after which a page begins. */
const AFTER = param('after', 'uuid');

const itemsIn = (begin: SQL) =>
  viewerStatement<
    Omit<Listing, 'right' | 'contents'> & {
      right: number;
      parent: boolean;
      items: string;
      /** The last one of the page, and the one after it. */
      ends: string[] | null;
    }
  >(
    (params) => sql`with ${hereTable(params)},
      page as materialized (
        select page_id, row_number() over () as place from (
          select p.id as page_id
          from here join placements p on p.folder_id = here.id join items i on i.id = p.item_id
          where here.right_ > 0 and ${seesRow(sql`here.own`, sql`open`, params)} and ${begin}
          order by not p.keep_on_top, ${ITEM_KEYS} limit ${LIMIT} + 1) sorted)
      select here.id, here.school_id as "schoolId", here.owner_id as "ownerId", right_ as "right", (
          select ${jsonArray(jsonObject([...ITEM_FIELDS, opened(params)]), sql`place`)}
          from page join placements p on p.id = page_id join items i on i.id = p.item_id
            left join versions v on v.id = i.current_version_id
            ${PREVIEW}
          where place <= ${LIMIT}) as items,
        (select array_agg(page_id order by place) from page where place >= ${LIMIT}) as ends,
        exists (select from folders b where b.parent_id = here.id and b.binned_at is null) as parent
      from here where right_ > 0`,
  );
const firstItems = itemsIn(sql`true`);
const furtherItems = itemsIn(sql`(not p.keep_on_top, ${ITEM_KEYS}) > (
  select not p.keep_on_top, ${ITEM_KEYS} from placements p join items i on i.id = p.item_id where p.id = ${AFTER})`);

const foldersIn = viewerStatement<{ folders: string }>(
  (params) => sql`with ${hereTable(params)}
    select ${jsonArray(jsonObject(FOLDER_FIELDS), sql`f.keep_on_top desc, ${FOLDER_KEYS}`)} as folders
    from here join folders f on f.parent_id = here.id
      cross join lateral (select here.own or ${ownsFolder(sql`f`, params)} as own) mine
      cross join lateral (
        with through as materialized (
          select k.* from ${openWaysIn(sql`f.path`, params)} k where mine.own is not true)
        select (select count(*) from placements p where p.folder_id = f.id and ${seesRow(sql`mine.own`, sql`through`, params)}) as items,
          (select count(*) from folders b where b.parent_id = f.id and b.binned_at is null
            and (mine.own or ${rightIn(sql`b`, params)} > 0)) as folders,
          (mine.own or exists (select from through where rank > 0)) as seen) in_it
    where f.binned_at is null and in_it.seen`,
);

/** One page of a folder. Throws `not-found` when the viewer does not see it. */
export async function listFolder(
  db: Queries,
  viewer: Viewer,
  folderId: string,
  { after, order = undefined, limit }: ListQuery,
): Promise<Listing> {
  const asked = { folder: folderId, order, limit };
  const [found] =
    after === undefined
      ? await firstItems(db, viewer, asked)
      : await furtherItems(db, viewer, { ...asked, after });
  if (!found) throw new AppError('not-found');
  const { parent, items, ends, right, ...folder } = found;
  const first = after === undefined;
  const [inside] = first && parent ? await foldersIn(db, viewer, asked) : [];
  const next = JSON.stringify(ends?.length === 2 ? ends[0] : null);
  const text = `{"folders":${inside?.folders ?? '[]'},"items":${items},"next":${next}}`;
  return {
    ...folder,
    right: RIGHTS[right] as SeenRight,
    contents: new Json<Contents>(text),
  };
}

/** How many items lie in a folder, the Bin left out. */
export async function countIn(db: Queries, folderId: string): Promise<number> {
  const [found] = await rows<{ count: number }>(
    db,
    sql`select count(*)::int as count from placements where folder_id = ${folderId}::uuid and binned_at is null`,
  );
  return found!.count;
}
