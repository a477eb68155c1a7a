import type { Tray, TrayAnswer, TrayFile, TrayKnown, TrayRules } from '@sammlung/contract';
import {
  extensionOf,
  Fingerprints,
  groupBy,
  nextUnit,
  propose,
  SURE,
  titlePatternFault,
  type PlacedFile,
  type TrayFolder,
} from '@sammlung/core';
import type { Queries } from '../../db/database.ts';
import { folderFor } from '../../domain/access/folders.ts';
import { filesWithClasses, foldersWithClasses } from '../../domain/access/class-reach.ts';
import { viewerOf } from '../../domain/access/viewer.ts';
import { classesTaught } from '../../domain/classes.ts';
import { setClassPage } from '../../domain/class-pages.ts';
import { makeFolder } from '../../domain/files/make-folder.ts';
import { foldersOfLastLessons } from '../../domain/last-lesson.ts';
import { requireTaughtClass } from '../../domain/managed.ts';
import { setTrayRules } from '../../domain/teacher-settings.ts';
import {
  lockTray,
  removeTrayFiles,
  requireTray,
  restoreTrayFiles,
  setAnswer,
  waitingFiles,
} from '../../domain/tray.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import { currentFolders, deskOf, type Desk } from './desk.ts';
import { fingerprintsOf, madeOf, type MadeOf } from './queries.ts';

type Needs = Pick<Services, 'db' | 'now'>;

/** So much of a text is looked at for what a file is, in characters. */
const HEAD = 1200;
/** Among so many files of a library, the last ones, those of like names are looked for. */
const NEWEST = 3000;

/** The files in somebody's tray, with what is proposed for each. */
export async function trayOf({ db, now }: Needs, person: SignedIn): Promise<Tray> {
  requireTray(person);
  const t = now();
  const files = await waitingFiles(db, person.id);
  const hashes = files.flatMap(({ hash }) => hash ?? []);
  // Nothing is looked for where nothing is proposed.
  const newest = files.length > 0 ? NEWEST : 0;
  const [desk, made, prints] = await Promise.all([
    deskOf(db, person, t, { hashes, folderIds: [], newest }),
    madeOf(db, person.schoolId, hashes, HEAD),
    files.length > 0 ? fingerprintsOf(db, person.id) : [],
  ]);
  const proposals = propose({
    ...desk,
    files: files.map(({ id, name, hash, arrivedAt }) => ({
      ...{ id, name, hash: hash!, arrivedAt: arrivedAt.getTime() },
      text: made.get(hash!)?.text ?? '',
    })),
    now: t,
    zone: person.timeZone,
    titlePattern: desk.rules.titlePattern,
  });
  const nearly = await nearlyTheSame(db, person, desk, made, prints);
  const library = new SameFiles(desk);
  const seen = new Map<string, string>();
  const rows = files.map((file): TrayFile => {
    const { id, name, size, arrivedAt, answer } = file;
    const hash = file.hash!;
    const { kind, to, sureness, ...proposal } = proposals.get(id)!;
    const sameAs = seen.get(hash) ?? null;
    seen.set(hash, sameAs ?? id);
    const known = library.same(hash);
    const goesOut = desk.rules.goesOut[kind];
    return {
      ...{ id, name, size, sameAs, known },
      extension: extensionOf(name),
      arrivedAt: arrivedAt.toISOString(),
      small: made.get(hash)?.small ? hash.slice(0, 12) : null,
      proposal: {
        ...{ kind, ...proposal, reasons: [...proposal.reasons] },
        to: to.map((one) => ({ ...one, goesOut })),
        sure: sureness >= SURE,
      },
      answer: (answer as TrayAnswer | null) ?? null,
      nearly: known ? null : (nearly.get(hash) ?? null),
    };
  });
  const concerned = rows.flatMap(({ proposal, answer }) =>
    [...proposal.to, ...(answer?.to ?? [])].flatMap(({ folderId }) => folderId ?? []),
  );
  return {
    files: rows,
    classes: await classesOf(db, desk),
    folders: likelyFolders(desk, concerned),
    rules: desk.rules,
  };
}

/** Files of the library by their contents. */
class SameFiles {
  readonly #byHash: ReadonlyMap<string, readonly PlacedFile[]>;
  readonly #titles: ReadonlyMap<string, string>;

  constructor({ placed, folders }: Pick<Desk, 'placed' | 'folders'>) {
    this.#byHash = groupBy(placed, ({ hash }) => hash);
    this.#titles = new Map(folders.map(({ id, title }) => [id, title]));
  }

