import type {
  FolderChange,
  MadePaths,
  NewLink,
  Paths,
  PlacementChange,
  Placed,
  Placing,
  TopFolders,
  Tree,
} from '@sammlung/contract';
import { linkTitle } from '@sammlung/core';
import type { z } from 'zod';
import type { Queries } from '../../db/database.ts';
import { loadLibrary } from '../../domain/access/load-library.ts';
import { Rights } from '../../domain/access/rights.ts';
import { audienceNames, folderTabs } from '../../domain/access/tabs.ts';
import { ensureFolderPaths } from '../../domain/folder-paths.ts';
import { checkedTitle, notOnTop } from '../../domain/files/make-folder.ts';
import { yearsOfSchool } from '../../domain/courses.ts';
import { changeFolder as writeFolder, folderById } from '../../domain/folders.ts';
import {
  addItem,
  addPlacement,
  addPlacements,
  changeItem,
  itemById,
  freeItemTitle,
  keepPlacementOnTop,
} from '../../domain/placements.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import { itemNameTaken, topFoldersOf, treeOf } from './queries.ts';

type Needs = Pick<Services, 'db' | 'now'>;

export async function tree({ db, now }: Needs, person: SignedIn): Promise<Tree> {
  return { folders: await treeOf(db, person.id, now()) };
}

/** The topmost folders with their tabs. */
export async function topFolders({ db, now }: Needs, person: SignedIn): Promise<TopFolders> {
  if (person.kind === 'student') throw new AppError('not-found');
  const found = await topFoldersOf(db, person.id);
  const library = await loadLibrary(db, { folderIds: found.map((f) => f.id), itemIds: [] });
  const names = await audienceNames(db, library.data.handingsOut);
  return { folders: found.map((f) => ({ ...f, tabs: folderTabs(library, names, f.id, now()) })) };
}

/** Folders in folders, as they were dropped: what is there is taken, what is missing is made. */
export async function makePaths(
  { db, now }: Needs,
  person: SignedIn,
  { parentId, paths }: z.infer<typeof Paths>,
): Promise<MadePaths> {
  notOnTop(person, parentId);
  return db.transaction(async (tx) => {
    const parent =
      parentId === null ? null : await new Rights(tx, person, now()).folder(parentId, 'add');
    return ensureFolderPaths(tx, person, parent, paths);
  });
}

/** Renames, marks, colours and arranges a folder. For those who manage it, or made it where they may add. */
export async function changeFolder(
  { db, now }: Needs,
  person: SignedIn,
  folderId: string,
  change: FolderChange,
) {
  const folder = await new Rights(db, person, now()).changeableFolder(folderId);
  const { title, mark, ...rest } = change;
  await writeFolder(db, folder.id, {
    ...rest,
    ...(title !== undefined && title !== folder.title && { title: checkedTitle(title) }),
    ...(mark !== undefined && { mark: checkedMark(mark) }),
  });
}

/** The year of a folder in the person’s own library, and those that it could be of. */
export async function folderYear({ db, now }: Needs, person: SignedIn, folderId: string) {
  const { id } = await requireLibraryFolder(db, person, folderId, now());
  const years = await yearsOfSchool(db, person.schoolId);
  const own = (await folderById(db, id))!.yearId;
  const name = ({ id, label }: (typeof years)[number]) => ({ id, label });
  const year = years.find((one) => one.id === own);
  return {
    year: year ? { ...name(year), closed: year.closedAt !== null } : null,
    years: years.filter(({ closedAt }) => closedAt === null).map(name),
  };
}

/**
 * Sets the year of a folder, or none. Nobody sees more or less by that: a closed year, which closes its folders, is neither set nor left. Throws
 * `year-closed`.
 */
