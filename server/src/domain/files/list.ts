import type { Contents, FolderView, ItemRow } from '@sammlung/contract';
import { sql, type SQL } from 'drizzle-orm';
import { ms, rows, statement, type Queries } from '../../db/database.ts';
import {
  ACCESS_PLACEHOLDERS,
  accessValues,
  placementOpens,
  rightIn,
  seesPlacement,
  waysInTable,
  type Viewer,
} from '../access/access-sql.ts';
import type { SeenFolder } from '../access/folders.ts';
import { notOpened } from '../openings.ts';

/** Columns of an item row for placement `p`, item `i`, its newest version `v` and what was made of that, `PREVIEW`. */
export const ITEM_COLUMNS = sql`p.id as "placementId", i.id as "itemId", i.kind, i.title, i.extension, i.url,
  v.media_type as "mediaType", v.size::float8 as size, v.number as version, i.lesson_date as "lessonDate",
  p.keep_on_top as "keepOnTop", case when w.small is not null then left(w.hash, 12) end as small,
  (select t.opening from texts t where t.school_id = v.school_id and t.hash = v.hash and w.small is null) as opening,
  ${ms(sql`greatest(p.added_at, v.created_at)`)} as "changedAt"`;

/** Whether that state of it has been opened, for a statement that is put together once. */
export const OPENED = sql`not ${notOpened(ACCESS_PLACEHOLDERS, sql`greatest(p.added_at, v.created_at)`)} as opened`;

/** What was made of the newest version. */
export const PREVIEW = sql`left join previews w on w.school_id = v.school_id and w.hash = v.hash`;

export type ItemRecord = Omit<ItemRow, 'changedAt'> & { changedAt: number };

export function toItemRow(record: ItemRecord): ItemRow {
  return { ...record, changedAt: new Date(record.changedAt).toISOString() };
}

/** How rows of a folder follow each other: descending where the sort says so; the id settles what is equal. */
const ORDERS: Record<
  FolderView['order'],
  { items: readonly SQL[]; folders: SQL; descending: boolean }
> = {
  hand: {
    items: [sql`p.position`],
    folders: sql`f.position, f.title collate natural_order`,
    descending: false,
  },
  a_to_z: {
    items: [sql`i.title collate natural_order`],
    folders: sql`f.title collate natural_order`,
    descending: false,
  },
  lesson_date: {
    // Of one day, and without any, in the order by hand.
    items: [sql`coalesce(i.lesson_date, date '0001-01-01')`, sql`-p.position`],
    folders: sql`f.position, f.title collate natural_order`,
    descending: true,
  },
  newest: { items: [sql`p.added_at`], folders: sql`f.created_at desc`, descending: true },
};

type Order = FolderView['order'];

/** One statement for each order, for owners and for others, from the start and after a cursor. */
const perVariant = <T extends Record<string, unknown>>(
  build: (order: Order, own: boolean, after: boolean) => SQL,
) => {
  const known = new Map<string, ReturnType<typeof statement<T>>>();
  return (order: Order, own: boolean, after: boolean) => {
    const name = `${order} ${own} ${after}`;
    const found = known.get(name) ?? statement<T>(() => build(order, own, after));
    known.set(name, found);
    return found;
  };
};

const FOLDER = sql`${sql.placeholder('folder')}::uuid`;

const folderRows = perVariant<Contents['folders'][number]>((order, own) => {
  const placementSeen = own
    ? sql`p.binned_at is null`
    : seesPlacement(sql`p`, sql`f`, ACCESS_PLACEHOLDERS);
  return sql`with ${waysInTable(ACCESS_PLACEHOLDERS)}
    select f.id, f.title, f.mark, f.colour, f.keep_on_top as "keepOnTop",
      (select count(*)::int from placements p where p.folder_id = f.id and ${placementSeen}) as items,
      (select count(*)::int from folders b where b.parent_id = f.id and b.binned_at is null
        and ${own ? sql`true` : sql`${rightIn(sql`b`, ACCESS_PLACEHOLDERS)} > 0`}) as folders
    from folders f
    where f.parent_id = ${FOLDER} and f.binned_at is null and ${own ? sql`true` : sql`${rightIn(sql`f`, ACCESS_PLACEHOLDERS)} > 0`}
    order by f.keep_on_top desc, ${ORDERS[order].folders}, f.id`;
});

