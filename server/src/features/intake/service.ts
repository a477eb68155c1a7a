import { randomUUID } from 'node:crypto';
import type { Instead, IntakeLimits, Known, PlacedUpload, PlaceUpload } from '@sammlung/contract';
import { fileName, freeFileTitle, withExtension } from '@sammlung/core';
import type { z } from 'zod';
import type { Queries } from '../../db/database.ts';
import { viewerOf } from '../../domain/access/viewer.ts';
import { folderFor, type SeenFolder } from '../../domain/access/folders.ts';
import { Rights } from '../../domain/access/rights.ts';
import { putFile, type FreshContent, type PutFile } from '../../domain/files/put.ts';
import { AppError } from '../../platform/errors.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { giveUpRoom, lockRoom, quotaOf, usedBy } from '../../domain/quota.ts';
import { isPreparable, sendToPrepare } from '../../domain/previews.ts';
import { hashOf, type Storage } from '../../platform/storage.ts';
import { lockContent, sweep } from '../../domain/contents.ts';
import { addItem, addPlacement, itemById, itemNamesIn } from '../../domain/placements.ts';
import { addVersion, withdrawVersion } from '../../domain/versions.ts';
import { mediaTypeOf } from './media-type.ts';
import { ownUpload } from './open-uploads.ts';
import {
  changeUpload,
  lockUpload,
  nextInBatch,
  noteUpload,
  ownContent,
  placesOf,
  sizesOf,
  uploadById,
} from './queries.ts';
import type { Uploads } from './uploads.ts';

type Needs = Pick<Services, 'db' | 'now' | 'storage' | 'settings' | 'jobs'>;

/** What the server takes in of this person, and how much room they have. */
export async function limitsOf({ db, settings }: Needs, person: SignedIn): Promise<IntakeLimits> {
  const used = await usedBy(db, person.id);
  return { uploadLimit: settings.uploadLimit, used, quota: quotaOf(settings, person) };
}

/**
 * Makes a finished upload a file in its folder; core/intake says what becomes of it. The content is safe on the disk
 * before any record speaks of it; asking again after a crash or a lost reply gives the same answer.
 */
export async function placeUpload(
  needs: Needs,
  tus: Uploads,
  person: SignedIn,
  folderId: string,
  { uploadId, sameName, batch }: z.infer<typeof PlaceUpload>,
): Promise<PlacedUpload> {
  const { db, now, storage, settings } = needs;
  const folder = await folderFor(db, viewerOf(person, now()), folderId, 'add');
  const known = await alreadyPlaced(db, person, uploadId);
  if (known) return known;
  const upload = await ownUpload(tus, person, uploadId);
  if (!upload) return placedMeanwhile(db, person, uploadId);
  if (upload.metadata?.folderId !== folderId) throw new AppError('not-found');
  if (upload.offset !== upload.size) throw new AppError('upload-unfinished');
  const given = upload.metadata?.filename ?? '';
  const name = fileName(given);
  if (!name) throw new AppError('file-name-empty');
  const found = await lookInside(storage, uploadId, name.extension);
  if (!found) return placedMeanwhile(db, person, uploadId);
  const file: Arrived = { ...found, name, given, uploadId, sameName, batch };
  try {
    const fresh = await db.transaction(async (tx) => {
      await lockRoom(tx, person.id);
      if (await alreadyPlaced(tx, person, uploadId)) return false;
      await giveUpRoom(tx, uploadId);
      await lockContent(tx, person.schoolId, file.hash);
      await recordUpload(tx, person, folder, file, now(), {
        keep: () => storage.takeOver(uploadId, person.schoolId, file.hash),
        settings,
      });
      return true;
    });
    if (fresh) await tus.store.remove(uploadId);
  } catch (error) {
    // No record speaks of what was kept.
    await sweep(db, storage, [{ schoolId: person.schoolId, hash: file.hash }]);
    throw error;
  }
  // A server that stops before this is said finds the content waiting when it starts again.
  if (isPreparable(file.mediaType)) await sendToPrepare(needs.jobs, person.schoolId, file.hash);
  return (await alreadyPlaced(db, person, uploadId))!;
}

/** Where an upload that is gone was put by another request, once that has come to its end; `not-found` where by none. */
async function placedMeanwhile(db: Services['db'], person: SignedIn, uploadId: string) {
  const placed = await db.transaction(async (tx) => {
    await lockRoom(tx, person.id);
    return alreadyPlaced(tx, person, uploadId);
  });
  if (!placed) throw new AppError('not-found');
  return placed;
}

/** What a finished upload holds; null when it is gone. */
export async function lookInside(storage: Storage, uploadId: string, extension: string) {
  const content = await storage.openUpload(uploadId);
  if (!content) return null;
  try {
    const mediaType = await mediaTypeOf(content, extension);
    return { mediaType, size: content.size, hash: await hashOf(content) };
  } finally {
    await content.close();
  }
}

