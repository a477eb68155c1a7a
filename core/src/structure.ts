import { Library } from './access.ts';
import type { Folder, Id, LibraryData, Placement } from './model.ts';

/** A folder, or an item where it lies. */
export interface Thing {
  readonly kind: 'folder' | 'placement';
  readonly id: Id;
}

/** A change to what lies where. `to` null is the top of the library. */
export type StructuralChange =
  | { readonly do: 'move'; readonly things: readonly Thing[]; readonly to: Id | null }
  | { readonly do: 'place'; readonly placements: readonly Id[]; readonly to: readonly Id[] }
  | { readonly do: 'remove'; readonly things: readonly Thing[] };

/** The library as it will be after the change; the input stays as it is. Unknown things are left out. */
export function afterChange(before: Library, change: StructuralChange): Library {
  return new Library({ ...before.data, ...changed(before, change) });
}

function changed(before: Library, change: StructuralChange): Partial<LibraryData> {
  const { folders, placements } = before.data;
  if (change.do === 'place') return { placements: [...placements, ...placed(before, change)] };
  const named = (kind: Thing['kind']) =>
    new Set(change.things.filter((thing) => thing.kind === kind).map((thing) => thing.id));
  const folderIds = named('folder');
  const placementIds = named('placement');
  if (change.do === 'remove')
    return {
      folders: folders.map((f) => (folderIds.has(f.id) ? { ...f, binned: true } : f)),
      placements: placements.map((p) => (placementIds.has(p.id) ? { ...p, binned: true } : p)),
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
  { placements, to }: Extract<StructuralChange, { do: 'place' }>,
): Placement[] {
  const items = new Set(placements.flatMap((id) => before.placements.get(id)?.itemId ?? []));
  return to.flatMap((folderId) =>
    [...items]
      .filter(
        (itemId) =>
          !before.data.placements.some(
            (p) => p.folderId === folderId && p.itemId === itemId && !p.binned,
          ),
      )
      .map((itemId) => ({
        id: `new ${folderId} ${itemId}`,
        folderId,
        itemId,
        binned: false,
        release: { held: false, from: null, until: null, perClass: new Map() },
      })),
  );
}
