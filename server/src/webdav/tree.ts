import { nameKey, withExtension } from '@sammlung/core';
import type { PageThing } from '@sammlung/contract';
import { foldersFor, folderFor, type SeenFolder } from '../domain/access/folders.ts';
import { classesOf } from '../domain/access/reached.ts';
import type { Viewer } from '../domain/access/access-sql.ts';
import { viewerOf } from '../domain/access/viewer.ts';
import { classesTaught } from '../domain/classes.ts';
import { placementFor } from '../domain/files/open.ts';
import {
  foldersSeen,
  itemsSeen,
  topFolders,
  walkLibrary,
  type WalkedFolder,
  type WalkedItem,
} from '../domain/files/walk.ts';
import { davFileNamed, davFilesIn, type DavFile } from '../domain/programs/dav-files.ts';
import { waitingFiles, type TrayFile } from '../domain/tray.ts';
import { AppError } from '../platform/errors.ts';
import type { SignedIn } from '../platform/sessions.ts';
import type { Services } from '../services.ts';
import { pageOf } from '../features/class-page/reading.ts';
import { keptThings } from '../features/keep/service.ts';
import { whatCame } from '../features/receive/queries.ts';
import { currentFolders } from '../features/tray/desk.ts';

/** A folder as programs have it: one of a library, or one of those that everybody has. */
export type Collection =
  | { readonly kind: 'root' | 'library' | 'tray' | 'classes' }
  /** What students have, which is no folder of anybody's library. */
  | { readonly kind: 'shelf'; readonly list: (tree: Tree) => Promise<Named[]> }
  | {
      readonly kind: 'class';
      readonly classId: string;
      readonly code: string;
      /** Where its lessons go now; null where that has not been said. */
      readonly folder: SeenFolder | null;
    }
  | {
      readonly kind: 'folder';
      readonly id: string;
      readonly title: string;
      /** The class among whose folders it was found. */
      readonly classId: string | null;
      /** Milliseconds. */
      readonly createdAt: number;
    };
/** A file as programs have it. */
export type Leaf =
  | { readonly kind: 'item'; readonly item: WalkedItem }
  | { readonly kind: 'tray-file'; readonly file: TrayFile }
  | { readonly kind: 'dav-file'; readonly file: DavFile };
export type DavNode = Collection | Leaf;

export const isLeaf = (node: DavNode): node is Leaf =>
  node.kind === 'item' || node.kind === 'tray-file' || node.kind === 'dav-file';

/** Something in a collection, by its name there. */
export interface Named {
  readonly name: string;
  readonly node: DavNode;
}

/** What a path leads to: what is there, where it is or would be, and what it is called. */
export interface Found {
  readonly names: readonly string[];
  readonly node: DavNode | null;
  /** Null for the root, and where the way to it breaks off. */
  readonly parent: Collection | null;
  readonly name: string;
}

const PLACES = {
  teacher: [
    ['Tray', 'tray'],
    ['Classes', 'classes'],
    ['Library', 'library'],
  ],
  student: [
    ['New', 'shelf'],
    ['My classes', 'shelf'],
    ['Kept', 'shelf'],
  ],
  office: [],
} as const;

/** Where a program's own files lie that are in a collection; null where there can be none. */
export function parentKey(collection: Collection): string | null {
  if (collection.kind === 'tray') return 'tray';
  const folderId = folderIdOf(collection);
  return folderId && `folder ${folderId}`;
}

/** The folder of the library in which things of a collection are; null for those that are none. */
export function folderIdOf(collection: Collection): string | null {
  if (collection.kind === 'folder') return collection.id;
  return collection.kind === 'class' ? (collection.folder?.id ?? null) : null;
}

/** By this the properties of a thing are found. */
export function nodeKey(node: DavNode): string {
  if (node.kind === 'item') return `placement ${node.item.placementId}`;
  if (node.kind === 'tray-file') return `tray ${node.file.id}`;
  if (node.kind === 'dav-file') return `file ${node.file.id}`;
  const folderId = folderIdOf(node);
  return folderId ? `folder ${folderId}` : node.kind;
}

/** What programs call an item: pages and links are documents there. */
export function nameOfItem({ kind, title, extension }: WalkedItem): string {
  if (kind === 'page') return `${title}.html`;
  return kind === 'link' ? `${title}.url` : withExtension(title, extension);
}
const STAND_IN = /\.(?:html|url)$/u;

/** The folders and files of one person as a program walks them, at one instant. Nothing is in it that they do not see on the screen. */
export class Tree {
  readonly viewer: Viewer;

  constructor(
    private readonly services: Pick<Services, 'db' | 'now'>,
    readonly person: SignedIn,
    readonly t: number,
  ) {
    this.viewer = viewerOf(person, t);
  }

