import { randomBytes } from 'node:crypto';
import { fileName } from '@sammlung/core';
import type { Upload } from '@tus/utils';
import { viewerOf } from '../../domain/access/viewer.ts';
import { folderFor } from '../../domain/access/folders.ts';
import { AppError } from '../../platform/errors.ts';
import { requireTray } from '../../domain/tray.ts';
import { giveUpRoom, noteReceived, takeRoom } from '../../domain/quota.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { isCode } from '../../platform/storage.ts';
import { idleUploads } from './queries.ts';
import type { Uploads } from './uploads.ts';

/** Uploads from their announcement until they are placed or given up, with the room they take. */

/** An upload that nobody has gone on with for so long makes room for others of the same person. */
const IDLE_MS = 24 * 60 * 60 * 1000;
/** An upload has room for a moment before it is there. */
const JUST_BEGUN_MS = 60 * 60 * 1000;

/** Stands for the tray, where an upload goes into no folder. */
export const TRAY = 'tray';

type Needs = Pick<Services, 'db' | 'now' | 'storage' | 'settings'>;

/** Lets an upload begin, or says why it may not: before a single byte has been sent. Resolves to the id it is to have. */
export async function admit(
  needs: Needs,
  tus: Uploads,
  person: SignedIn,
  { into, name, size }: { into: string; name: string; size: number },
): Promise<string> {
  const { db, now, settings } = needs;
  if (into === TRAY) requireTray(person);
  else await folderFor(db, viewerOf(person, now()), into, 'add');
  if (!fileName(name)) throw new AppError('file-name-empty');
  if (size === 0) throw new AppError('empty-file');
  if (size > settings.uploadLimit) throw new AppError('file-too-large');
  const uploadId = randomBytes(16).toString('hex');
  const take = () => takeRoom(needs, person, uploadId, size, now());
  try {
    await take();
  } catch (error) {
    // What was left lying makes room for what is wanted now.
    if (!(error instanceof AppError) || (await endIdle(needs, tus, person)) === 0) throw error;
    await take();
  }
  return uploadId;
}

/** Notes how much of an upload has arrived. */
export async function noteArrived({ db, now }: Needs, tus: Uploads, uploadId: string) {
  const upload = await openUpload(tus, uploadId);
  if (upload) await noteReceived(db, uploadId, upload.offset, now());
}

/** Ends uploads that are a week old, and gives back the room of those that are no more. */
export async function endUploads({ db, now }: Needs, tus: Uploads): Promise<void> {
  await tus.cleanUp();
  for (const id of await idleUploads(db, new Date(now() - JUST_BEGUN_MS), null))
    if (!(await openUpload(tus, id))) await giveUpRoom(db, id);
}

/** Gives up a person's uploads with which nobody has gone on for a day. Resolves to how many there were. */
async function endIdle({ db, now }: Needs, tus: Uploads, person: SignedIn): Promise<number> {
  const idle = await idleUploads(db, new Date(now() - IDLE_MS), person.id);
  for (const id of idle) {
    if (await openUpload(tus, id)) await tus.store.remove(id);
    await giveUpRoom(db, id);
  }
  return idle.length;
}

/** An upload that has not been placed, given up or ended; else null. */
async function openUpload({ store }: Uploads, id: string): Promise<Upload | null> {
  try {
    return await store.getUpload(id);
  } catch (error) {
    if (isGone(error)) return null;
    throw error;
  }
}

/** An upload of this person; null for anybody else's, and for none. */
export async function ownUpload(tus: Uploads, person: SignedIn, id: string) {
  const upload = /^[0-9a-f]{32}$/u.test(id) ? await openUpload(tus, id) : null;
  return upload?.metadata?.personId === person.id ? upload : null;
}

/** The same; where there is none, `not-found`. */
export async function uploadOf(tus: Uploads, person: SignedIn, id: string): Promise<Upload> {
  const upload = await ownUpload(tus, person, id);
  if (!upload) throw new AppError('not-found');
  return upload;
}

/** Whether this says that an upload is not there any more. */
function isGone(error: unknown): boolean {
  if (isCode(error, 'ENOENT')) return true;
  const status = error instanceof Object && 'status_code' in error ? error.status_code : 0;
  return status === 404 || status === 410;
}
