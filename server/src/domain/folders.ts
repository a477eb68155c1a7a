import { and, eq, inArray, isNull, ne, sql } from 'drizzle-orm';
import type { Release } from '@sammlung/contract';
import { rows, toDate, uuids, type Queries } from '../db/database.ts';
import { folders } from '../db/schema/index.ts';

/** Folders: nothing else writes their table, but for whole paths of them (folder-paths). */

export type Folder = typeof folders.$inferSelect;

/** A folder, whether or not it is in the Bin; null where there is none. */
export async function folderById(db: Queries, id: string): Promise<Folder | null> {
  const [found] = await db.select().from(folders).where(eq(folders.id, id));
  return found ?? null;
}

/** What a folder is part of: the library of its owner, or the place of a student in a hand-in box. */
export const treeOf = ({ ownerId, path }: Pick<Folder, 'ownerId' | 'path'>): string =>
  ownerId ?? path[0]!;

/** Changes to the folders of one library or place (`treeOf`) wait for each other. Only within a transaction. */
export async function lockTree(tx: Queries, treeId: string): Promise<void> {
  await tx.execute(
    sql`select pg_advisory_xact_lock(hashtextextended('folders of ' || ${treeId}::text, 0))`,
  );
}

/** The same for several, in an order that is the same for everybody. */
export async function lockTrees(tx: Queries, treeIds: Iterable<string>): Promise<void> {
  for (const treeId of [...new Set(treeIds)].sort()) await lockTree(tx, treeId);
}

/** Makes a folder after the last one where it goes; null for `parentId` is the top of the library. Resolves to its id. */
export async function addFolder(
  tx: Queries,
  folder: Pick<Folder, 'schoolId' | 'ownerId' | 'createdBy' | 'title'> & {
    parentId: string | null;
  },
): Promise<string> {
  const position = nextFolderPosition(folder.ownerId, folder.parentId);
  const [made] = await tx
    .insert(folders)
    .values({ ...folder, position })
    .returning({ id: folders.id });
  return made!.id;
}

/** A folder that is made after another one: as that looks and orders what is in it, with a name and a release of its own. */
export interface FolderAs {
  readonly id: string;
  readonly sourceId: string;
  /** Null for the top of the library. */
  readonly parentId: string | null;
  readonly title: string;
  readonly release: Release;
}

/** Makes folders after others, each after its parent; those that go where other folders are come after these. */
export async function addFoldersAs(
  tx: Queries,
  { schoolId, ownerId, yearId }: { schoolId: string; ownerId: string; yearId: string },
  those: readonly FolderAs[],
): Promise<void> {
  const span = (which: 'from' | 'until') =>
    sql`${sql.param(those.map(({ release }) => toDate(release[which])))}::timestamptz[]`;
  await tx.execute(
    sql`insert into folders (id, school_id, owner_id, parent_id, title, mark, colour, "order", display, keep_on_top, year_id, created_by,
        position, held, from_at, until_at)
      select w.id, s.school_id, ${ownerId}::uuid, w.parent_id, w.title, s.mark, s.colour, s."order", s.display, s.keep_on_top, ${yearId}::uuid,
        ${ownerId}::uuid, coalesce(last.position, 0) + row_number() over (partition by w.parent_id order by s.position, w.n), w.held, w.from_at, w.until_at
      from unnest(${uuids(those.map(({ id }) => id))}, ${uuids(those.map(({ sourceId }) => sourceId))},
          ${sql.param(those.map(({ parentId }) => parentId))}::uuid[], ${sql.param(those.map(({ title }) => title))}::text[],
          ${sql.param(those.map(({ release }) => release.held))}::boolean[], ${span('from')}, ${span('until')})
          with ordinality w (id, source_id, parent_id, title, held, from_at, until_at, n)
        join folders s on s.id = w.source_id and s.school_id = ${schoolId}::uuid
        left join lateral (select max(position) as position from folders f
          where f.parent_id = w.parent_id or (w.parent_id is null and f.parent_id is null and f.owner_id = ${ownerId}::uuid)) last on true
      order by w.n`,
  );
}

/** Gives a folder other facts. */
export async function changeFolder(
  tx: Queries,
  id: string,
  change: Partial<
    Pick<Folder, 'title' | 'mark' | 'colour' | 'order' | 'display' | 'keepOnTop' | 'yearId'>
  >,
): Promise<void> {
  if (Object.keys(change).length > 0)
    await tx.update(folders).set(change).where(eq(folders.id, id));
}

