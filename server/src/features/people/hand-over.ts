import type { PersonThings } from '@sammlung/contract';
import { folderName, freeTitle } from '@sammlung/core';
import type { Queries } from '../../db/database.ts';
import { giveEntries } from '../../domain/class-pages.ts';
import { replaceTeacher } from '../../domain/courses.ts';
import { giveDoors } from '../../domain/doors.ts';
import {
  addFolder,
  binFolders,
  folderNamesIn,
  lockTrees,
  moveLibrary,
  moveToLibrary,
} from '../../domain/folders.ts';
import { noteHandOver, noteUndone } from '../../domain/hand-overs.ts';
import { giveItems } from '../../domain/placements.ts';
import { changesBy } from '../../domain/log.ts';
import { AppError } from '../../platform/errors.ts';
import { requireOffice, type SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import {
  coursesTaughtAlone,
  deepestFolder,
  folderIsEmpty,
  lockPerson,
  thingsOf,
} from './queries.ts';

type Needs = Pick<Services, 'db' | 'now'>;

/** Folders are at most so many levels deep. */
const DEEPEST = 64;

/** Refuses to put a library into a folder where it has as many levels as there can be; resolves to how many it has. Throws `too-deep`. */
export async function refuseTooDeep(tx: Queries, ownerId: string): Promise<number> {
  const deepest = await deepestFolder(tx, ownerId);
  if (deepest >= DEEPEST) throw new AppError('too-deep');
  return deepest;
}

/**
 * Moves the library of one person into a folder of another’s that is called like whose it was; `folderId` is null where there was nothing.
 * Both libraries are locked. Throws `too-deep`.
 */
export async function moveWholeLibrary(
  tx: Queries,
  office: SignedIn,
  from: { readonly id: string; readonly name: string },
  to: string,
): Promise<{ folderId: string | null; topFolders: string[] }> {
  if ((await refuseTooDeep(tx, from.id)) === 0) return { folderId: null, topFolders: [] };
  const title = freeTitle(folderName(from.name) ?? '_', await folderNamesIn(tx, to, null));
  const folderId = await addFolder(tx, {
    ...{ schoolId: office.schoolId, ownerId: to, createdBy: office.id, title, parentId: null },
  });
  return { folderId, topFolders: await moveLibrary(tx, from.id, { id: folderId, ownerId: to }) };
}

async function requireTeacher(tx: Queries, office: SignedIn, id: string) {
  const person = await lockPerson(tx, office.schoolId, id);
  if (person?.kind !== 'teacher') throw new AppError('not-found');
  return person;
}

/** How much a teacher has. */
export async function personThings(
  { db }: Pick<Needs, 'db'>,
  office: SignedIn,
  id: string,
): Promise<PersonThings> {
  requireOffice(office);
  await requireTeacher(db, office, id);
  return { ...(await thingsOf(db, id)), courses: await coursesTaughtAlone(db, id) };
}

/** Gives all that a teacher has to a colleague. Throws `too-deep`. */
export async function handOver(
  { db, now }: Needs,
  office: SignedIn,
  from: string,
  to: string,
): Promise<{ id: string }> {
  requireOffice(office);
  if (from === to) throw new AppError('not-found');
  return db.transaction(async (tx) => {
    await changesBy(tx, office, now());
    // Two at once, in whatever direction, wait for each other.
    await lockTrees(tx, [from, to]);
    const people = new Map<string, Awaited<ReturnType<typeof requireTeacher>>>();
    for (const id of [from, to].sort()) people.set(id, await requireTeacher(tx, office, id));
    if (people.get(to)!.deactivatedAt !== null) throw new AppError('not-found');
    const { schoolId } = office;
    const courses = (await coursesTaughtAlone(tx, from)).map(({ id }) => id);
    const { folderId, topFolders } = await moveWholeLibrary(tx, office, people.get(from)!, to);
    const given = { from, to };
    const items = await giveItems(tx, given);
    const entries = await giveEntries(tx, given);
    const doors = await giveDoors(tx, given);
    await replaceTeacher(tx, courses, { schoolId, ...given });
    const id = await noteHandOver(tx, {
      ...{ schoolId, fromId: from, toId: to, folderId, topFolders, items, entries, doors, courses },
      ...{ createdBy: office.id, createdAt: new Date(now()) },
    });
    return { id };
  });
}

/** Gives it back, as far as it is still where it was put. Throws `name-taken`. */
export async function undoHandOver(
  { db, now }: Needs,
  office: SignedIn,
  id: string,
): Promise<void> {
  requireOffice(office);
  const t = now();
  await db.transaction(async (tx) => {
    await changesBy(tx, office, t);
    const made = await noteUndone(tx, office.schoolId, id, t);
    if (!made) throw new AppError('not-found');
    const { fromId, toId, folderId } = made;
    await lockTrees(tx, [fromId, toId]);
    if (folderId !== null) {
      await moveToLibrary(tx, made.topFolders, folderId, fromId);
      if (await folderIsEmpty(tx, folderId))
        await binFolders(tx, [folderId], { binnedAt: new Date(t), binnedBy: office.id });
    }
    const back = { from: toId, to: fromId };
    await giveItems(tx, { ...back, ids: made.items });
    await giveEntries(tx, { ...back, ids: made.entries });
    await giveDoors(tx, { ...back, ids: made.doors });
    await replaceTeacher(tx, made.courses, { schoolId: office.schoolId, ...back });
  });
}
