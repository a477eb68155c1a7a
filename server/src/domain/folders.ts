import { and, eq, inArray, isNull, ne, sql } from 'drizzle-orm';
import type { Queries } from '../db/database.ts';
import { folders } from '../db/schema/index.ts';

/** Folders: nothing else writes their table, but for whole paths of them (folder-paths). */

export type Folder = typeof folders.$inferSelect;

/** A folder, whether or not it is in the Bin; null where there is none. */
export async function folderById(db: Queries, id: string): Promise<Folder | null> {
  const [found] = await db.select().from(folders).where(eq(folders.id, id));
  return found ?? null;
}

/** Changes to the folders of one library wait for each other. Only within a transaction. */
export async function lockTree(tx: Queries, ownerId: string): Promise<void> {
  await tx.execute(
    sql`select pg_advisory_xact_lock(hashtextextended('folders of ' || ${ownerId}::text, 0))`,
  );
}

/** Locks the libraries of several people, in an order that is the same for everybody. */
export async function lockTrees(tx: Queries, ownerIds: Iterable<string>): Promise<void> {
  for (const ownerId of [...new Set(ownerIds)].sort()) await lockTree(tx, ownerId);
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

/** Gives a folder other facts. */
export async function changeFolder(
  tx: Queries,
  id: string,
  change: Partial<Pick<Folder, 'title' | 'mark' | 'colour' | 'order' | 'display' | 'keepOnTop'>>,
): Promise<void> {
  if (Object.keys(change).length > 0)
    await tx.update(folders).set(change).where(eq(folders.id, id));
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

/** The keys of the names that folders in a folder have, or those at the top of a library; `except` is left out. */
export async function folderNamesIn(
  db: Queries,
  ownerId: string,
  parentId: string | null,
  except: string | null = null,
): Promise<ReadonlySet<string>> {
  const found = await db
    .select({ key: folders.nameKey })
    .from(folders)
    .where(
      and(
        eq(folders.ownerId, ownerId),
        sql`${folders.parentId} is not distinct from ${parentId}::uuid`,
        isNull(folders.binnedAt),
        ...(except === null ? [] : [ne(folders.id, except)]),
      ),
    );
  return new Set(found.map(({ key }) => key));
}

/** The place after the last folder in a folder, or at the top of a library. */
function nextFolderPosition(ownerId: string, parentId: string | null) {
  return sql`(select coalesce(max(f.position), 0) + 1 from folders f
    where f.parent_id is not distinct from ${parentId}::uuid and f.owner_id = ${ownerId}::uuid)`;
}