const itemRows = perVariant<ItemRecord>((order, own, after) => {
  const { items: keys, descending } = ORDERS[order];
  const direction = descending ? sql`desc` : sql`asc`;
  const seen = own
    ? sql`p.binned_at is null`
    : sql`exists (select from here k where ${placementOpens(sql`p`, sql`k`, ACCESS_PLACEHOLDERS)})`;
  // The ways to the folder have been found already; they are the rows of `openWaysIn` for its path. Which rows belong to
  // the page is settled first; only for those is looked up what is shown of them.
  const inOrder = sql`p.keep_on_top desc, ${sql.join(
    [...keys, sql`p.id`].map((key) => sql`${key} ${direction}`),
    sql`, `,
  )}`;
  return sql`with here as materialized (
      select * from json_to_recordset(${sql.placeholder('here')}::json)
        as k (kind text, id uuid, reading uuid, exempt boolean, rank int)),
    page as materialized (
      select p.id as page_id from placements p join items i on i.id = p.item_id ${after ? cursor(keys) : sql``}
      where p.folder_id = ${FOLDER} and ${seen} and ${after ? beyondCursor(keys, descending) : sql`true`}
      order by ${inOrder} limit ${sql.placeholder('limit')}::int)
    select ${ITEM_COLUMNS}, ${OPENED}
    from page join placements p on p.id = page_id join items i on i.id = p.item_id
      left join versions v on v.id = i.current_version_id
      ${PREVIEW}
    order by ${inOrder}`;
});

/** The row `c` after which a page begins. */
const cursor = (keys: readonly SQL[]) => sql`cross join (
  select p.keep_on_top as top, ${list(keys.map((key, n) => sql`${key} as ${keyName(n)}`))}, p.id
  from placements p join items i on i.id = p.item_id where p.id = ${sql.placeholder('after')}::uuid) c`;

/** Rows after the cursor row: those kept on top come first, then the order's keys, then the id. */
const beyondCursor = (keys: readonly SQL[], descending: boolean) => sql`(p.keep_on_top < c.top
  or (p.keep_on_top = c.top and (${list(keys)}, p.id) ${descending ? sql`<` : sql`>`}
    (${list(keys.map((_, n) => sql`c.${keyName(n)}`))}, c.id)))`;

const list = (parts: readonly SQL[]) => sql.join([...parts], sql`, `);
const keyName = (n: number) => sql.identifier(`key_${n}`);

/** The folders directly in a folder, as far as the viewer sees them, with what they see in each. */
export function foldersIn(db: Queries, folder: SeenFolder, viewer: Viewer) {
  const query = folderRows(folder.order, folder.right === 'own', false);
  return query(db, { ...accessValues(viewer), folder: folder.id });
}

/** How many items lie in a folder, the Bin left out. */
export async function countIn(db: Queries, folderId: string): Promise<number> {
  const [found] = await rows<{ count: number }>(
    db,
    sql`select count(*)::int as count from placements where folder_id = ${folderId}::uuid and binned_at is null`,
  );
  return found!.count;
}

/** One page of the items in a folder, in the folder's order, after the placement `after`. */
export async function itemsIn(
  db: Queries,
  folder: SeenFolder,
  viewer: Viewer,
  page: { after?: string | undefined; limit: number },
) {
  const query = itemRows(folder.order, folder.right === 'own', page.after !== undefined);
  const found = await query(db, {
    ...accessValues(viewer),
    folder: folder.id,
    here: JSON.stringify(folder.openWaysIn),
    after: page.after,
    limit: page.limit + 1,
  });
  return { items: found.slice(0, page.limit), more: found.length > page.limit };
}