  same(hash: string): TrayKnown | null {
    const [first] = this.#byHash.get(hash) ?? [];
    if (!first) return null;
    const { itemId, placementId, title, folderId, at, classIds } = first;
    const folder = { id: folderId, title: this.#titles.get(folderId) ?? '' };
    return {
      ...{ itemId, placementId, title, folder },
      at: new Date(at).toISOString(),
      classIds: [...classIds],
    };
  }
}

/** Files of the library that have nearly the text of a file in the tray, by the hashes of those. */
async function nearlyTheSame(
  db: Services['db'],
  person: SignedIn,
  desk: Desk,
  made: ReadonlyMap<string, MadeOf>,
  prints: readonly { hash: string; fingerprint: string }[],
): Promise<ReadonlyMap<string, TrayKnown>> {
  const known = new Set(desk.placed.map(({ hash }) => hash));
  const texts = new Fingerprints(prints);
  const near = [...made.values()].flatMap(({ hash, fingerprint }) => {
    const found = fingerprint !== null && !known.has(hash) && texts.nearest(fingerprint);
    return found ? [{ hash, like: found.hash }] : [];
  });
  if (near.length === 0) return new Map();
  const wanted = { hashes: near.map(({ like }) => like), folderIds: [], newest: 0 };
  const library = new SameFiles({
    folders: desk.folders,
    placed: await filesWithClasses(db, desk.folders, person, wanted),
  });
  return new Map(
    near.flatMap(({ hash, like }) => {
      const found = library.same(like);
      return found ? [[hash, found] as const] : [];
    }),
  );
}

async function classesOf(db: Queries, desk: Desk): Promise<Tray['classes']> {
  const byId = new Map(desk.folders.map((folder) => [folder.id, folder]));
  const beside = groupBy(desk.folders, ({ parentId }) => parentId ?? '');
  const without = desk.classes.filter(({ currentFolderId }) => currentFolderId === null);
  const last = await foldersOfLastLessons(
    db,
    desk.folders,
    without.map(({ id }) => id),
  );
  const named = (folder: TrayFolder | undefined) =>
    folder ? { id: folder.id, title: folder.title } : null;
  return desk.classes.map(({ id, code, colour, course, currentFolderId }) => {
    const current = byId.get(currentFolderId ?? '');
    const next = current && nextUnit(current.title, beside.get(current.parentId ?? '') ?? []);
    return {
      ...{ id, code, colour, course },
      currentFolder: named(current),
      proposedFolder: named(last.get(id)),
      nextUnit: next ? { id: next.id, title: next.title } : null,
    };
  });
}

const siblingsOf = (folder: TrayFolder, folders: readonly TrayFolder[]) =>
  folders.filter((one) => one.parentId === folder.parentId);

/** The folders that are likely: those that were proposed or chosen, current ones, and what is beside, above and in these. */
function likelyFolders({ classes, folders }: Desk, concerned: readonly string[]): Tray['folders'] {
  const near = new Set([...concerned, ...classes.flatMap((c) => c.currentFolderId ?? [])]);
  const parents = new Set(
    folders.flatMap(({ id, parentId }) => (near.has(id) && parentId !== null ? [parentId] : [])),
  );
  return folders
    .filter(
      ({ id, parentId }) =>
        near.has(id) ||
        parents.has(id) ||
        (parentId !== null && (near.has(parentId) || parents.has(parentId))),
    )
    .map(({ id, title, parentId, classIds }) => ({ id, title, parentId, classIds: [...classIds] }));
}

/** Notes what was decided about a file. */
export async function answerFile(
  { db }: Needs,
  person: SignedIn,
  id: string,
  answer: TrayAnswer | null,
): Promise<void> {
  requireTray(person);
  await setAnswer(db, person.id, id, answer);
}

/** Takes files out of the tray, or puts them back. */
export async function setInTray(
  { db, now }: Needs,
  person: SignedIn,
  files: readonly string[],
  to: 'there' | 'removed',
): Promise<void> {
  requireTray(person);
  await db.transaction(async (tx) => {
    await lockTray(tx, person.id);
    if (to === 'removed') await removeTrayFiles(tx, person.id, files, now());
    else await restoreTrayFiles(tx, person.id, files);
  });
}

/** Sets the rules of a teacher. Throws `pattern-not-allowed`. */
export async function setRules({ db }: Needs, person: SignedIn, rules: TrayRules): Promise<void> {
  requireTray(person);
  const fault = titlePatternFault(rules.titlePattern);
  if (fault)
    throw new AppError('pattern-not-allowed', { faults: [{ field: 'titlePattern', fault }] });
  await setTrayRules(db, person, rules);
}

/** Moves a class on to its next unit; the folder is made where there is none. Throws `not-found` where none follows. */
export async function moveOn(needs: Needs, person: SignedIn, classId: string) {
  const { db, now } = needs;
  requireTray(person);
  const taught = await requireTaughtClass(db, person, classId);
  const current = (await currentFolders(db, person, [classId], now())).get(classId);
  if (!current) throw new AppError('not-found');
  // Of the folders of a colleague only this one is known.
  const folders = await foldersWithClasses(db, person.id, [current.id], now());
  const here = folders.find(({ id }) => id === current.id);
  const next = here && nextUnit(here.title, siblingsOf(here, folders));
  if (!next) throw new AppError('not-found');
  const id =
    next.id ??
    (await makeFolder(needs, person, { parentId: current.parentId, title: next.title })).id;
  await db.transaction(async (tx) => {
    await folderFor(tx, viewerOf(person, now()), id, 'add');
    await setClassPage(tx, taught, { currentFolderId: id });
  });
  return { id, title: next.title, before: current.id };
}

/** The classes of a teacher that a folder reaches to which they may add, with where the lessons of each go now. */
export async function lessonsIn({ db, now }: Needs, person: SignedIn, folderId: string) {
  requireTray(person);
  const t = now();
  await folderFor(db, viewerOf(person, t), folderId, 'add');
  const [[reached], taught] = await Promise.all([
    foldersWithClasses(db, null, [folderId], t),
    classesTaught(db, person.id, t),
  ]);
  const of = taught.filter(({ id }) => reached?.classIds.includes(id));
  const current = await currentFolders(
    db,
    person,
    of.map(({ id }) => id),
    t,
  );
  return {
    classes: of.map(({ id, code, colour }) => {
      const folder = current.get(id);
      return {
        ...{ id, code, colour, here: folder?.id === folderId },
        currentFolder: folder ? { id: folder.id, title: folder.title } : null,
      };
    }),
  };
}