/** Which of these sizes a file of the person's library has. */
export async function knownSizes({ db }: Needs, person: SignedIn, sizes: readonly number[]) {
  return { known: await sizesOf(db, person.id, sizes) };
}

/** Adds a file whose content a file of the person's own library has. Throws `not-found` when none has. */
export async function placeKnown(
  { db, now }: Needs,
  person: SignedIn,
  folderId: string,
  { name: given, hash, sameName, batch }: z.infer<typeof Known>,
): Promise<PlacedUpload> {
  const folder = await folderFor(db, viewerOf(person, now()), folderId, 'add');
  const name = fileName(given);
  if (!name) throw new AppError('file-name-empty');
  const uploadId = `known-${randomUUID()}`;
  await db.transaction(async (tx) => {
    await lockContent(tx, person.schoolId, hash);
    const own = await ownContent(tx, person.id, hash);
    if (!own) throw new AppError('not-found');
    const file: Arrived = { ...own, hash, name, given, uploadId, sameName, batch };
    await recordUpload(tx, person, folder, file, now(), null);
  });
  return (await alreadyPlaced(db, person, uploadId))!;
}

interface Arrived extends Omit<PutFile, 'before'> {
  readonly uploadId: string;
  readonly batch: string | undefined;
}

/** Puts an arrived file into its folder, and notes what became of the upload. */
async function recordUpload(
  tx: Queries,
  person: SignedIn,
  folder: SeenFolder,
  { uploadId, batch, ...file }: Arrived,
  t: number,
  fresh: FreshContent | null,
) {
  const before = async (title: string) =>
    batch === undefined ? null : nextInBatch(tx, { batch, folderId: folder.id, title });
  const put = await putFile(tx, person, folder, { ...file, before }, t, fresh);
  await noteUpload(tx, {
    ...{ id: uploadId, schoolId: person.schoolId, personId: person.id, folderId: folder.id },
    ...{ ...put, batch: batch ?? null, givenName: file.given, createdAt: new Date(t) },
  });
}

/**
 * Decides otherwise about a file that became the next version of another one: it becomes a file of its own beside it
 * (`both`), or goes away again (`skip`). For whoever may change that file still. Throws `changed-since` when it has a
 * newer version by now.
 */
export async function decideInstead(
  { db, now, storage }: Needs,
  person: SignedIn,
  uploadId: string,
  choice: z.infer<typeof Instead>['choice'],
): Promise<PlacedUpload> {
  const t = now();
  const unused: { schoolId: string; hash: string }[] = [];
  await db.transaction(async (tx) => {
    const upload = await lockUpload(tx, person.id, uploadId);
    if (!upload) throw new AppError('not-found');
    const rights = new Rights(tx, person, t);
    const folder = await rights.folder(upload.folderId, 'add');
    const { placementId, versionId } = upload;
    if (upload.outcome !== 'version' || !versionId || !placementId)
      throw new AppError('changed-since');
    await rights.placements([placementId]);
    const version = await withdrawVersion(tx, versionId);
    const item = await itemById(tx, version.itemId);
    if (choice === 'skip') {
      await changeUpload(tx, uploadId, { outcome: 'skipped', placementId: null });
      unused.push({ schoolId: person.schoolId, hash: version.hash });
      return;
    }
    const siblings = await itemNamesIn(tx, folder.id);
    const title = freeFileTitle(item!, new Set(siblings.keys()));
    const { schoolId, id: ownerId } = person;
    const own = { ...item!, id: undefined, title, ownerId, currentVersionId: null };
    const itemId = await addItem(tx, own);
    const ownVersion = await addVersion(tx, itemId, version);
    const putting = { schoolId, addedBy: ownerId, addedAt: new Date(t) };
    const ownPlace = await addPlacement(tx, { ...putting, folderId: folder.id, itemId });
    const outcome = 'new' as const;
    await changeUpload(tx, uploadId, { outcome, placementId: ownPlace, versionId: ownVersion });
  });
  await sweep(db, storage, unused);
  return (await alreadyPlaced(db, person, uploadId))!;
}

async function alreadyPlaced(
  db: Queries,
  person: SignedIn,
  uploadId: string,
): Promise<PlacedUpload | null> {
  const known = await uploadById(db, person.id, uploadId);
  if (!known) return null;
  const { placementId, outcome, given } = known;
  const name = known.title === null ? given : withExtension(known.title, known.extension ?? '');
  return {
    uploadId,
    placementId,
    outcome,
    version: known.version ?? 0,
    name,
    renamed: name !== given.normalize('NFC'),
    alsoIn: known.itemId ? await placesOf(db, person.id, known.itemId, known.folderId) : [],
  };
}
