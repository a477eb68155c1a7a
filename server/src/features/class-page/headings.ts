import type { ClassPageChange, HeadingChange, NewHeading } from '@sammlung/contract';
import type { z } from 'zod';
import { folderFor } from '../../domain/access/folders.ts';
import { viewerOf } from '../../domain/access/viewer.ts';
import {
  addHeading,
  changeHeading,
  lockClassPage,
  moveHeading,
  setClassPage,
} from '../../domain/class-pages.ts';
import { requireTaughtClass } from '../../domain/managed.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import { ownHeading } from './rights.ts';

type Needs = Pick<Services, 'db' | 'now'>;

/** Numbers the headings, or sets the folder where today's things of the class go: one to which the person may add. */
export async function setPage(
  { db, now }: Needs,
  person: SignedIn,
  classId: string,
  change: z.infer<typeof ClassPageChange>,
) {
  await db.transaction(async (tx) => {
    const taught = await requireTaughtClass(tx, person, classId);
    if (change.currentFolderId)
      await folderFor(tx, viewerOf(person, now()), change.currentFolderId, 'add');
    await setClassPage(tx, taught, change);
  });
}

export async function addHeadingTo(
  { db }: Needs,
  person: SignedIn,
  classId: string,
  facts: z.infer<typeof NewHeading>,
) {
  return db.transaction(async (tx) => {
    const { id, schoolId } = await requireTaughtClass(tx, person, classId);
    await lockClassPage(tx, id);
    return { id: await addHeading(tx, { schoolId, classId, ...facts }) };
  });
}

export async function editHeading(
  { db }: Needs,
  person: SignedIn,
  id: string,
  change: z.infer<typeof HeadingChange>,
) {
  await db.transaction(async (tx) => {
    await ownHeading(tx, person, id);
    await changeHeading(tx, id, change);
  });
}

export async function placeHeading(
  { db }: Needs,
  person: SignedIn,
  id: string,
  before: string | null,
) {
  await db.transaction(async (tx) => {
    const { classId } = await ownHeading(tx, person, id);
    await lockClassPage(tx, classId);
    await moveHeading(tx, await ownHeading(tx, person, id), before);
  });
}

/** Removes a heading, or brings it back. */
export async function setHeading(
  { db, now }: Needs,
  person: SignedIn,
  id: string,
  to: 'there' | 'removed',
) {
  await db.transaction(async (tx) => {
    await ownHeading(tx, person, id, to === 'there' ? 'removed' : 'there');
    await changeHeading(tx, id, { removedAt: to === 'there' ? null : new Date(now()) });
  });
}
