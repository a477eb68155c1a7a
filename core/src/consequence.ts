import { Library } from './access.ts';
import { groupAlike, type AlikeThings, type Place } from './alike.ts';
import { audienceName, type WayIn } from './audience.ts';
import type { Audience, HandingOut, Id, Instant, ShownDoor, Viewer } from './model.ts';
import type { InPieces } from './pieces.ts';
import { partiesOf, type Party, type Way } from './parties.ts';
import { intersection, NEVER, sameStretches, union, without, type Stretches } from './spans.ts';

/** One state of the affected part of a school: what lies there, and who might see it. */
export interface World {
  readonly library: Library;
  readonly people: readonly NonNullable<Viewer['person']>[];
  readonly doors: readonly ShownDoor[];
}

/** What some people come to see or cease to see. `people` is null where nobody can count them (a door). */
export interface Effect {
  readonly people: number | null;
  readonly items: number;
  readonly folders: number;
}

/** An effect that sets in after now, first at `from`. */
export interface LaterEffect extends Effect {
  readonly from: Instant;
}

export interface AudienceChange {
  readonly audience: Audience;
  readonly gains: Effect | null;
  readonly loses: Effect | null;
  readonly gainsLater: LaterEffect | null;
  readonly losesLater: LaterEffect | null;
}

/** The consequence of a change (model.md): per audience, and the distinct people who gain or lose at once. */
export interface Consequence {
  readonly audiences: readonly AudienceChange[];
  readonly peopleGaining: number;
  readonly peopleLosing: number;
}

/**
 * What changes for whom when `before` becomes `after`, at `t` and at every later instant at which something opens or
 * ends. People are counted once per audience through which they gain or lose; somebody who still sees a thing in
 * another way has not lost it. Owners of the folders are left out: their own sight never changes.
 */
export function* consequence(before: World, after: World, t: Instant): InPieces<Consequence> {
  const audiences = distinctAudiences([before.library, after.library]);
  const groups = yield* groupAlike(before.library, after.library);
  const parties = partiesOf(before, after, audiences);
  yield;
  const was = new Sight(before.library, groups, 'before');
  const is = new Sight(after.library, groups, 'after');
  return yield* compare(was, is, parties, audiences, t);
}

/**
 * What each of several changes would do at `t`, of which every one gives the handings out for one audience at a folder
 * another state: what they have in common is worked out once. Doors that are not there yet stand among the world's.
 */
export function* handingConsequences(
  world: World,
  folderId: Id,
  changes: readonly { readonly audience: Audience; readonly handingsOut: readonly HandingOut[] }[],
  t: Instant,
): InPieces<Consequence[]> {
  const { library } = world;
  const groups = yield* groupAlike(library, library, folderId);
  const audiences = [...distinctAudiences([library]), ...changes.map((c) => c.audience)];
  const parties = partiesOf(world, world, audiences);
  yield;
  const now = new Sight(library, groups, 'before');
  const results: Consequence[] = [];
  for (const { audience, handingsOut } of changes) {
    const after = new Sight(
      new Library({ ...library.data, handingsOut }, library),
      groups,
      'after',
    );
    results.push(yield* compare(now, after, parties, [audience], t));
    yield;
  }
  return results;
}

/** Whether model.md wants a question first: more people through school or public, or something taken from a class. */
export function asksFirst(result: Consequence): boolean {
  return result.audiences.some(({ audience, gains, gainsLater, loses, losesLater }) => {
    const opens = audience.kind === 'school' || audience.kind === 'door';
    const roster = audience.kind === 'class' || audience.kind === 'course';
    return (opens && (gains || gainsLater)) || (roster && (loses || losesLater));
  });
}

function distinctAudiences(libraries: readonly Library[]): Audience[] {
  const found = new Map<string, Audience>();
  for (const { data } of libraries)
    for (const { audience } of data.handingsOut) found.set(audienceName(audience), audience);
  return [...found.values()];
}

/** When things are seen on each way in, in one state of a library; each answer is worked out once. */
class Sight {
  readonly #seen = new Map<WayIn, Stretches[]>();

  constructor(
    readonly library: Library,
    readonly groups: readonly AlikeThings[],
    readonly side: 'before' | 'after',
  ) {}

  /** When the things of the n-th group are seen on a way in. */
  of(key: WayIn, n: number): Stretches {
    let known = this.#seen.get(key);
    if (!known) this.#seen.set(key, (known = []));
    return (known[n] ??= whenSeen(this.library, key, this.groups[n]![this.side]));
  }
}

