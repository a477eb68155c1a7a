import type { Bin, EmptyBin, IntoBin, OutOfBin, Restored } from '@sammlung/contract';
import { FILE_NAME_LIMIT, freeTitle, nameKey } from '@sammlung/core';
import type { z } from 'zod';
import type { Queries } from '../../db/database.ts';
import type { SeenFolder } from '../../domain/access/folders.ts';
import { KEPT_MS } from '../../domain/bin.ts';
import { mayChangeItem, Rights } from '../../domain/access/rights.ts';
import {
  type Folder,
  folderById,
  folderNamesIn,
  lockTree,
  lockTrees,
  treeOf,
  unbinFolder,
} from '../../domain/folders.ts';
import {
  changeItem,
  itemNamesIn,
  lockedPlacement,
  unbinPlacement,
} from '../../domain/placements.ts';
import { destroy, giveBack, lockForPurge } from '../../domain/purge.ts';
import { idsOf } from '../../domain/files/remove.ts';
import { AppError } from '../../platform/errors.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { sweep } from '../../domain/contents.ts';
import { binned, inBin, isInBin, treesOf, ownersOverdue, type InBin } from './queries.ts';

type Needs = Pick<Services, 'db' | 'now' | 'storage'>;
type Things = z.infer<typeof IntoBin>['things'];

export async function bin({ db, now }: Pick<Needs, 'db' | 'now'>, person: SignedIn): Promise<Bin> {
  const found = await binned(db, person.id, now());
  return {
    things: found.map(({ binnedAt, ...thing }) => ({
      ...thing,
      binnedAt: new Date(binnedAt).toISOString(),
      leavesAt: new Date(binnedAt + KEPT_MS).toISOString(),
    })),
  };
}

/**
 * Puts things back where they were, or into `to`: for whoever owns them, and for whoever removed them, with the right
 * that putting them there needs now. Throws `place-gone` to the owner when that place lies in the Bin itself, or they may
 * no longer add there, and `to` does not say where else; `other-library` where a move would. A name that has been taken
 * since is given a number.
 */
export async function outOfBin(
  { db, now }: Needs,
  person: SignedIn,
  { things, to }: z.infer<typeof OutOfBin>,
): Promise<Restored> {
  const t = now();
  const folderIds = idsOf(things, 'folder');
  return db.transaction(async (tx) => {
    const renamed: string[] = [];
    await lockTrees(tx, await treesOf(tx, folderIds));
    for (const id of folderIds) renamed.push(...(await folderBack(tx, person, t, id, to)));
    for (const id of idsOf(things, 'placement'))
      renamed.push(...(await itemBack(tx, person, t, id, to)));
    return { renamed };
  });
}

async function folderBack(
  tx: Queries,
  person: SignedIn,
  t: number,
  id: string,
  to: string | null | undefined,
): Promise<string[]> {
  const folder = await folderById(tx, id);
  const own = folder?.ownerId === person.id;
  if (!folder || (!own && folder.binnedBy !== person.id)) throw new AppError('not-found');
  if (!folder.binnedAt) return [];
  // Only an owner's library has a top, and a student's desk is the one folder there.
  if (to === null && (!own || person.kind === 'student')) throw new AppError('not-allowed');
  let title = folder.title;
  if (to === undefined || !own) {
    if (own && (await isInBin(tx, folder.parentId))) throw new AppError('place-gone');
    title = await putBack(tx, folder, folder.parentId, false);
    // Judged where it lies again: whoever may not take it away from there may not bring it back.
    if (!own) await new Rights(tx, person, t).removableFolders([id]);
  }
  if (to !== undefined) {
    const target = to === null ? null : await new Rights(tx, person, t).folder(to, 'add');
    if (target && target.treeId !== treeOf(folder)) throw new AppError('other-library');
    title = await putBack(tx, folder, to, true);
  }
  return title === folder.title ? [] : [title];
}

/** Takes a folder out of the Bin into another one; resolves to the name under which it now lies there. */
async function putBack(
  tx: Queries,
  folder: Folder,
  parentId: string | null,
  last: boolean,
): Promise<string> {
  const title = freeTitle(
    folder.title,
    await folderNamesIn(tx, folder.ownerId, parentId, folder.id),
  );
  await unbinFolder(tx, folder, { title, parentId, last });
  return title;
}

