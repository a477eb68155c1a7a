import type {
  BoxChange,
  Boxes,
  BoxPlaces,
  ClearBoxes,
  NewBoxes,
  Place,
  TaughtBox,
} from '@sammlung/contract';
import { byFamilyName, splitName } from '@sammlung/core';
import { toDate, type Queries } from '../../db/database.ts';
import { folderFor } from '../../domain/access/folders.ts';
import { viewerOf } from '../../domain/access/viewer.ts';
import { KEPT_MS } from '../../domain/bin.ts';
import {
  addBoxes,
  boxById,
  boxesClearedBefore,
  changeBox,
  countPlaces,
  deleteBox,
  lockCleared,
  type BoxRecord,
} from '../../domain/boxes.ts';
import { sweep } from '../../domain/contents.ts';
import { lockTrees } from '../../domain/folders.ts';
import { destroy, giveBack, lockForPurge } from '../../domain/purge.ts';
import { checkedTitle } from '../../domain/files/make-folder.ts';
import { requireTaughtClass } from '../../domain/managed.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import {
  hasWork,
  ownBoxes,
  placeById,
  placesIn,
  taughtBoxes,
  thingsIn,
  type Listed,
} from './queries.ts';

type Needs = Pick<Services, 'db' | 'now'>;

/** The boxes in which somebody has a place, and those of the classes that they teach. */
export async function boxesOf({ db, now }: Needs, person: SignedIn, which: Listed): Promise<Boxes> {
  const t = now();
  return {
    own: person.kind === 'student' ? await ownBoxes(db, person.id, t, which) : [],
    taught: person.kind === 'teacher' ? await taughtBoxes(db, person.id, t, which) : [],
  };
}

/** Makes a box for each of some classes that the person teaches. */
export async function makeBoxes({ db, now }: Needs, person: SignedIn, asked: NewBoxes) {
  const title = checkedTitle(asked.title);
  const t = now();
  return db.transaction(async (tx) => {
    const classIds = [...new Set(asked.classIds)];
    for (const classId of classIds) await requireTaughtClass(tx, person, classId);
    const ids = await addBoxes(
      tx,
      classIds.map((classId) => ({
        ...{ schoolId: person.schoolId, classId, title, text: asked.text.trim() },
        ...{ endsAt: toDate(asked.endsAt), takesLate: asked.takesLate },
        ...{ createdBy: person.id, createdAt: new Date(t) },
      })),
    );
    return { ids, students: await countPlaces(tx, ids) };
  });
}

/** A box with the places of its students, by their family names. */
export async function placesOf(
  { db, now }: Needs,
  person: SignedIn,
  boxId: string,
): Promise<BoxPlaces> {
  const t = now();
  const box = await taughtBox({ db, now }, person, boxId);
  const found = await placesIn(db, boxId, person.id, t);
  const places = found
    .map((place) => ({ ...place, familyName: splitName(place.name).family }))
    .sort((a, b) => byFamilyName(a.name, b.name));
  return { box, places };
}

/** A box of a class that the person teaches, whatever its year. Throws `not-found`. */
export async function taughtBox(
  { db, now }: Needs,
  person: SignedIn,
  boxId: string,
): Promise<TaughtBox> {
  return (await taughtByIds(db, person, [boxId], now()))[0]!;
}

async function taughtByIds(db: Queries, person: SignedIn, ids: readonly string[], t: number) {
  if (person.kind !== 'teacher') throw new AppError('not-found');
  const found = await taughtBoxes(db, person.id, t, { ids });
  if (found.length < new Set(ids).size) throw new AppError('not-found');
  return found;
}

/**
 * Has what is in the places of closed boxes deleted for good after 30 days, or keeps it after all; boxes of closed years, too. Until then
 * students can read it and take it along. Throws `box-open`.
 */