function whenSeen(library: Library, key: WayIn, places: readonly Place[]): Stretches {
  if (places.length === 0) return NEVER;
  const each = places.map((p) => library.seenOn(key, p.folderId, p.placement));
  return each.length === 1 ? each[0]! : union(each.flat());
}

/** How one party comes to see, or ceases to see, a group of things through an audience. */
interface Change {
  readonly party: Party;
  readonly group: number;
  /** The first instant of it, from `t` on. */
  readonly from: Instant;
}

type Changes = Map<string, Change[]>;

/** `audiences` are the only ones whose sight may differ. */
function* compare(
  was: Sight,
  is: Sight,
  parties: readonly Party[],
  audiences: readonly Audience[],
  t: Instant,
): InPieces<Consequence> {
  const touched = new Set(audiences.map(audienceName));
  const before = (way: Way, n: number) => was.of(way.key, n);
  const after = (way: Way, n: number) =>
    touched.has(way.audience) ? is.of(way.key, n) : was.of(way.key, n);
  const gained: Changes = new Map();
  const lost: Changes = new Map();
  for (const party of parties) {
    // Who is reached as before comes to see, or ceases to, only on ways that are not what they were.
    const stays = party.before === party.after;
    const suspects = (ways: readonly Way[]) => ways.filter((way) => touched.has(way.audience));
    const [old, fresh] = stays
      ? [suspects(party.before), suspects(party.after)]
      : [party.before, party.after];
    for (let n = 0; old.length + fresh.length > 0 && n < was.groups.length; n += 1) {
      if (stays && old.every((way) => sameStretches(before(way, n), after(way, n)))) continue;
      surplus(gained, party, n, fresh, after, [party.before, before], t);
      surplus(lost, party, n, old, before, [party.after, after], t);
    }
    yield;
  }
  const { groups } = was;
  const lines = audiences.map((audience): AudienceChange => {
    const gains = effects(audience, gained.get(audienceName(audience)) ?? [], groups, t);
    const loses = effects(audience, lost.get(audienceName(audience)) ?? [], groups, t);
    return {
      audience,
      gains: gains.now,
      loses: loses.now,
      gainsLater: gains.later,
      losesLater: loses.later,
    };
  });
  return {
    audiences: lines.filter((l) => l.gains ?? l.loses ?? l.gainsLater ?? l.losesLater),
    peopleGaining: peopleAtOnce(gained, t),
    peopleLosing: peopleAtOnce(lost, t),
  };
}

/** When the things of the n-th group are seen on a way in, in one state of the world. */
type Seen = (way: Way, n: number) => Stretches;

/** Notes for each audience when a party sees a group on these ways, and on no way in the other state of the world. */
function surplus(
  noted: Changes,
  party: Party,
  group: number,
  ways: readonly Way[],
  there: Seen,
  [otherWays, elsewhere]: readonly [readonly Way[], Seen],
  t: Instant,
): void {
  let others: Stretches | null = null;
  for (const way of ways) {
    const seen = intersection(way.when, there(way, group));
    if (seen.length === 0) continue;
    others ??= union(otherWays.flatMap((w) => intersection(w.when, elsewhere(w, group))));
    const only = without(seen, others).find(({ until }) => until > t);
    if (!only) continue;
    const known = noted.get(way.audience) ?? [];
    noted.set(way.audience, known);
    known.push({ party, group, from: Math.max(only.from, t) });
  }
}

/** Sums up the changes for one audience; what is gained or lost at once already is not said again for later. */
function effects(
  audience: Audience,
  changes: readonly Change[],
  groups: readonly AlikeThings[],
  t: Instant,
): { now: Effect | null; later: LaterEffect | null } {
  const sum = (those: readonly Change[]): Effect => {
    const found = [...new Set(those.map((c) => c.group))].map((n) => groups[n]!);
    return {
      people: audience.kind === 'door' ? null : headcount(those),
      items: found.reduce((n, { itemIds }) => n + itemIds.length, 0),
      folders: found.reduce((n, { folders }) => n + folders, 0),
    };
  };
  const now = changes.filter((c) => c.from === t);
  const known = new Set(now.map((c) => c.group));
  const later = changes.filter((c) => !known.has(c.group));
  const first = later.reduce((from, c) => Math.min(from, c.from), Infinity);
  return {
    now: now.length > 0 ? sum(now) : null,
    later: later.length > 0 ? { ...sum(later), from: first } : null,
  };
}

function headcount(changes: readonly Change[]): number {
  const parties = new Set(changes.map((c) => c.party));
  return [...parties].reduce((n, { people }) => n + (people ?? 0), 0);
}

function peopleAtOnce(changes: Changes, t: Instant): number {
  return headcount([...changes.values()].flat().filter((c) => c.from === t));
}
