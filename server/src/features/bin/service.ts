import type { Bin, Binned, EmptyBin, IntoBin, OutOfBin, Restored } from '@sammlung/contract';
import { FILE_NAME_LIMIT, freeTitle, nameKey } from '@sammlung/core';
import { eq, inArray, sql } from 'drizzle-orm';
import type { z } from 'zod';
import { rows, uuids, type Queries } from '../../db/database.ts';
import { nextFolderPosition, nextPosition } from '../../db/positions.ts';
import { folders, items, placements } from '../../db/schema/index.ts';
import { lockTree, Rights } from '../../platform/access/rights.ts';
import { AppError } from '../../platform/errors.ts';
import type { Services } from '../../platform/services.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { sweep } from '../../platform/sweep.ts';
import { binned, countLastPlaces, destroy, overdue, type BinnedRecord } from './queries.ts';

type Needs = Pick<Services, 'db' | 'now' | 'storage'>;
type Things = z.infer<typeof IntoBin>['things'];

/** Things stay in the Bin this long. */
export const KEPT_MS = 30 * 24 * 60 * 60 * 1000;

const idsOf = (things: Things, kind: Things[number]['kind']) => [
  ...new Set(things.filter((thing) => thing.kind === kind).map((thing) => thing.id)),
];

export async function bin({ db }: Pick<Needs, 'db'>, person: SignedIn): Promise<Bin> {
  const found = await binned(db, person.id);
  return {
    things: found.map(({ binnedAt, ...thing }) => ({
      ...thing,
      binnedAt: new Date(binnedAt).toISOString(),
      leavesAt: new Date(binnedAt + KEPT_MS).toISOString(),
    })),
  };
}

/**
 * Takes items away from where they lie, and folders with all below them. From its last place an item goes to the
 * Bin. Who only may add removes their own.
 */
export async function intoBin(
  { db, now }: Needs,
  person: SignedIn,
  things: Things,
): Promise<z.infer<typeof Binned>> {
  const at = { binnedAt: new Date(now()), binnedBy: person.id };
  return db.transaction(async (tx) => {
    const rights = new Rights(tx, person, now());
    for (const id of idsOf(things, 'folder')) await rights.folder(id, 'manage');
    const taken = await rights.placements(idsOf(things, 'placement'));
    if (taken.some((placement) => placement.binned)) throw new AppError('not-found');
    const ids = taken.map((placement) => placement.id);
    await tx
      .update(folders)
      .set(at)
      .where(inArray(folders.id, idsOf(things, 'folder')));
    await tx.update(placements).set(at).where(inArray(placements.id, ids));
    return { lastPlaces: await countLastPlaces(tx, ids) };
  });
}

/**
 * Puts things back where they were. Throws `place-gone` when that place lies in the Bin itself and `to` does not say
 * where else. A name that has been taken since is given a number.
 */
export async function outOfBin(
  { db, now }: Needs,
  person: SignedIn,
  { things, to }: z.infer<typeof OutOfBin>,
): Promise<Restored> {
  return db.transaction(async (tx) => {
    const rights = new Rights(tx, person, now());
    if (to) await rights.folder(to, 'add');
    const renamed: string[] = [];
    await lockTree(tx, person.id);
    for (const id of idsOf(things, 'folder'))
      renamed.push(...(await folderBack(tx, person, id, to)));
    for (const id of idsOf(things, 'placement'))
      renamed.push(...(await itemBack(tx, person, rights, id, to)));
    return { renamed };
  });
}

async function folderBack(
  tx: Queries,
  person: SignedIn,
  id: string,
  to: string | null | undefined,
): Promise<string[]> {
  const [folder] = await tx.select().from(folders).where(eq(folders.id, id));
  if (!folder || folder.ownerId !== person.id) throw new AppError('not-found');
  if (!folder.binnedAt) return [];
  const parentId = to === undefined ? folder.parentId : to;
  if (await liesInBin(tx, parentId)) throw new AppError('place-gone');
  const siblings = await rows<{ key: string }>(
    tx,
    sql`select name_key as key from folders where binned_at is null and owner_id = ${person.id}::uuid
      and parent_id is not distinct from ${parentId}::uuid`,
  );
  const title = freeTitle(folder.title, new Set(siblings.map(({ key }) => key)));
  await tx
    .update(folders)
    .set({
      title,
      parentId,
      binnedAt: null,
      binnedBy: null,
      ...(to !== undefined && { position: nextFolderPosition(person.id, parentId) }),
    })
    .where(eq(folders.id, id));
  return title === folder.title ? [] : [title];
}

