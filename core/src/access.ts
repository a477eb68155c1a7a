import { audienceName, keysOf, type Key } from './audience.ts';
import type {
  Folder,
  HandingOut,
  Id,
  Instant,
  Level,
  LibraryData,
  Placement,
  Viewer,
} from './model.ts';
import { groupBy } from './group.ts';
import { isOut, releaseFor, within } from './release.ts';
import {
  intersection,
  NEVER,
  overlap,
  stretchOf,
  union,
  type Stretch,
  type Stretches,
} from './spans.ts';

/** What a viewer may do in a folder, from nothing to everything. */
export type Right = 'none' | Level | 'own';

const RANK: Record<Right, number> = { none: 0, view: 1, add: 2, manage: 3, own: 4 };

/** Whether `right` is at least `wanted`. */
export function allows(right: Right, wanted: Right): boolean {
  return RANK[right] >= RANK[wanted];
}

/**
 * The access rule of model.md over one library held in memory. It answers for any viewer at any instant.
 * The server asks the same of the database through one SQL module; tests hold the two to equal answers.
 */
export class Library {
  readonly folders = new Map<Id, Folder>();
  readonly placements = new Map<Id, Placement>();
  readonly #places: ReadonlyMap<Id, readonly Placement[]>;
  readonly #handedOut: ReadonlyMap<string, readonly HandingOut[]>;
  readonly #onTarget: ReadonlyMap<Id, readonly HandingOut[]>;

  constructor(readonly data: LibraryData) {
    for (const folder of data.folders) this.folders.set(folder.id, folder);
    for (const placement of data.placements) this.placements.set(placement.id, placement);
    this.#places = groupBy(data.placements, (p) => p.itemId);
    this.#handedOut = groupBy(data.handingsOut, ({ target, audience }) =>
      targetName(target.kind, target.id, audience),
    );
    this.#onTarget = groupBy(data.handingsOut, (h) => h.target.id);
  }

  /** Everything handed out on exactly this folder or item, at any time. */
  handingsOn(targetId: Id): readonly HandingOut[] {
    return this.#onTarget.get(targetId) ?? [];
  }

  /** Every place of an item, binned ones too. */
  placesOf(itemId: Id): readonly Placement[] {
    return this.#places.get(itemId) ?? [];
  }

  /** Whether the viewer sees the folder at `t`. Unknown folders are not seen. */
  seesFolder(viewer: Viewer, folderId: Id, t: Instant): boolean {
    return this.rightIn(viewer, folderId, t) !== 'none';
  }

  /** What the viewer may do in the folder at `t`. */
  rightIn(viewer: Viewer, folderId: Id, t: Instant): Right {
    const path = this.#path(folderId);
    if (!path) return 'none';
    if (owns(viewer, path)) return path.some((f) => f.binned) ? 'none' : 'own';
    const staff = viewer.person?.staff === true;
    let right: Right = 'none';
    for (const key of keysOf(viewer, t)) {
      if (!passes(path, key, t)) continue;
      for (const handing of this.#onPath(path, key, t)) {
        const level = staff ? handing.level : 'view';
        if (!allows(right, level)) right = level;
      }
    }
    return right;
  }

  /** Whether the viewer sees the placement at `t`. Unknown placements are not seen. */
  seesPlacement(viewer: Viewer, placementId: Id, t: Instant): boolean {
    const placement = this.placements.get(placementId);
    const path = placement && this.#path(placement.folderId);
    if (!path) return false;
    if (owns(viewer, path)) return !placement.binned && !path.some((f) => f.binned);
    return keysOf(viewer, t).some((key) => this.#keySeesPlacement(key, placement, t));
  }

  /** The same library with other things handed out. */
  withHandings(handingsOut: readonly HandingOut[]): Library {
    return new Library({ ...this.data, handingsOut });
  }

  /**
   * The instants at which somebody who is reached in this one way sees a folder, or, given a placement in it, the
   * placement: the rule of `seesFolder` and `seesPlacement` over all time.
   */
  seenOn(key: Key, folderId: Id, placement: Placement | null): Stretches {
    const path = this.#path(folderId);
    if (!path || placement?.binned || path.some((f) => f.binned)) return NEVER;
    let open: Stretch | null = { from: -Infinity, until: Infinity };
    if (!key.exempt) {
      if (path.some((f) => f.yearClosed)) return NEVER;
      for (const { release } of placement ? [...path, placement] : path) {
        const read = releaseFor(release, key.reading);
        open = read.held ? null : overlap(open, stretchOf(read));
        if (!open) return NEVER;
      }
    }
    const handings = [
      ...path.flatMap(({ id }) => this.#handedOut.get(targetName('folder', id, key)) ?? []),
      ...((placement && this.#handedOut.get(targetName('item', placement.itemId, key))) ?? []),
    ];
    return intersection([open], union(handings.map(stretchOf)));
  }

  /**
   * The folders a viewer may be told of on the way to `folderId`, topmost first, itself last: from the folder that
   * was handed out on. Empty when the folder is not seen. Nothing above the first one may show anywhere.
   */
  visiblePath(viewer: Viewer, folderId: Id, t: Instant): Folder[] {
    const path = this.#path(folderId) ?? [];
    let start = path.length;
    while (start > 0 && this.seesFolder(viewer, path[start - 1]!.id, t)) start -= 1;
    return path.slice(start);
  }

  /** Whether somebody who is reached in this one way sees the placement at `t`. */
  #keySeesPlacement(key: Key, placement: Placement, t: Instant): boolean {
    const path = this.#path(placement.folderId);
    if (!path || placement.binned || !passes(path, key, t)) return false;
    if (!key.exempt && !isOut(placement.release, key.reading, t)) return false;
    return (
      this.#onPath(path, key, t).length > 0 || this.#on('item', placement.itemId, key, t).length > 0
    );
  }

  #path(folderId: Id): Folder[] | null {
    const folder = this.folders.get(folderId);
    if (!folder) return null;
    const path = folder.path.map((id) => this.folders.get(id));
    return path.every((f) => f !== undefined) ? path : null;
  }

  #on(kind: 'folder' | 'item', id: Id, key: Key, t: Instant): HandingOut[] {
    const all = this.#handedOut.get(targetName(kind, id, key)) ?? [];
    return all.filter((handing) => within(handing, t));
  }

  #onPath(path: readonly Folder[], key: Key, t: Instant): HandingOut[] {
    return path.flatMap((folder) => this.#on('folder', folder.id, key, t));
  }
}

function targetName(
  kind: string,
  id: Id,
  audience: { kind: HandingOut['audience']['kind']; id: Id },
) {
  return `${kind}:${id}:${audienceName(audience)}`;
}

function owns(viewer: Viewer, path: readonly Folder[]): boolean {
  return viewer.person !== null && path.at(-1)?.ownerId === viewer.person.id;
}

/** Rule 2 for the folders of a path, read on one way in. */
function passes(path: readonly Folder[], key: Key, t: Instant): boolean {
  return path.every(
    (f) => !f.binned && (key.exempt || (!f.yearClosed && isOut(f.release, key.reading, t))),
  );
}
