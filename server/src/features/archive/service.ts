import { once } from 'node:events';
import type { Readable } from 'node:stream';
import {
  freeFileTitle,
  freeTitle,
  groupBy,
  nameKey,
  splitName,
  withExtension,
} from '@sammlung/core';
import { ZipArchive } from 'archiver';
import mime from 'mime-types';
import type { Queries } from '../../db/database.ts';
import { placesOwn, placesTaught } from '../../domain/boxes.ts';
import { topFoldersOwned } from '../../domain/folders.ts';
import { recordsAbout, tablesAbout } from '../../domain/held.ts';
import { noteOpenings } from '../../domain/openings.ts';
import { AppError } from '../../platform/errors.ts';
import { thingsBelow, type FolderRecord, type ItemRecord } from '../../domain/access/below.ts';
import type { Viewer } from '../../domain/access/access-sql.ts';
import type { OpenContent, Storage } from '../../platform/storage.ts';
import { cardsSeen } from '../../domain/access/cards.ts';
import { pageDocument, type NameThings } from '../../domain/pages/document.ts';
import { picturesOf, type PagePicture } from '../../domain/pages/pages.ts';

type Source = OpenContent | Readable | Buffer | string | null;

/** Files up to this size are read at once; so many entries are read ahead. */
const SMALL = 1 << 20;
const AHEAD = 6;

/** A thing to take along. */
export interface Taken {
  readonly kind: 'folder' | 'placement';
  readonly id: string;
}

/** One entry of an archive: a folder, an item, or a picture of a page. */
interface Entry {
  readonly path: string;
  readonly item: ItemRecord | null;
  readonly picture?: PagePicture;
  /** What stands in it, where it is neither. */
  readonly text?: () => Promise<string>;
  /** Of a page: the name of the folder beside it in which its pictures are. */
  readonly pictures?: { readonly folder: string; readonly names: ReadonlyMap<string, string> };
}

/** What an archive will hold, and how things on its pages are called for whoever takes it. */
export interface Archive {
  readonly name: string;
  readonly entries: readonly Entry[];
  readonly nameThings: NameThings;
}

/**
 * What an archive of these things will hold: every folder and item the viewer sees, under names that any system can
 * keep. Throws `not-found` when one of the things is not seen.
 */
export async function archiveOf(
  db: Queries,
  viewer: Viewer,
  things: readonly Taken[],
): Promise<Archive> {
  const { folders, items } = await thingsBelow(db, viewer, things);
  await noteOpenings(db, viewer, 'downloaded', items);
  const [first] = folders;
  const name =
    things.length === 1 && first ? first.title : (items[0]?.folderTitle ?? first?.title ?? '');
  const single = new Set(things.flatMap((x) => (x.kind === 'placement' ? [x.id] : [])));
  return {
    name: `${name}.zip`,
    entries: await entriesWithPictures(db, folders, items, single),
    nameThings: (asked) => cardsSeen(db, viewer, asked),
  };
}

/**
 * Everything in the places of hand-in boxes of classes that the person teaches: a folder for each class, in it one for each
 * student by the family name. Throws `not-found` for a box that is not one of theirs.
 */
export async function boxArchive(
  db: Queries,
  viewer: Viewer,
  boxIds: readonly string[],
): Promise<Archive> {
  const places = await placesTaught(db, viewer.personId ?? '', boxIds);
  const found = groupBy(places, ({ boxId }) => boxId);
  if (found.size < new Set(boxIds).size) throw new AppError('not-found');
  const severalOf = (classId: string) =>
    new Set(places.filter((place) => place.classId === classId).map(({ boxId }) => boxId)).size > 1;
  const tops = [...found].map(([id, [first]]) => ({
    ...{ id, parentId: null },
    title: severalOf(first!.classId) ? `${first!.code} ${first!.title}` : first!.code,
  }));
  return archiveOfPlaces(db, viewer, {
    name: `${places[0]!.title}.zip`,
    tops,
    asFolder: places.flatMap(({ placeId, boxId, name }) => {
      if (placeId === null) return [];
      const { family, given } = splitName(name);
      const title = given === '' ? family : `${family}, ${given}`;
      return { id: placeId, parentId: boxId, title };
    }),
  });
}

