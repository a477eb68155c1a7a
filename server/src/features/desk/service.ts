import type { Copied, Copying, Desk, Origins, Thing } from '@sammlung/contract';
import { freeFileTitle, freeTitle, nameKey, withExtension } from '@sammlung/core';
import type { z } from 'zod';
import type { Queries } from '../../db/database.ts';
import { viewerOf } from '../../domain/access/viewer.ts';
import { thingsBelow, type ItemRecord } from '../../domain/access/below.ts';
import { Rights } from '../../domain/access/rights.ts';
import { addFolder, folderNamesIn, lockTree } from '../../domain/folders.ts';
import {
  addItem,
  addPlacement,
  changeItem,
  itemById,
  itemNamesIn,
} from '../../domain/placements.ts';
import type { Viewer } from '../../domain/access/access-sql.ts';
import { AppError } from '../../platform/errors.ts';
import { lockRoom, quotaOf, refuseBeyondQuota, usedBy } from '../../domain/quota.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { copyPictures } from '../../domain/pages/pages.ts';
import { addVersion } from '../../domain/versions.ts';
import { heldBy, originalsOf, originsIn, topFolderOf, type Original } from './queries.ts';

type Needs = Pick<Services, 'db' | 'now' | 'settings'>;

/** How the folder is called that holds a desk; its owner reads "My desk" instead. */
const DESK = 'Desk';
/** How many items are copied at once, at most. */
const AT_ONCE = 500;

/** A student's desk, made when it is first wanted. Others have a library. */
export async function deskOf({ db, settings }: Needs, person: SignedIn): Promise<Desk> {
  const folderId = await db.transaction((tx) => deskFolder(tx, person));
  return { folderId, used: await usedBy(db, person.id), quota: quotaOf(settings, person) };
}

async function deskFolder(tx: Queries, person: SignedIn): Promise<string> {
  if (person.kind !== 'student') throw new AppError('not-found');
  const known = await topFolderOf(tx, person.id);
  if (known) return known;
  // Two pages that ask for it at once get the same one.
  await lockTree(tx, person.id);
  const meanwhile = await topFolderOf(tx, person.id);
  if (meanwhile) return meanwhile;
  return addFolder(tx, {
    ...{ schoolId: person.schoolId, ownerId: person.id, createdBy: person.id },
    ...{ parentId: null, title: DESK },
  });
}

/**
 * Takes copies of things the viewer sees, folders with all they see in them, onto the person's desk. Names that are
 * taken there get a number. Throws `not-found`, `too-many` and `quota-full`; then nothing was copied.
 */
export async function takeCopies(
  needs: Needs,
  person: SignedIn,
  viewer: Viewer,
  { things, to }: z.infer<typeof Copying>,
): Promise<Copied> {
  const { db, now, settings } = needs;
  const t = now();
  return db.transaction(async (tx) => {
    const desk = await deskFolder(tx, person);
    const folderId = to ?? desk;
    const target = await new Rights(tx, person, t).folder(folderId, 'add');
    // Onto the desk, or into one’s own place of a hand-in box.
    if (target.right !== 'own' && (target.placeId === null || person.kind !== 'student'))
      throw new AppError('not-allowed');
    const below = await thingsBelow(tx, viewer, things);
    if (below.items.length > AT_ONCE) throw new AppError('too-many');
    if (below.items.some((item) => item.schoolId !== person.schoolId))
      throw new AppError('not-found');
    const originals = new Map(
      (
        await originalsOf(
          tx,
          below.items.map((item) => item.itemId),
        )
      ).map((o) => [o.id, o]),
    );
    await lockTree(tx, target.treeId);
    await lockRoom(tx, person.id);
    await refuseTooMuch(tx, settings, person, [...originals.values()]);

    const made: Thing[] = [];
    /** Where in the desk each copied folder stands. */
    const placeOf = new Map<string, string>();
    for (const folder of below.folders) {
      const within = folder.parentId === null ? undefined : placeOf.get(folder.parentId);
      const parentId = within ?? target.id;
      const id = await copyFolder(tx, person, target.ownerId, parentId, folder.title);
      placeOf.set(folder.id, id);
      if (within === undefined) made.push({ kind: 'folder', id });
    }
    const single = new Set(things.flatMap((x) => (x.kind === 'placement' ? [x.id] : [])));
    for (const item of below.items) {
      const within = placeOf.get(item.folderId);
      const places = [
        ...(within === undefined ? [] : [within]),
        ...(single.has(item.placementId) ? [target.id] : []),
      ];
      for (const place of places) {
        const id = await copyItem(tx, person, place, item, originals.get(item.itemId)!, t);
        if (place === target.id) made.push({ kind: 'placement', id });
      }
    }
    return { things: made, count: below.items.length, folderId };
  });
}

