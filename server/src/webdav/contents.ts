import { Transform } from 'node:stream';
import { fileName, nameKey, type FileName } from '@sammlung/core';
import { lockContent, recordContent, sweep } from '../domain/contents.ts';
import { putNamed } from '../domain/files/put.ts';
import { folderFor } from '../domain/access/folders.ts';
import { isPreparable, sendToPrepare } from '../domain/previews.ts';
import { removeDavFiles, writeDavFile, type DavFile } from '../domain/programs/dav-files.ts';
import { lockRoom, refuseBeyondQuota } from '../domain/quota.ts';
import { mediaTypeOf } from '../features/intake/media-type.ts';
import { AppError } from '../platform/errors.ts';
import { isDiskFull } from '../platform/storage.ts';
import { DavError } from './errors.ts';
import type { DavRequest } from './request.ts';

/** The contents of files that programs send: first they are stored whole, then something is made of them. */

export interface Content {
  /** Null for an empty file. */
  readonly hash: string | null;
  readonly size: number;
  readonly mediaType: string;
}

export const EMPTY: Content = { hash: null, size: 0, mediaType: 'application/octet-stream' };

/** Stores the body of a request. A connection that breaks off in the middle leaves nothing. Throws `file-too-large`, `disk-full`. */
export async function receive(dav: DavRequest, name: string): Promise<Content> {
  const { storage, settings } = dav.services;
  const announced = Number(dav.header('content-length') ?? 0);
  if (announced > settings.uploadLimit) throw new AppError('file-too-large');
  if (announced > 0 && (await storage.free()) - announced < settings.diskReserve)
    throw new AppError('disk-full');
  let size = 0;
  const limited = new Transform({
    transform(chunk: Buffer, _, done) {
      size += chunk.length;
      if (size > settings.uploadLimit) done(new AppError('file-too-large'));
      else done(null, chunk);
    },
  });
  dav.request.raw.on('error', (error) => limited.destroy(error));
  dav.request.raw.on('aborted', () => limited.destroy(new DavError(400, 'It has not come whole.')));
  try {
    const stored = await storage.put(dav.person.schoolId, dav.request.raw.pipe(limited));
    if (stored.size === 0) {
      await storage.delete(dav.person.schoolId, stored.hash);
      return EMPTY;
    }
    return { ...stored, mediaType: await typeOf(dav, stored.hash, name) };
  } catch (error) {
    if (isDiskFull(error)) throw new AppError('disk-full');
    throw error;
  }
}

async function typeOf(dav: DavRequest, hash: string, name: string): Promise<string> {
  const content = await dav.services.storage.open({ schoolId: dav.person.schoolId, hash });
  if (!content) throw new AppError('changed-since');
  try {
    return await mediaTypeOf(content, fileName(name)?.extension ?? '');
  } finally {
    await content.close();
  }
}

/** The name under which a file is kept, which is the one that it was given. Throws where that cannot be. */
export function keptName(given: string): FileName {
  const name = fileName(given);
  if (!name || nameKey(name.name) !== nameKey(given))
    throw new DavError(403, 'Files cannot have this name here.');
  return name;
}

/**
 * Does something with a stored content, within the person's room; what comes of it holds the content. Where nothing does, it goes
 * away again.
 */
export async function withContent<T>(
  dav: DavRequest,
  content: Content & { readonly hash: string },
  use: (
    tx: Parameters<Parameters<DavRequest['services']['db']['transaction']>[0]>[0],
  ) => Promise<T>,
): Promise<T> {
  const { db, storage, jobs } = dav.services;
  const { schoolId, id } = dav.person;
  const key = { schoolId, hash: content.hash };
  try {
    const done = await db.transaction(async (tx) => {
      await lockRoom(tx, id);
      await lockContent(tx, schoolId, content.hash);
      // It may have been cleared away since it came, as one that nobody needed.
      if (!(await storage.stat(key))) throw new AppError('changed-since');
      return use(tx);
    });
    if (isPreparable(content.mediaType)) await sendToPrepare(jobs, schoolId, content.hash);
    return done;
  } catch (error) {
    await sweep(db, storage, [key]);
    throw error;
  }
}

/** Makes a content a file of a folder, under exactly this name. Resolves to whether there was none before. */
export async function putInFolder(
  dav: DavRequest,
  folderId: string,
  given: string,
  content: Content & { readonly hash: string },
  lessonDate: string | null = null,
): Promise<{ placementId: string; created: boolean }> {
  const name = keptName(given);
  return withContent(dav, content, async (tx) => {
    const folder = await folderFor(tx, dav.tree.viewer, folderId, 'add');
    const file = { ...content, name, given, lessonDate };
    return putNamed(tx, dav.person, folder, file, dav.t, dav.services.settings);
  });
}

/** Keeps a content as a file of the program's own. */
export async function putAside(
  dav: DavRequest,
  file: Pick<DavFile, 'parent' | 'name'> & Partial<Pick<DavFile, 'placementId'>>,
  content: Content,
): Promise<DavFile> {
  const { parent, name, placementId = null } = file;
  const { hash, size, mediaType } = content;
  const row = { parent, name, nameKey: nameKey(name), hash, size, mediaType, placementId };
  const write = (tx: Parameters<typeof writeDavFile>[0]) =>
    writeDavFile(tx, dav.person, row, dav.t);
  if (hash === null) return dav.services.db.transaction(write);
  return withContent(dav, { ...content, hash }, async (tx) => {
    await refuseBeyondQuota(tx, dav.services.settings, dav.person, size);
    await recordContent(tx, { schoolId: dav.person.schoolId, hash, size });
    return write(tx);
  });
}

/** Lets go of files of the program's own; their contents go where nothing else has them. */
export async function dropAside(dav: DavRequest, files: readonly DavFile[]): Promise<void> {
  const { db, storage } = dav.services;
  await removeDavFiles(
    db,
    files.map(({ id }) => id),
  );
  await sweep(
    db,
    storage,
    files.flatMap(({ schoolId, hash }) => (hash === null ? [] : { schoolId, hash })),
  );
}

/** Names that programs give to files while they work, and systems to what they note beside files: nobody means them to be handouts. */
const WORKING =
  /^(?:\.|~)|(?:\.(?:tmp|temp|part|partial|crdownload|swp|swx)|~|#)$|\.sb-[0-9a-f]{4,}-\w+$|^(?:desktop\.ini|thumbs\.db)$/iu;
export const isWorkingName = (name: string) => WORKING.test(name);