/** Gives what is below folders another owner; null where they are in the place of a student in a hand-in box. */
export async function ownBelow(
  tx: Queries,
  ids: readonly string[],
  ownerId: string | null,
): Promise<void> {
  await tx
    .update(folders)
    .set({ ownerId, inPlace: ownerId === null })
    .where(sql`${folders.path} && ${uuids(ids)} and ${folders.id} <> all (${uuids(ids)})`);
}

/** Moves a whole library, the Bin too, into a folder of somebody else’s. Resolves to the ids of the folders that were at its top. */
export async function moveLibrary(
  tx: Queries,
  ownerId: string,
  into: Pick<Folder, 'id' | 'ownerId'>,
): Promise<string[]> {
  const moved = await rows<{ id: string }>(
    tx,
    sql`with below as (
        update folders set owner_id = ${into.ownerId}::uuid where owner_id = ${ownerId}::uuid and parent_id is not null)
      update folders set owner_id = ${into.ownerId}::uuid, parent_id = ${into.id}::uuid
      where owner_id = ${ownerId}::uuid and parent_id is null returning id`,
  );
  return moved.map(({ id }) => id);
}

/** Moves those of the folders that are still in `from` to the top of a library, with what is below them. */
export async function moveToLibrary(
  tx: Queries,
  ids: readonly string[],
  from: string,
  ownerId: string,
): Promise<void> {
  await tx.execute(
    sql`with top as materialized (select id from folders where id = any (${uuids(ids)}) and parent_id = ${from}::uuid),
      below as (update folders set owner_id = ${ownerId}::uuid
        where path && (select coalesce(array_agg(id), '{}') from top) and id not in (select id from top))
      update folders set owner_id = ${ownerId}::uuid, parent_id = null where id in (select id from top)`,
  );
}

/** Puts folders into the Bin, with all below them. */
export async function binFolders(
  tx: Queries,
  ids: readonly string[],
  binned: { binnedAt: Date; binnedBy: string },
): Promise<void> {
  await tx
    .update(folders)
    .set(binned)
    .where(inArray(folders.id, [...ids]));
}

/** Takes a folder out of the Bin, under a name that is free: to where it was, or (`last`) after the last one. */
export async function unbinFolder(
  tx: Queries,
  { id, ownerId }: Pick<Folder, 'id' | 'ownerId'>,
  { title, parentId, last }: { title: string; parentId: string | null; last: boolean },
): Promise<void> {
  await tx
    .update(folders)
    .set({
      ...{ title, parentId, binnedAt: null, binnedBy: null },
      ...(last && { position: nextFolderPosition(ownerId, parentId) }),
    })
    .where(eq(folders.id, id));
}

/** The folders at the top of somebody’s library or desk, the Bin left out. */
export function topFoldersOwned(
  db: Queries,
  ownerId: string,
): Promise<{ id: string; parentId: null; title: string }[]> {
  return rows(
    db,
    sql`select id, null as "parentId", title from folders
      where owner_id = ${ownerId}::uuid and parent_id is null and binned_at is null
      order by position, title collate natural_order, id`,
  );
}

/** The keys of the names that folders in a folder have, or those at the top of a library; `except` is left out. */
export async function folderNamesIn(
  db: Queries,
  ownerId: string | null,
  parentId: string | null,
  except: string | null = null,
): Promise<ReadonlySet<string>> {
  const found = await db
    .select({ key: folders.nameKey })
    .from(folders)
    .where(
      and(
        sql`${folders.ownerId} is not distinct from ${ownerId}::uuid`,
        sql`${folders.parentId} is not distinct from ${parentId}::uuid`,
        isNull(folders.binnedAt),
        ...(except === null ? [] : [ne(folders.id, except)]),
      ),
    );
  return new Set(found.map(({ key }) => key));
}

/** The place after the last folder in a folder, or at the top of a library. */
function nextFolderPosition(ownerId: string | null, parentId: string | null) {
  return sql`(select coalesce(max(f.position), 0) + 1 from folders f
    where f.parent_id is not distinct from ${parentId}::uuid and f.owner_id is not distinct from ${ownerId}::uuid)`;
}