async function itemBack(
  tx: Queries,
  person: SignedIn,
  t: number,
  id: string,
  to: string | null | undefined,
): Promise<string[]> {
  const found = await lockedPlacement(tx, id);
  const own = found?.item.ownerId === person.id;
  if (!found || (!own && found.placement.binnedBy !== person.id)) throw new AppError('not-found');
  const { placement, item } = found;
  if (to === null) throw new AppError('no-items-on-top');
  if (!placement.binnedAt) return [];
  const rights = new Rights(tx, person, t);
  const folder = own
    ? await targetOf(rights, placement.folderId, to)
    : (await rights.placements([id]))[0]!.folder;
  const target = to === undefined ? folder : await rights.folder(to, 'add');
  if (!own && target.treeId !== folder.treeId) throw new AppError('other-library');
  const siblings = await itemNamesIn(tx, target.id);
  if ([...siblings.values()].includes(item.id)) throw new AppError('already-here');
  const suffix = item.extension === '' ? '' : `.${item.extension}`;
  const title = freeTitle(item.title, new Set(siblings.keys()), {
    suffix,
    limit: FILE_NAME_LIMIT - suffix.length,
  });
  const renamed = nameKey(title) !== nameKey(item.title);
  if (renamed) {
    if (!mayChangeItem(person.id, folder, item.ownerId)) throw new AppError('name-taken');
    await changeItem(tx, item.id, { title });
  }
  await unbinPlacement(tx, id, { folderId: target.id, last: to !== undefined });
  return renamed ? [title] : [];
}

/** The folder into which an own item goes: `to`, or the one where it was while one may still add there. */
async function targetOf(rights: Rights, was: string, to: string | undefined): Promise<SeenFolder> {
  try {
    return await rights.folder(to ?? was, 'add');
  } catch (error) {
    if (to === undefined && error instanceof AppError) throw new AppError('place-gone');
    throw error;
  }
}

/** Deletes things of the person's Bin for good, or all of it. Throws `not-found` for what is not there any more. */
export async function emptyBin(
  needs: Needs,
  person: SignedIn,
  { things }: z.infer<typeof EmptyBin>,
) {
  await purge(needs, person.id, (there) => {
    if (!things) return there;
    const key = ({ kind, id }: Things[number]) => `${kind} ${id}`;
    const byKey = new Map(there.map((thing) => [key(thing), thing]));
    return things.map((thing) => {
      const found = byKey.get(key(thing));
      if (!found) throw new AppError('not-found');
      return found;
    });
  });
}

/** Deletes for good what has been in the Bin for 30 days; a job runs it every night. */
export async function emptyOverdue(needs: Needs) {
  const before = needs.now() - KEPT_MS;
  for (const owner of await ownersOverdue(needs.db, before))
    await purge(needs, owner, (there) => there, before);
}

/**
 * Deletes for good what `choose` takes of a person's Bin. It is locked, looked at again and deleted in one transaction,
 * so that what somebody brings back meanwhile is either gone for both or kept for both.
 */
async function purge(
  { db, now, storage }: Needs,
  ownerId: string,
  choose: (there: readonly InBin[]) => readonly InBin[],
  before: number | null = null,
) {
  const hashes = await db.transaction(async (tx) => {
    await lockTree(tx, ownerId);
    const folderIds = (chosen: readonly InBin[]) =>
      chosen.filter((x) => x.kind === 'folder').map((x) => x.id);
    const itemIds = (chosen: readonly InBin[]) => chosen.flatMap((x) => x.itemId ?? []);
    const asked = choose(await inBin(tx, ownerId, before));
    if (asked.length === 0) return [];
    await lockForPurge(tx, folderIds(asked), itemIds(asked));
    const locked = new Set(asked.map((x) => x.id));
    const there = await inBin(tx, ownerId, before);
    const chosen = choose(there.filter((x) => locked.has(x.id)));
    await giveBack(tx, folderIds(chosen), now());
    return destroy(tx, folderIds(chosen), itemIds(chosen));
  });
  await sweep(db, storage, hashes);
}
