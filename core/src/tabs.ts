import type { Library } from './access.ts';
import { audienceName } from './audience.ts';
import { groupBy } from './group.ts';
import type { Audience, HandingOut, Id, Instant } from './model.ts';
import { chainState, releaseState, type ReleaseState } from './release.ts';

/** How a folder or item stands to one audience, and through which handing out. */
export interface Standing {
  readonly audience: Audience;
  readonly state: ReleaseState;
  /** When it goes out, with `later`. */
  readonly from: Instant | null;
  readonly through: HandingOut;
}

/** From seen to not seen. */
const BEST: readonly ReleaseState[] = ['out', 'later', 'held', 'ended'];

/** Every audience a folder is or will be or was handed out to, each once with its best state. */
export function folderStandings(library: Library, folderId: Id, t: Instant): Standing[] {
  return best(standingsOf(library, folderId, null, t));
}

/** The same for an item, over all the places where it lies. */
export function itemStandings(library: Library, itemId: Id, t: Instant): Standing[] {
  const places = library.placesOf(itemId).filter((p) => !p.binned);
  return best(places.flatMap((p) => standingsOf(library, p.folderId, p.id, t)));
}

/** Every handing out that concerns a folder, or a placement in it, with how it stands: not yet merged by audience. */
export function standingsOf(
  library: Library,
  folderId: Id,
  placementId: Id | null,
  t: Instant,
): Standing[] {
  const path = (library.folders.get(folderId)?.path ?? []).flatMap(
    (id) => library.folders.get(id) ?? [],
  );
  const placement = placementId === null ? undefined : library.placements.get(placementId);
  if (path.length === 0 || path.some((f) => f.binned)) return [];
  const ids = [...path.map((f) => f.id), ...(placement ? [placement.itemId] : [])];
  const rules = [...path.map((f) => f.release), ...(placement ? [placement.release] : [])];
  return ids
    .flatMap((id) => library.handingsOn(id))
    .map((through) => {
      const { audience } = through;
      const own = releaseState({ held: false, from: through.from, until: through.until }, t);
      const chain =
        audience.kind === 'staff'
          ? { state: 'out' as const, from: null }
          : chainState(rules, audience.kind === 'class' ? audience.id : null, t);
      const closed = audience.kind !== 'staff' && path.some((f) => f.yearClosed);
      const state = closed ? 'ended' : worse(own, chain.state);
      const starts = [own === 'later' ? through.from : null, chain.from].filter((x) => x !== null);
      return { audience, through, state, from: state === 'later' ? Math.max(...starts) : null };
    });
}

function worse(a: ReleaseState, b: ReleaseState): ReleaseState {
  return BEST.indexOf(a) > BEST.indexOf(b) ? a : b;
}

/** Of several ways in the one by which most is seen; the first of equals. Throws for none. */
export function bestOf<T extends { readonly state: ReleaseState }>(several: readonly T[]): T {
  return several.reduce((a, b) => (BEST.indexOf(b.state) < BEST.indexOf(a.state) ? b : a));
}

function best(standings: readonly Standing[]): Standing[] {
  return [...groupBy(standings, (s) => audienceName(s.audience)).values()].map(bestOf);
}
