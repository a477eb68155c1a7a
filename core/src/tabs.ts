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
    .flatMap((through) =>
      readingsOf(library, through.audience).map(({ classId, exempt }) => {
        const own = releaseState({ held: false, from: through.from, until: through.until }, t);
        const chain = exempt
          ? { state: 'out' as const, from: null }
          : chainState(rules, classId, t);
        const closed = !exempt && path.some((f) => f.yearClosed);
        const state = closed ? 'ended' : worse(own, chain.state);
        const starts = [own === 'later' ? through.from : null, chain.from].filter(
          (x) => x !== null,
        );
        const from = state === 'later' ? Math.max(...starts) : null;
        return { audience: through.audience, through, state, from };
      }),
    );
}

/** In which ways the people of an audience read releases, as `waysIn` has it for each of them. */
function readingsOf(
  { data: { readers } }: Library,
  { kind, id }: Audience,
): { classId: Id | null; exempt: boolean }[] {
  if (kind === 'staff' || (kind === 'person' && readers?.staff.has(id)))
    return [{ classId: null, exempt: true }];
  if (kind === 'class') return [{ classId: id, exempt: false }];
  const classIds = kind === 'course' ? (readers?.classesOf.get(id) ?? []) : [];
  if (classIds.length > 0) return classIds.map((classId) => ({ classId, exempt: false }));
  return [{ classId: null, exempt: false }];
}

function worse(a: ReleaseState, b: ReleaseState): ReleaseState {
  return BEST.indexOf(a) > BEST.indexOf(b) ? a : b;
}

/** Of several ways in the one by which most is seen soonest; the first of equals. Throws for none. */
export function bestOf<T extends Pick<Standing, 'state' | 'from'>>(several: readonly T[]): T {
  return several.reduce((a, b) => {
    const [rankA, rankB] = [BEST.indexOf(a.state), BEST.indexOf(b.state)];
    return rankB < rankA || (rankA === rankB && (b.from ?? 0) < (a.from ?? 0)) ? b : a;
  });
}

function best(standings: readonly Standing[]): Standing[] {
  return [...groupBy(standings, (s) => audienceName(s.audience)).values()].map(bestOf);
}
