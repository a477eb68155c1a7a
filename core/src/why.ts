import type { Library } from './access.ts';
import { waysIn, sameAudience, type WayIn } from './audience.ts';
import type { Folder, HandingOut, Id, Instant, Placement, Viewer } from './model.ts';
import { releaseFor, releaseState, type ReleaseState } from './release.ts';

/** What keeps somebody from seeing a thing on one way in. */
export interface Obstacle {
  /** `handing` is the handing out itself; `year` a folder whose year is closed. */
  readonly kind: 'handing' | 'folder' | 'placement' | 'year';
  readonly id: Id;
  readonly state: Exclude<ReleaseState, 'out'>;
  /** When it goes out, with `later`. */
  readonly from: Instant | null;
}

/** One handing out that concerns a viewer and a thing: whether it lets them see it, or what stands in between. */
export interface Reason {
  readonly handing: HandingOut;
  /** The way on which the viewer is reached. */
  readonly key: WayIn;
  readonly obstacle: Obstacle | null;
}

/** Why a viewer sees a folder, or a placement in it, or does not. */
export interface Explanation {
  readonly sees: boolean;
  readonly owns: boolean;
  readonly binned: boolean;
  readonly reasons: readonly Reason[];
}

/**
 * Explains the answer of the access rule for one viewer at `t`: the owner's right, the Bin, and each handing out on
 * the path or to the item that reaches the viewer. `sees` is what the rule says.
 */
export function explain(
  library: Library,
  viewer: Viewer,
  target: { readonly folderId: Id; readonly placementId: Id | null },
  t: Instant,
): Explanation {
  const folders = (library.folders.get(target.folderId)?.path ?? []).flatMap(
    (id) => library.folders.get(id) ?? [],
  );
  const placement =
    target.placementId === null ? undefined : library.placements.get(target.placementId);
  const binned = folders.some((f) => f.binned) || placement?.binned === true;
  const owns = viewer.person !== null && folders.at(-1)?.ownerId === viewer.person.id;
  const sees =
    target.placementId === null
      ? library.seesFolder(viewer, target.folderId, t)
      : library.seesPlacement(viewer, target.placementId, t);
  const handings = [...folders.map((f) => f.id), ...(placement ? [placement.itemId] : [])].flatMap(
    (id) => library.handingsOn(id),
  );
  const reasons = waysIn(viewer, t).flatMap((key) =>
    handings
      .filter((h) => sameAudience(h.audience, key))
      .map((handing) => ({
        handing,
        key,
        obstacle: obstacleOn(handing, key, folders, placement, t),
      })),
  );
  return { sees, owns, binned, reasons: owns ? [] : reasons };
}

function obstacleOn(
  handing: HandingOut,
  key: WayIn,
  folders: readonly Folder[],
  placement: Placement | undefined,
  t: Instant,
): Obstacle | null {
  const span = { held: false, from: handing.from, until: handing.until };
  const own = releaseState(span, t);
  if (own !== 'out') return { kind: 'handing', id: handing.id, state: own, from: span.from };
  if (key.exempt) return null;
  const closed = folders.find((f) => f.yearClosed);
  if (closed) return { kind: 'year', id: closed.id, state: 'ended', from: null };
  const nodes = [
    ...folders.map((f) => ({ kind: 'folder' as const, id: f.id, release: f.release })),
    ...(placement
      ? [{ kind: 'placement' as const, id: placement.id, release: placement.release }]
      : []),
  ];
  for (const { kind, id, release } of nodes) {
    const read = releaseFor(release, key.reading);
    const state = releaseState(read, t);
    if (state !== 'out') return { kind, id, state, from: state === 'later' ? read.from : null };
  }
  return null;
}