export async function putFolderInYear(
  { db, now }: Needs,
  person: SignedIn,
  folderId: string,
  yearId: string | null,
): Promise<void> {
  await db.transaction(async (tx) => {
    const { id } = await requireLibraryFolder(tx, person, folderId, now());
    const years = await yearsOfSchool(tx, person.schoolId, 'locked');
    const before = (await folderById(tx, id))!.yearId;
    if (yearId !== null && !years.some((year) => year.id === yearId))
      throw new AppError('not-found');
    if (years.some((year) => year.closedAt && (year.id === yearId || year.id === before)))
      throw new AppError('year-closed');
    await writeFolder(tx, id, { yearId });
  });
}

async function requireLibraryFolder(db: Queries, person: SignedIn, id: string, t: number) {
  if (person.kind === 'student') throw new AppError('not-found');
  return new Rights(db, person, t).folder(id, 'own');
}

/** Renames, dates and describes an item, for all places where it lies; `keepOnTop` is of this one. */
export async function changePlacement(
  { db, now }: Needs,
  person: SignedIn,
  placementId: string,
  { keepOnTop, title, url, ...rest }: PlacementChange,
) {
  await db.transaction(async (tx) => {
    const rights = new Rights(tx, person, now());
    if (keepOnTop !== undefined) {
      const [placement] = await rights.placements([placementId]);
      await keepPlacementOnTop(tx, placement!.id, keepOnTop);
    }
    const changes = {
      ...rest,
      ...(url !== undefined && { url }),
      ...(title !== undefined && { title }),
    };
    if (Object.keys(changes).length === 0) return;
    const placement = await rights.item(placementId);
    if (title !== undefined && title !== placement.title) changes.title = checkedTitle(title);
    if (url !== undefined) {
      const item = await itemById(tx, placement.itemId);
      if (item?.kind !== 'link') throw new AppError('not-allowed');
    }
    await changeItem(tx, placement.itemId, changes);
  });
}

/** Puts items into more folders: the same thing in several places. The viewer owns them and may add there. */
export async function place(
  { db, now }: Needs,
  person: SignedIn,
  { placements: ids, to }: z.infer<typeof Placing>,
): Promise<Placed> {
  const t = now();
  return db.transaction(async (tx) => {
    const rights = new Rights(tx, person, t);
    const targets = await rights.folders([...new Set(to)], 'add');
    const own = await rights.ownItems([...new Set(ids)]);
    const itemIds = [...new Set(own.map(({ itemId }) => itemId))];
    const folderIds = targets.map(({ id }) => id);
    const taken = await itemNameTaken(tx, folderIds, itemIds);
    if (taken !== null)
      throw new AppError('name-taken', { faults: [{ field: 'title', fault: taken }] });
    const putting = { schoolId: person.schoolId, addedBy: person.id, addedAt: new Date(t) };
    const made = await addPlacements(tx, putting, folderIds, itemIds);
    return { made, already: folderIds.length * itemIds.length - made.length };
  });
}

/** Makes a web link in a folder. Without a title it is called by its address, under a name that is free. */
export async function makeLink(
  { db, now }: Needs,
  person: SignedIn,
  { folderId, url, title: typed }: z.infer<typeof NewLink>,
) {
  const t = now();
  return db.transaction(async (tx) => {
    const folder = await new Rights(tx, person, t).folder(folderId, 'add');
    const title = typed?.trim()
      ? checkedTitle(typed)
      : await freeItemTitle(tx, folder.id, linkTitle(url));
    const createdAt = new Date(t);
    const { schoolId, id: ownerId } = person;
    const itemId = await addItem(tx, { schoolId, ownerId, kind: 'link', title, url, createdAt });
    const putting = { schoolId, addedBy: ownerId, addedAt: createdAt };
    return { id: await addPlacement(tx, { ...putting, folderId: folder.id, itemId }), title };
  });
}

/** One emoji. Throws `bad-request` for anything else. */
function checkedMark(mark: string | null): string | null {
  if (mark === null) return null;
  const characters = [...new Intl.Segmenter().segment(mark)];
  if (
    characters.length !== 1 ||
    !/\p{Extended_Pictographic}|\p{Regional_Indicator}|\u20E3/u.test(mark)
  )
    throw new AppError('bad-request', { faults: [{ field: 'mark', fault: 'no emoji' }] });
  return mark;
}