async function refuseTooMuch(
  tx: Queries,
  settings: Needs['settings'],
  person: SignedIn,
  originals: readonly Original[],
) {
  const sizes = new Map(originals.flatMap(({ hash, size }) => (hash ? [[hash, size ?? 0]] : [])));
  const held = await heldBy(tx, person.id, [...sizes.keys()]);
  const more = [...sizes].reduce((sum, [hash, size]) => sum + (held.has(hash) ? 0 : size), 0);
  if (more > 0) await refuseBeyondQuota(tx, settings, person, more);
}

async function copyFolder(
  tx: Queries,
  person: SignedIn,
  ownerId: string | null,
  parentId: string,
  title: string,
) {
  const siblings = await folderNamesIn(tx, ownerId, parentId);
  return addFolder(tx, {
    ...{ schoolId: person.schoolId, ownerId, createdBy: person.id, parentId },
    title: freeTitle(title, siblings),
  });
}

async function copyItem(
  tx: Queries,
  person: SignedIn,
  folderId: string,
  { itemId, kind, title, extension, url }: ItemRecord,
  original: Original,
  t: number,
): Promise<string> {
  const { description, lessonDate, versionId, hash, size, mediaType, originalName } = original;
  const taken = new Set((await itemNamesIn(tx, folderId)).keys());
  const { schoolId, id: personId } = person;
  const createdAt = new Date(t);
  const copyId = await addItem(tx, {
    ...{ schoolId, ownerId: personId, kind, extension, url, description, lessonDate },
    ...{ createdAt, copyOfItemId: itemId, copyOfVersionId: versionId },
    title: taken.has(nameKey(withExtension(title, extension)))
      ? freeFileTitle({ title, extension }, taken)
      : title,
  });
  if (hash !== null) {
    const copied = await addVersion(tx, copyId, {
      ...{ schoolId, hash, size: size!, mediaType: mediaType! },
      ...{ originalName: originalName!, createdBy: personId, createdAt },
    });
    await copyPictures(tx, versionId!, { itemId: copyId, versionId: copied }, t);
  }
  const putting = { schoolId, addedBy: personId, addedAt: createdAt };
  return addPlacement(tx, { ...putting, folderId, itemId: copyId });
}

/** Where the copies in a folder of the desk come from, and whether the original has a newer version. */
export async function originsOf(
  { db, now }: Needs,
  person: SignedIn,
  folderId: string,
): Promise<Origins> {
  const t = now();
  await new Rights(db, person, t).folder(folderId, 'own');
  return { origins: await originsIn(db, viewerOf(person, t), folderId) };
}

/**
 * Puts the newest version of the original into a copy, as its next version: what was worked on stays among the earlier
 * ones. Throws `not-found` when the original is not seen, `quota-full` when there is no room.
 */
export async function renewCopy(
  { db, now, settings }: Needs,
  person: SignedIn,
  placementId: string,
): Promise<void> {
  const t = now();
  await db.transaction(async (tx) => {
    const { itemId, folderId } = await new Rights(tx, person, t).item(placementId);
    const found = await originsIn(tx, viewerOf(person, t), folderId);
    const origin = found.find((one) => one.placementId === placementId);
    if (!origin || origin.state === 'gone') throw new AppError('not-found');
    if (origin.state === 'same') return;
    const copy = await itemById(tx, itemId, true);
    const [original] = await originalsOf(tx, [copy!.copyOfItemId!]);
    await lockTree(tx, person.id);
    await refuseTooMuch(tx, settings, person, [original!]);
    const { hash, size, mediaType, originalName, versionId } = original!;
    const renewed = await addVersion(tx, itemId, {
      ...{ schoolId: person.schoolId, createdBy: person.id },
      ...{ hash: hash!, size: size!, mediaType: mediaType!, originalName: originalName! },
      createdAt: new Date(t),
    });
    await copyPictures(tx, versionId!, { itemId, versionId: renewed }, t);
    await changeItem(tx, itemId, { copyOfVersionId: versionId });
  });
}
