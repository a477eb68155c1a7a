import type { PlacedUpload } from '@sammlung/contract';
import { fileName, intake, nameKey, type FileName } from '@sammlung/core';
import type { Upload } from '@tus/utils';
import { and, eq, isNull, sql } from 'drizzle-orm';
import type { Queries } from '../../db/database.ts';
import { nextPosition } from '../../db/positions.ts';
import { blobs, items, placements, uploads, versions } from '../../db/schema/index.ts';
import { folderFor } from '../../platform/access/folder.ts';
import { AppError } from '../../platform/errors.ts';
import type { Services } from '../../platform/services.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { isCode } from '../../platform/storage.ts';
import { mediaTypeOf } from './media-type.ts';
import type { Uploads } from './uploads.ts';

type Needs = Pick<Services, 'db' | 'now' | 'storage' | 'settings'>;

/** Lets an upload begin, or says why it may not: before a single byte has been sent. */
export async function admit(
  { db, now, storage, settings }: Needs,
  person: SignedIn,
  announced: { folderId: string; name: string; size: number },
) {
  await folderFor(db, { personId: person.id, doorIds: [] }, announced.folderId, now(), 'add');
  if (!fileName(announced.name)) throw new AppError('file-name-empty');
  if (announced.size === 0) throw new AppError('empty-file');
  if (announced.size > settings.uploadLimit) throw new AppError('file-too-large');
  if ((await storage.free()) - announced.size < settings.diskReserve)
    throw new AppError('disk-full');
}

/** An upload of this person; for anybody else's, and for none, `not-found`. */
export async function uploadOf({ store }: Uploads, person: SignedIn, id: string): Promise<Upload> {
  if (!/^[0-9a-f]{32}$/u.test(id)) throw new AppError('not-found');
  const upload = await store.getUpload(id).catch((error: unknown) => {
    if (isGone(error)) throw new AppError('not-found');
    throw error;
  });
  if (upload.metadata?.personId !== person.id) throw new AppError('not-found');
  return upload;
}

function isGone(error: unknown): boolean {
  if (isCode(error, 'ENOENT')) return true;
  const status = error instanceof Object && 'status_code' in error ? error.status_code : 0;
  return status === 404 || status === 410;
}

/**
 * Makes a finished upload a file in its folder: new, the next version of the file of that name, or nothing when the
 * content is the same. The content is safe on the disk before any record speaks of it; asking again after a crash or
 * a lost reply gives the same answer.
 */
export async function placeUpload(
  needs: Needs,
  tus: Uploads,
  person: SignedIn,
  folderId: string,
  uploadId: string,
): Promise<PlacedUpload> {
  const { db, now, storage } = needs;
  const folder = await folderFor(db, { personId: person.id, doorIds: [] }, folderId, now(), 'add');
  const known = await alreadyPlaced(db, person, folderId, uploadId);
  if (known) return known;
  const upload = await uploadOf(tus, person, uploadId);
  if (upload.metadata?.folderId !== folderId) throw new AppError('not-found');
  if (upload.offset !== upload.size) throw new AppError('upload-unfinished');
  const given = upload.metadata?.filename ?? '';
  const name = fileName(given);
  if (!name) throw new AppError('file-name-empty');

  const path = `${tus.store.directory}/${uploadId}`;
  const content = await storage.take(person.schoolId, path);
  const mediaType = await mediaTypeOf(path, name.extension);
  const file = { ...content, mediaType, name, given, uploadId };
  await db.transaction((tx) => settle(tx, person, folder.id, file, new Date(now())));
  await tus.store.remove(uploadId);
  return (await alreadyPlaced(db, person, folderId, uploadId))!;
}

interface Arrived {
  readonly hash: string;
  readonly size: number;
  readonly mediaType: string;
  readonly name: FileName;
  readonly given: string;
  readonly uploadId: string;
}

/** Writes the records of an arrived file. Files that arrive in one folder at the same time wait for each other. */
async function settle(tx: Queries, person: SignedIn, folderId: string, file: Arrived, at: Date) {
  const { schoolId } = person;
  await tx.execute(sql`select pg_advisory_xact_lock(hashtextextended(${`intake ${folderId}`}, 0))`);
  await tx
    .insert(blobs)
    .values({ schoolId, hash: file.hash, size: file.size })
    .onConflictDoNothing();
  const lying = await tx
    .select({
      placementId: placements.id,
      itemId: items.id,
      addedBy: placements.addedBy,
      kind: items.kind,
      hash: versions.hash,
      number: versions.number,
    })
    .from(placements)
    .innerJoin(items, eq(items.id, placements.itemId))
    .leftJoin(versions, eq(versions.id, items.currentVersionId))
    .where(
      and(
        eq(placements.folderId, folderId),
        isNull(placements.binnedAt),
        eq(placements.nameKey, nameKey(file.name.name)),
      ),
    );
  const decided = intake(
    file.name.name,
    file.hash,
    lying.map((l) => ({ itemId: l.itemId, name: file.name.name, hash: l.hash ?? '' })),
  );
  const same = lying[0];
  if (same && (same.addedBy !== person.id || same.kind !== 'file'))
    throw new AppError('name-taken');

  const version = (itemId: string, number: number) => ({
    schoolId,
    itemId,
    number,
    hash: file.hash,
    size: file.size,
    mediaType: file.mediaType,
    originalName: file.given,
    createdBy: person.id,
    createdAt: at,
  });
  let placementId = same?.placementId;
  if (decided.outcome === 'new') {
    const { title, extension } = file.name;
    const [item] = await tx
      .insert(items)
      .values({ schoolId, ownerId: person.id, kind: 'file', title, extension, createdAt: at })
      .returning({ id: items.id });
    const [first] = await tx
      .insert(versions)
      .values(version(item!.id, 1))
      .returning({ id: versions.id });
    await tx.update(items).set({ currentVersionId: first!.id }).where(eq(items.id, item!.id));
    const [placement] = await tx
      .insert(placements)
      .values({
        schoolId,
        folderId,
        itemId: item!.id,
        addedBy: person.id,
        addedAt: at,
        position: nextPosition(folderId),
      })
      .returning({ id: placements.id });
    placementId = placement!.id;
  } else if (decided.outcome === 'version') {
    const [next] = await tx
      .insert(versions)
      .values(version(decided.itemId, (same?.number ?? 0) + 1))
      .returning({ id: versions.id });
    await tx.update(items).set({ currentVersionId: next!.id }).where(eq(items.id, decided.itemId));
  }
  await tx.insert(uploads).values({
    id: file.uploadId,
    schoolId,
    personId: person.id,
    folderId,
    placementId: placementId!,
    outcome: decided.outcome,
    givenName: file.given,
  });
}

async function alreadyPlaced(
  db: Queries,
  person: SignedIn,
  folderId: string,
  uploadId: string,
): Promise<PlacedUpload | null> {
  const [known] = await db
    .select({
      placementId: uploads.placementId,
      outcome: uploads.outcome,
      given: uploads.givenName,
      version: versions.number,
    })
    .from(uploads)
    .innerJoin(placements, eq(placements.id, uploads.placementId))
    .innerJoin(items, eq(items.id, placements.itemId))
    .innerJoin(versions, eq(versions.id, items.currentVersionId))
    .where(
      and(
        eq(uploads.id, uploadId),
        eq(uploads.personId, person.id),
        eq(uploads.folderId, folderId),
      ),
    );
  if (!known) return null;
  const { placementId, outcome, version, given } = known;
  const name = fileName(given)?.name ?? '';
  return { placementId, outcome, version, name, renamed: name !== given.normalize('NFC') };
}
