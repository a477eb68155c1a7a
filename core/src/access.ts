import { audienceName, waysIn, type WayIn } from './audience.ts';
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
  readonly folders: ReadonlyMap<Id, Folder>;
  readonly placements: ReadonlyMap<Id, Placement>;
  readonly #places: ReadonlyMap<Id, readonly Placement[]>;
  readonly #handedOut: ReadonlyMap<string, readonly HandingOut[]>;
  readonly #onTarget: ReadonlyMap<Id, readonly HandingOut[]>;

  /** What `like`, another state of the same library, has in common with it is not made again. */
  constructor(
    readonly data: LibraryData,
    like?: Library,
  ) {
    const sameFolders = like?.data.folders === data.folders;
    const samePlacements = like?.data.placements === data.placements;
    this.folders = sameFolders ? like.folders : byId(data.folders);
    this.placements = samePlacements ? like.placements : byId(data.placements);
    this.#places = samePlacements ? like.#places : groupBy(data.placements, (p) => p.itemId);
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
    for (const key of waysIn(viewer, t)) {
      if (!passes(path, key, t)) continue;
      for (const handing of this.#onPath(path, key)) {
        if (!within(handing, t)) continue;
        const level = staff || handing.ofPlace ? handing.level : 'view';
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
    return waysIn(viewer, t).some((key) =>
      this.seenOn(key, placement.folderId, placement).some(
        ({ from, until }) => from <= t && t < until,
      ),
    );
  }

  /**
   * The instants at which somebody who is reached in this one way sees a folder, or, given a placement in it, the
   * placement: the rule of `seesFolder` and `seesPlacement` over all time.
   */
  seenOn(key: WayIn, folderId: Id, placement: Placement | null): Stretches {
    const path = this.#path(folderId);
    const open = this.openOn(key, folderId, placement);
    if (!path || !open) return NEVER;
    const handings = [
      ...this.#onPath(path, key),
      ...((placement && this.#handedOut.get(targetName('item', placement.itemId, key))) ?? []),
    ];
    return intersection([open], union(handings.map(stretchOf)));
  }

  /** When a folder, or a placement in it, would be seen on a way in if it were handed out there: null for never. */
  openOn(key: WayIn, folderId: Id, placement: Placement | null): Stretch | null {
    const path = this.#path(folderId);
    if (!path || placement?.binned || path.some((f) => f.binned)) return null;
    let open: Stretch | null = { from: -Infinity, until: Infinity };
    if (key.exempt) return open;
    if (path.some((f) => f.yearClosed)) return null;
    for (const { release } of placement ? [...path, placement] : path) {
      const read = releaseFor(release, key.reading);
      open = read.held ? null : overlap(open, stretchOf(read));
      if (!open) return null;
    }
    return open;
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

  #path(folderId: Id): Folder[] | null {
    const folder = this.folders.get(folderId);
    if (!folder) return null;
    const path = folder.path.map((id) => this.folders.get(id));
    return path.every((f) => f !== undefined) ? path : null;
  }

  /** What is handed out on a path to somebody who is reached in this one way, at any time. */
  #onPath(path: readonly Folder[], key: WayIn): HandingOut[] {
    return path.flatMap(({ id }) => this.#handedOut.get(targetName('folder', id, key)) ?? []);
  }
}

function byId<T extends { readonly id: Id }>(all: readonly T[]): ReadonlyMap<Id, T> {
  return new Map(all.map((one) => [one.id, one]));
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
function passes(path: readonly Folder[], key: WayIn, t: Instant): boolean {
  return path.every(
    (f) => !f.binned && (key.exempt || (!f.yearClosed && isOut(f.release, key.reading, t))),
  );
}
