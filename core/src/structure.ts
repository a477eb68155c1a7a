import { Library } from './access.ts';
import { audienceName } from './audience.ts';
import type {
  Audience,
  Folder,
  HandingOut,
  Id,
  LibraryData,
  Placement,
  Release,
  ReleaseRule,
  Span,
} from './model.ts';

/** A folder, or an item where it lies. */
export interface Thing {
  readonly kind: 'folder' | 'placement';
  readonly id: Id;
}

/** A change to what lies where, to whom it is handed out, or to when it is out. `to` null is the top of the library. */
export type Change =
  | { readonly do: 'move'; readonly things: readonly Thing[]; readonly to: Id | null }
  | { readonly do: 'place'; readonly placements: readonly Id[]; readonly to: readonly Id[] }
  | { readonly do: 'remove'; readonly things: readonly Thing[] }
  | HandOutChange
  | { readonly do: 'take-back'; readonly handings: readonly Id[] }
  | ReleaseChange;

/** Handing things out to each of some audiences; an audience that has a thing already gets the new dates and level. */
export interface HandOutChange extends Span {
  readonly do: 'hand-out';
  readonly things: readonly Thing[];
  readonly audiences: readonly Audience[];
  readonly level: HandingOut['level'];
}

/** Other releases, in general (`classId` null) or for a class; null there: the class reads the general one again. */
export interface ReleaseChange {
  readonly do: 'release';
  readonly things: readonly Thing[];
  readonly rules: readonly { readonly classId: Id | null; readonly release: Release | null }[];
}

/** The library as it will be after the change; the input stays as it is. Unknown things are left out. */
export function afterChange(before: Library, change: Change): Library {
  return new Library({ ...before.data, ...changed(before, change) }, before);
}

function changed(before: Library, change: Change): Partial<LibraryData> {
  const { folders, placements, handingsOut } = before.data;
  if (change.do === 'place') return { placements: [...placements, ...placed(before, change)] };
  if (change.do === 'take-back') {
    const taken = new Set(change.handings);
    return { handingsOut: handingsOut.filter((h) => !taken.has(h.id)) };
  }
  if (change.do === 'hand-out') return { handingsOut: handedOut(before, change) };
  const named = (kind: Thing['kind']) =>
    new Set(change.things.filter((thing) => thing.kind === kind).map((thing) => thing.id));
  const folderIds = named('folder');
  const placementIds = named('placement');
  if (change.do === 'remove')
    return {
      folders: folders.map((f) => (folderIds.has(f.id) ? { ...f, binned: true } : f)),
      placements: placements.map((p) => (placementIds.has(p.id) ? { ...p, binned: true } : p)),
    };
  if (change.do === 'release')
    return {
      folders: folders.map((f) => (folderIds.has(f.id) ? released(f, change) : f)),
      placements: placements.map((p) => (placementIds.has(p.id) ? released(p, change) : p)),
    };
  const { to } = change;
  const above = to === null ? [] : (before.folders.get(to)?.path ?? []);
  return {
    folders: folders.map((f) => movedBelow(f, folderIds, above)),
    placements:
      to === null
        ? placements
        : placements.map((p) => (placementIds.has(p.id) ? { ...p, folderId: to } : p)),
  };
}

function movedBelow(folder: Folder, moved: ReadonlySet<Id>, above: readonly Id[]): Folder {
  const from = folder.path.findIndex((id) => moved.has(id));
  if (from < 0 || above.includes(folder.path[from]!)) return folder;
  return { ...folder, path: [...above, ...folder.path.slice(from)] };
}

function placed(
  before: Library,
  { placements, to }: Extract<Change, { do: 'place' }>,
): Placement[] {
  const items = new Set(placements.flatMap((id) => before.placements.get(id)?.itemId ?? []));
  const there = new Set(
    before.data.placements.filter((p) => !p.binned).map((p) => `${p.folderId} ${p.itemId}`),
  );
  return to.flatMap((folderId) =>
    [...items]
      .filter((itemId) => !there.has(`${folderId} ${itemId}`))
      .map((itemId) => ({
        id: `new ${folderId} ${itemId}`,
        folderId,
        itemId,
        binned: false,
        release: { held: false, from: null, until: null, perClass: new Map() },
      })),
  );
}

function handedOut(
  before: Library,
  { things, audiences, level, from, until }: HandOutChange,
): HandingOut[] {
  const targets = things.flatMap(({ kind, id }): HandingOut['target'][] => {
    if (kind === 'folder') return [{ kind, id }];
    const itemId = before.placements.get(id)?.itemId;
    return itemId === undefined ? [] : [{ kind: 'item', id: itemId }];
  });
  const fresh = targets.flatMap((target) =>
    audiences.map((audience): HandingOut => ({
      id: `new ${target.id} ${audience.id}`,
      target,
      audience,
      level,
      from,
      until,
    })),
  );
  const nameOf = (h: HandingOut) => `${h.target.id} ${audienceName(h.audience)}`;
  const perName = new Map(fresh.map((h) => [nameOf(h), h]));
  // What an entry has handed out stays beside it.
  const kept = before.data.handingsOut.filter((h) => h.appearanceId || !perName.has(nameOf(h)));
  return [...kept, ...perName.values()];
}

function released<T extends { readonly release: ReleaseRule }>(
  node: T,
  { rules }: ReleaseChange,
): T {
  const perClass = new Map(node.release.perClass);
  let general: Release = node.release;
  for (const { classId, release } of rules) {
    if (classId === null) general = release ?? { held: false, from: null, until: null };
    else if (release) perClass.set(classId, release);
    else perClass.delete(classId);
  }
  const { held, from, until } = general;
  return { ...node, release: { held, from, until, perClass } };
}