/** All that a student has handed in and was given: a folder for each box. Throws `not-found` for whoever has no place. */
export async function ownBoxArchive(db: Queries, viewer: Viewer): Promise<Archive> {
  const places = await placesOwn(db, viewer.personId ?? '');
  const [first] = places;
  if (!first) throw new AppError('not-found');
  return archiveOfPlaces(db, viewer, {
    name: `${first.name}.zip`,
    tops: [],
    asFolder: places.flatMap(({ placeId, code, title }) =>
      placeId === null ? [] : { id: placeId, parentId: null, title: `${code} ${title}` },
    ),
  });
}

/**
 * All that is held about a person: what is in their library or on their desk, what they have handed in, and in a folder called `records` the
 * rows of each table that are about them.
 */
export async function heldArchive(
  db: Queries,
  viewer: Viewer,
  { id, name }: { readonly id: string; readonly name: string },
  records: string,
): Promise<Archive> {
  const places = await placesOwn(db, id);
  const handedIn = places.flatMap(({ placeId, code, title }) =>
    placeId === null ? [] : { id: placeId, parentId: null, title: `${code} ${title}` },
  );
  const asFolder = [...(await topFoldersOwned(db, id)), ...handedIn];
  const archive = await archiveOfPlaces(db, viewer, { name: `${name}.zip`, tops: [], asFolder });
  const tables = await tablesAbout(db, id);
  return {
    ...archive,
    entries: [
      ...archive.entries,
      ...tables.map((table) => ({
        ...{ path: `${records}/${table}.json`, item: null },
        text: () => recordsAbout(db, table, id),
      })),
    ],
  };
}

/** An archive of places, each as the folder it is to be, below `tops`. */
async function archiveOfPlaces(
  db: Queries,
  viewer: Viewer,
  {
    name,
    tops,
    asFolder,
  }: { name: string; tops: readonly FolderRecord[]; asFolder: readonly FolderRecord[] },
): Promise<Archive> {
  const things = asFolder.map(({ id }) => ({ kind: 'folder' as const, id }));
  const { folders, items } = await thingsBelow(db, viewer, things);
  await noteOpenings(db, viewer, 'downloaded', items);
  const byId = new Map(asFolder.map((folder) => [folder.id, folder]));
  const listed = folders.map((folder) => byId.get(folder.id) ?? folder);
  return {
    name,
    entries: await entriesWithPictures(db, [...tops, ...listed], items, new Set()),
    nameThings: (asked) => cardsSeen(db, viewer, asked),
  };
}

/** The entries of things, with the pictures of the pages among them. */
async function entriesWithPictures(
  db: Queries,
  folders: readonly FolderRecord[],
  items: readonly ItemRecord[],
  single: ReadonlySet<string>,
): Promise<Entry[]> {
  const pages = items.flatMap(({ kind, versionId }) => (kind === 'page' && versionId) || []);
  const pictures = groupBy(await picturesOf(db, pages), (picture) => picture.versionId);
  return entriesOf(folders, items, single, pictures);
}

function entriesOf(
  folders: readonly FolderRecord[],
  items: readonly ItemRecord[],
  single: ReadonlySet<string>,
  pictures: ReadonlyMap<string, readonly PagePicture[]>,
): Entry[] {
  const entries: Entry[] = [];
  /** Names taken in each folder of the archive. */
  const taken = new Map<string, Set<string>>();
  const free = (at: string, title: string, extension = '') => {
    const names = taken.get(at) ?? new Set();
    taken.set(at, names);
    const found =
      extension === ''
        ? freeTitle(title, names)
        : withExtension(freeFileTitle({ title, extension }, names), extension);
    names.add(nameKey(found));
    return found;
  };
  const paths = new Map<string, string>();
  for (const { id, parentId, title } of folders) {
    const above = parentId === null ? '' : (paths.get(parentId) ?? '');
    const path = `${above}${free(above, title)}/`;
    paths.set(id, path);
    entries.push({ path, item: null });
  }
  for (const item of items) {
    const folder = paths.get(item.folderId);
    const at = folder ?? '';
    // An item that was chosen by itself and also lies in a folder that was chosen is there once.
    if (folder === undefined && !single.has(item.placementId)) continue;
    const path = at + free(at, item.title, extensionOf(item));
    const own = pictures.get(item.versionId ?? '') ?? [];
    if (own.length === 0) {
      entries.push({ path, item });
      continue;
    }
    const beside = free(at, `${item.title} pictures`);
    const names = new Map(
      own.map((picture, n) => [picture.hash, `${n + 1}.${mime.extension(picture.mediaType)}`]),
    );
    entries.push({ path, item, pictures: { folder: beside, names } });
    for (const picture of own)
      entries.push({ path: `${at}${beside}/${names.get(picture.hash)}`, item: null, picture });
  }
  return entries;
}