async function itemBack(
  tx: Queries,
  person: SignedIn,
  rights: Rights,
  id: string,
  to: string | null | undefined,
): Promise<string[]> {
  const [found] = await tx
    .select({ placement: placements, item: items })
    .from(placements)
    .innerJoin(items, eq(items.id, placements.itemId))
    .where(eq(placements.id, id));
  if (!found) throw new AppError('not-found');
  const { placement, item } = found;
  if (to === null) throw new AppError('no-items-on-top');
  if (await liesInBin(tx, placement.folderId)) {
    // Only whose it is learns that its place is gone.
    if (item.ownerId !== person.id) throw new AppError('not-found');
    if (to === undefined) throw new AppError('place-gone');
  } else if (item.ownerId !== person.id) await rights.placements([id]);
  if (!placement.binnedAt) return [];
  const folderId = to ?? placement.folderId;
  const siblings = await rows<{ key: string; itemId: string }>(
    tx,
    sql`select name_key as key, item_id as "itemId" from placements
      where folder_id = ${folderId}::uuid and binned_at is null`,
  );
  if (siblings.some((s) => s.itemId === item.id)) throw new AppError('already-here');
  const suffix = item.extension === '' ? '' : `.${item.extension}`;
  const title = freeTitle(item.title, new Set(siblings.map(({ key }) => key)), {
    suffix,
    limit: FILE_NAME_LIMIT - suffix.length,
  });
  if (nameKey(title) !== nameKey(item.title))
    await tx.update(items).set({ title }).where(eq(items.id, item.id));
  await tx
    .update(placements)
    .set({
      folderId,
      binnedAt: null,
      binnedBy: null,
      ...(to !== undefined && { position: nextPosition(folderId) }),
    })
    .where(eq(placements.id, id));
  return nameKey(title) === nameKey(item.title) ? [] : [title];
}

async function liesInBin(tx: Queries, folderId: string | null): Promise<boolean> {
  if (folderId === null) return false;
  const found = await rows(
    tx,
    sql`select n.id from folders f join folders n on n.id = any (f.path)
      where f.id = ${folderId}::uuid and n.binned_at is not null`,
  );
  return found.length > 0;
}

/** Deletes things of the person's Bin for good, or all of it. */
export async function emptyBin(
  needs: Needs,
  person: SignedIn,
  { things }: z.infer<typeof EmptyBin>,
) {
  const mine = await binned(needs.db, person.id);
  const key = ({ kind, id }: Pick<BinnedRecord, 'kind' | 'id'>) => `${kind} ${id}`;
  const there = new Set(mine.map(key));
  const asked = things ?? mine;
  if (asked.some((thing) => !there.has(key(thing)))) throw new AppError('not-found');
  const ids = (kind: BinnedRecord['kind']) => asked.filter((x) => x.kind === kind).map((x) => x.id);
  const found = await rows<{ id: string }>(
    needs.db,
    sql`select item_id as id from placements where id = any (${uuids(ids('placement'))})`,
  );
  await letGo(needs, { folderIds: ids('folder'), itemIds: found.map((i) => i.id) });
}

/** Deletes for good what has been in the Bin for 30 days; a job runs it every night. */
export async function emptyOverdue(needs: Needs) {
  await letGo(needs, await overdue(needs.db, needs.now() - KEPT_MS));
}

async function letGo(
  { db, storage }: Needs,
  what: { folderIds: readonly string[]; itemIds: readonly string[] },
) {
  if (what.folderIds.length + what.itemIds.length === 0) return;
  const hashes = await db.transaction((tx) => destroy(tx, what.folderIds, what.itemIds));
  await sweep(db, storage, hashes);
}