  /** What names lead to. */
  async find(names: readonly string[]): Promise<Found> {
    const name = names.at(-1) ?? '';
    if (names.length === 0) return { names, name, node: { kind: 'root' }, parent: null };
    const parent = await this.#collectionAt(names.slice(0, -1));
    return { names, name, parent, node: parent && (await this.#child(parent, name)) };
  }

  async #collectionAt(names: readonly string[]): Promise<Collection | null> {
    let at: Collection = { kind: 'root' };
    let done = 0;
    // Most of a long way is through the person's own library.
    if (names.length > 2 && names[0] === 'Library' && this.person.kind === 'teacher') {
      const { steps, folderId } = await walkLibrary(
        this.services.db,
        this.person.id,
        names.slice(1).map(nameKey),
      );
      if (!folderId) return null;
      done = steps + 1;
      at = toFolder(await folderFor(this.services.db, this.viewer, folderId), null);
    }
    for (const name of names.slice(done)) {
      const next = await this.#child(at, name);
      if (!next || isLeaf(next)) return null;
      at = next;
    }
    return at;
  }

  async #child(parent: Collection, name: string): Promise<DavNode | null> {
    const folderId = folderIdOf(parent);
    if (!folderId) {
      if (parent.kind === 'library') {
        const [folder] = await topFolders(this.services.db, this.person.id, nameKey(name));
        return folder ? toFolder(folder, null) : null;
      }
      const key = nameKey(name);
      const all = await this.children(parent);
      return all.find((one) => nameKey(one.name) === key)?.node ?? null;
    }
    const { db } = this.services;
    const key = nameKey(name);
    const classId = parent.kind === 'class' || parent.kind === 'folder' ? parent.classId : null;
    const [own, [folder], items] = await Promise.all([
      davFileNamed(db, this.person.id, `folder ${folderId}`, key),
      foldersSeen(db, this.viewer, folderId, key),
      itemsSeen(db, this.viewer, folderId, key, key.replace(STAND_IN, '')),
    ]);
    if (own) return { kind: 'dav-file', file: own };
    if (folder) return toFolder(folder, classId);
    const item = items.find((one) => nameKey(nameOfItem(one)) === key);
    if (!item || (await this.#isSetAside(folderId, item.placementId))) return null;
    return { kind: 'item', item };
  }

  /** An item of a folder by its name, whether a program has set it aside or not. */
  async itemNamed(folderId: string, name: string): Promise<WalkedItem | null> {
    const key = nameKey(name);
    const items = await itemsSeen(this.services.db, this.viewer, folderId, key);
    return items.find((one) => nameKey(nameOfItem(one)) === key) ?? null;
  }

  async #isSetAside(folderId: string, placementId: string): Promise<boolean> {
    const own = await davFilesIn(this.services.db, this.person.id, `folder ${folderId}`);
    return own.some((file) => file.placementId === placementId);
  }

  /** What is in a collection, each under a name of its own. */
  async children(parent: Collection): Promise<Named[]> {
    return apart(await this.#childrenOf(parent));
  }

  async #childrenOf(parent: Collection): Promise<Named[]> {
    const { db } = this.services;
    const { person } = this;
    const folderId = folderIdOf(parent);
    if (folderId) return this.#inFolder(parent, folderId);
    switch (parent.kind) {
      case 'root':
        return PLACES[person.kind].map(([name, kind]) => ({
          name,
          node: kind === 'shelf' ? { kind, list: LISTS[name] } : { kind },
        }));
      case 'library':
        return (await topFolders(db, person.id)).map((folder) => named(folder, null));
      case 'classes':
        return this.#classes();
      case 'tray': {
        const [files, own] = await Promise.all([
          waitingFiles(db, person.id),
          davFilesIn(db, person.id, 'tray'),
        ]);
        return [
          ...own.map((file): Named => ({ name: file.name, node: { kind: 'dav-file', file } })),
          ...files.map((file): Named => ({ name: file.name, node: { kind: 'tray-file', file } })),
        ];
      }
      case 'shelf':
        return parent.list(this);
      default:
        return [];
    }
  }

  async #classes(): Promise<Named[]> {
    const { db } = this.services;
    const taught = await classesTaught(db, this.person.id, this.t);
    const ids = taught.map(({ id }) => id);
    const current = await currentFolders(db, this.person, ids, this.t);
    return taught.map(({ id, code }) => ({
      name: code,
      node: { kind: 'class', classId: id, code, folder: current.get(id) ?? null },
    }));
  }

