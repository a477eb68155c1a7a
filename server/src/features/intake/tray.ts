import { randomUUID } from 'node:crypto';
import type { InTray, IntoTray, KnownIntoTray } from '@sammlung/contract';
import { fileName } from '@sammlung/core';
import type { z } from 'zod';
import { lockContent, recordContent, sweep } from '../../domain/contents.ts';
import { isPreparable, sendToPrepare } from '../../domain/previews.ts';
import { giveUpRoom, lockRoom, refuseBeyondQuota } from '../../domain/quota.ts';
import { addTrayFile, fileOfUpload, lockTray, requireTray } from '../../domain/tray.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import { ownUpload, TRAY } from './open-uploads.ts';
import { ownContent } from './queries.ts';
import { lookInside } from './service.ts';
import type { Uploads } from './uploads.ts';

type Needs = Pick<Services, 'db' | 'now' | 'storage' | 'settings' | 'jobs'>;

/** Puts a finished upload into the tray of its person; asking twice answers the same. */
export async function intoTray(
  needs: Needs,
  tus: Uploads,
  person: SignedIn,
  { uploadId, answer }: z.infer<typeof IntoTray>,
): Promise<InTray> {
  const { db, now, storage, settings } = needs;
  requireTray(person);
  const { schoolId, id: personId } = person;
  const there = () => fileOfUpload(db, personId, uploadId);
  const upload = await ownUpload(tus, person, uploadId);
  if (!upload) return (await there()) ?? gone();
  if (upload.metadata?.folderId !== TRAY) throw new AppError('not-found');
  if (upload.offset !== upload.size) throw new AppError('upload-unfinished');
  const given = fileName(upload.metadata?.filename ?? '');
  if (!given) throw new AppError('file-name-empty');
  const { name, extension } = given;
  const found = await lookInside(storage, uploadId, extension);
  if (!found) return (await there()) ?? gone();
  const { hash, size, mediaType } = found;
  try {
    const id = await db.transaction(async (tx) => {
      await lockRoom(tx, personId);
      await lockTray(tx, personId);
      const known = await fileOfUpload(tx, personId, uploadId);
      if (known) return known.id;
      await giveUpRoom(tx, uploadId);
      await lockContent(tx, schoolId, hash);
      if (!(await ownContent(tx, personId, hash)))
        await refuseBeyondQuota(tx, settings, person, size);
      await storage.takeOver(uploadId, schoolId, hash);
      await recordContent(tx, { schoolId, hash, size, mediaType });
      const arrivedAt = new Date(now());
      return addTrayFile(tx, {
        ...{ schoolId, personId, name, hash, size, mediaType, uploadId, arrivedAt },
        answer: answer ?? null,
      });
    });
    await tus.store.remove(uploadId);
    if (isPreparable(mediaType)) await sendToPrepare(needs.jobs, schoolId, hash);
    return { id };
  } catch (error) {
    // No record speaks of what was kept.
    await sweep(db, storage, [{ schoolId, hash }]);
    throw error;
  }
}

/** Puts a file into the tray whose content a file of the person's own library has. Throws `not-found` when none has. */
export async function knownIntoTray(
  { db, now }: Needs,
  person: SignedIn,
  { name: given, hash, answer }: z.infer<typeof KnownIntoTray>,
): Promise<InTray> {
  requireTray(person);
  const name = fileName(given)?.name;
  if (!name) throw new AppError('file-name-empty');
  const { schoolId, id: personId } = person;
  return db.transaction(async (tx) => {
    await lockTray(tx, personId);
    await lockContent(tx, schoolId, hash);
    const own = await ownContent(tx, personId, hash);
    if (!own) throw new AppError('not-found');
    const uploadId = `known-${randomUUID()}`;
    const arrivedAt = new Date(now());
    return {
      id: await addTrayFile(tx, {
        ...{ ...own, schoolId, personId, name, hash, uploadId, arrivedAt },
        answer: answer ?? null,
      }),
    };
  });
}

function gone(): never {
  throw new AppError('not-found');
}