const extensionOf = ({ kind, extension }: ItemRecord) =>
  kind === 'link' ? 'url' : kind === 'page' ? 'html' : extension;

/**
 * The archive as a stream: one entry after the other, so that it takes little memory however large it is. Contents are
 * not packed, since nearly all of them are already. A file whose content has gone since is named in a note.
 */
export function streamArchive(storage: Storage, contents: Archive): ZipArchive {
  const archive = new ZipArchive({ store: true, forceZip64: false });
  void fill(archive, storage, contents).catch((error: Error) => archive.destroy(error));
  return archive;
}

async function fill(archive: ZipArchive, storage: Storage, { entries, nameThings }: Archive) {
  const missing: string[] = [];
  // Whoever took it may go away at any time.
  const gone = new AbortController();
  archive.once('close', () => gone.abort());
  const sources = readAhead(entries, (entry) => sourceOf(storage, entry, nameThings));
  try {
    for await (const [{ path, item }, source] of sources) {
      if (source === null) {
        missing.push(path);
        continue;
      }
      const done = once(archive, 'entry', { signal: gone.signal });
      const content = isOpen(source) ? source.stream() : source;
      archive.append(content, { name: path, ...(item && { date: new Date(item.changedAt) }) });
      try {
        await done;
      } finally {
        // With it goes the open file, also where nobody has read it to its end.
        if (typeof content === 'object' && 'destroy' in content) content.destroy();
      }
    }
  } catch (error) {
    if (gone.signal.aborted) return;
    throw error;
  }
  if (missing.length > 0)
    archive.append(`These were deleted while the archive was made:\n\n${missing.join('\n')}\n`, {
      name: 'Not in this archive.txt',
    });
  await archive.finalize();
}

/** Each entry with what it holds; the next ones are being read while one is used. Files that are not used are closed. */
async function* readAhead(
  entries: readonly Entry[],
  read: (entry: Entry) => Promise<Source> | Source,
): AsyncGenerator<[Entry, Source]> {
  const coming: Promise<Source>[] = [];
  let next = 0;
  try {
    for (const entry of entries) {
      while (coming.length < AHEAD && next < entries.length) {
        const source = Promise.resolve(read(entries[next]!));
        // A failure is told when its turn comes.
        source.catch(() => undefined);
        coming.push(source);
        next += 1;
      }
      yield [entry, await coming.shift()!];
    }
  } finally {
    for (const source of await Promise.allSettled(coming))
      if (source.status === 'fulfilled' && isOpen(source.value)) await source.value.close();
  }
}

const isOpen = (source: Source): source is OpenContent =>
  source instanceof Object && 'stream' in source;

/** What an entry holds: a small file as it is, a large one open; null when it is gone. */
async function sourceOf(
  storage: Storage,
  { item, picture, pictures, text }: Entry,
  nameThings: NameThings,
): Promise<Source> {
  if (text) return text();
  if (picture) return storage.open(picture);
  if (!item) return '';
  if (item.kind === 'link') return `[InternetShortcut]\r\nURL=${item.url}\r\n`;
  if (item.kind === 'page')
    return pageDocument(
      storage,
      item,
      nameThings,
      pictures &&
        (async (hash) => encodeURI(`${pictures.folder}/${pictures.names.get(hash) ?? ''}`)),
    );
  const content = await storage.open({ schoolId: item.schoolId, hash: item.hash ?? '' });
  if (!content || content.size > SMALL) return content;
  try {
    return await content.read(Buffer.alloc(content.size), 0);
  } finally {
    await content.close();
  }
}