  async #inFolder(parent: Collection, folderId: string): Promise<Named[]> {
    const { db } = this.services;
    const classId = parent.kind === 'class' || parent.kind === 'folder' ? parent.classId : null;
    const [folders, items, own] = await Promise.all([
      foldersSeen(db, this.viewer, folderId),
      itemsSeen(db, this.viewer, folderId),
      davFilesIn(db, this.person.id, `folder ${folderId}`),
    ]);
    const aside = new Set(own.map((file) => file.placementId));
    return [
      ...own.map((file): Named => ({ name: file.name, node: { kind: 'dav-file', file } })),
      ...folders.map((folder) => named(folder, classId)),
      ...items.flatMap((item): Named[] =>
        aside.has(item.placementId)
          ? []
          : [{ name: nameOfItem(item), node: { kind: 'item', item } }],
      ),
    ];
  }

  /** What came in for a student, newest first. */
  async cameIn(): Promise<Named[]> {
    const { things } = await whatCame(this.services.db, this.viewer, { limit: 1000 });
    return this.#placements(things.read().map(({ placementId }) => placementId));
  }

  async classPages(): Promise<Named[]> {
    const classes = await classesOf(this.services.db, this.viewer);
    return classes.map(({ id, code }) => ({
      name: code,
      node: { kind: 'shelf', list: (tree) => tree.#onPage(id) },
    }));
  }

  /** All that is on the page of a class. */
  async #onPage(classId: string): Promise<Named[]> {
    const page = await pageOf(this.services.db, this.viewer, classId);
    const entries = [...page.top, ...page.headings.flatMap((h) => h.entries), ...page.loose];
    return this.#things([...entries.flatMap(({ things }) => things), ...page.rest]);
  }

  async kept(): Promise<Named[]> {
    const { things } = await keptThings(this.services, this.person);
    return this.#things(
      things.flatMap(({ folderId, placementId, token }) => {
        // What was kept at a door opens at the door.
        if (token !== null) return [];
        if (folderId) return { kind: 'folder' as const, id: folderId };
        return placementId ? { kind: 'placement' as const, id: placementId } : [];
      }),
    );
  }

  async #things(all: readonly Pick<PageThing, 'kind' | 'id'>[]): Promise<Named[]> {
    const ids = (kind: PageThing['kind']) => [
      ...new Set(all.filter((one) => one.kind === kind).map(({ id }) => id)),
    ];
    const folders = await foldersFor(this.services.db, this.viewer, ids('folder'));
    return [
      ...[...folders.values()].map((folder) => named(folder, null)),
      ...(await this.#placements(ids('placement'))),
    ];
  }

  async #placements(ids: readonly string[]): Promise<Named[]> {
    const { db } = this.services;
    const found: Named[] = [];
    // Asked together they are answered together.
    const all = await Promise.all(
      [...new Set(ids)].map((id) => placementFor(db, this.viewer, id).catch(notSeen)),
    );
    for (const seen of all) {
      if (!seen) continue;
      const { placementId, itemId, folderId, kind, title, extension, url, hash } = seen;
      const changedAt = Date.parse(seen.changedAt);
      const item: WalkedItem = {
        ...{ placementId, itemId, folderId, kind, title, extension, url, hash },
        ...{ size: seen.size, mediaType: seen.mediaType, version: seen.version },
        ...{ createdAt: changedAt, changedAt },
      };
      found.push({ name: nameOfItem(item), node: { kind: 'item', item } });
    }
    return found;
  }
}

/** What is on the shelves of students. */
const LISTS = {
  New: (tree: Tree) => tree.cameIn(),
  'My classes': (tree: Tree) => tree.classPages(),
  Kept: (tree: Tree) => tree.kept(),
} as const;

function toFolder(
  { id, title, ...rest }: Pick<WalkedFolder, 'id' | 'title'> & Partial<WalkedFolder>,
  classId: string | null,
): Collection {
  return { kind: 'folder', id, title, classId, createdAt: rest.createdAt ?? 0 };
}

const named = (
  folder: Pick<WalkedFolder, 'id' | 'title'> & Partial<WalkedFolder>,
  classId: string | null,
): Named => ({ name: folder.title, node: toFolder(folder, classId) });

function notSeen(error: unknown): null {
  if (error instanceof AppError) return null;
  throw error;
}

/** Things of one name are told apart by a number before the extension. */
function apart(all: readonly Named[]): Named[] {
  const taken = new Set<string>();
  return all.map(({ name, node }) => {
    let free = name;
    for (let n = 2; taken.has(nameKey(free)); n += 1) free = numbered(name, n);
    taken.add(nameKey(free));
    return { name: free, node };
  });
}

function numbered(name: string, n: number): string {
  const dot = name.lastIndexOf('.');
  return dot > 0 ? `${name.slice(0, dot)} (${n})${name.slice(dot)}` : `${name} (${n})`;
}