export async function clear(
  { db, now }: Needs,
  person: SignedIn,
  { boxes: ids, clear: clears }: ClearBoxes,
): Promise<void> {
  const t = now();
  await db.transaction(async (tx) => {
    for (const box of await taughtByIds(tx, person, ids, t)) {
      if (box.state !== 'closed') throw new AppError('box-open');
      // Whoever clears again waits no longer than from the first time.
      if (clears === (box.goesAt !== null)) continue;
      await changeBox(tx, box.id, { clearedAt: clears ? new Date(t) : null });
    }
  });
}

/** Deletes for good the boxes that were cleared 30 days ago, with all that is in their places; a job runs it every night. */
export async function deleteCleared({ db, now, storage }: Needs & Pick<Services, 'storage'>) {
  const before = now() - KEPT_MS;
  for (const { id } of await boxesClearedBefore(db, before)) {
    const hashes = await db.transaction(async (tx) => {
      const placeIds = await lockCleared(tx, id, before);
      if (!placeIds) return [];
      await lockTrees(tx, placeIds);
      await lockForPurge(tx, placeIds, []);
      await giveBack(tx, placeIds, now());
      const gone = await destroy(tx, placeIds, []);
      await deleteBox(tx, id);
      return gone;
    });
    await sweep(db, storage, hashes);
  }
}

/** Changes a box, closes it or opens it again. */
export async function changeFacts(
  { db, now }: Needs,
  person: SignedIn,
  boxId: string,
  { title, text, endsAt, takesLate, closed }: BoxChange,
): Promise<void> {
  await db.transaction(async (tx) => {
    await requireChangeableBox({ db: tx }, person, boxId, 'there');
    await changeBox(tx, boxId, {
      ...(title !== undefined && { title: checkedTitle(title) }),
      ...(text !== undefined && { text: text.trim() }),
      ...(endsAt !== undefined && { endsAt: toDate(endsAt) }),
      ...(takesLate !== undefined && { takesLate }),
      // What takes something again is kept.
      ...(closed !== undefined &&
        (closed ? { closedAt: new Date(now()) } : { closedAt: null, clearedAt: null })),
    });
  });
}

/** Removes a box in which nothing has been handed in. Throws `box-not-empty`. */
export async function remove({ db, now }: Needs, person: SignedIn, boxId: string): Promise<void> {
  await db.transaction(async (tx) => {
    await requireChangeableBox({ db: tx }, person, boxId, 'there');
    // Nothing can be added from here on; what came before is seen.
    await changeBox(tx, boxId, { removedAt: new Date(now()) });
    if (await hasWork(tx, boxId)) throw new AppError('box-not-empty');
  });
}

/** Undoes the removal of a box. */
export async function restore({ db }: Needs, person: SignedIn, boxId: string): Promise<void> {
  await db.transaction(async (tx) => {
    await requireChangeableBox({ db: tx }, person, boxId, 'removed');
    await changeBox(tx, boxId, { removedAt: null });
  });
}

/** A box of a class of an open year that the person teaches. Throws `not-found`. */
export async function requireChangeableBox(
  { db }: Pick<Needs, 'db'>,
  person: SignedIn,
  boxId: string,
  removed: 'there' | 'removed',
): Promise<BoxRecord> {
  const box = await boxById(db, boxId, removed);
  if (!box) throw new AppError('not-found');
  await requireTaughtClass(db, person, box.classId);
  return box;
}

/** The place of a student with all that is in it, for whoever is let in. */
export async function place({ db, now }: Needs, person: SignedIn, placeId: string): Promise<Place> {
  const viewer = viewerOf(person, now());
  const folder = await folderFor(db, viewer, placeId);
  const found = folder.placeId === placeId ? await placeById(db, placeId, viewer.at) : null;
  if (!found) throw new AppError('not-found');
  return {
    ...found,
    own: found.personId === person.id,
    mayAdd: found.personId === person.id && found.mayAdd,
    things: await thingsIn(db, viewer, placeId),
  };
}
