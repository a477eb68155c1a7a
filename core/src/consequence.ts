import type { Library } from './access.ts';
import { audienceName, keysOf, type Key } from './audience.ts';
import type { Audience, Id, Instant, ShownDoor, Span, Viewer } from './model.ts';

type Person = NonNullable<Viewer['person']>;

/** One state of the affected part of a school: what lies there, and who might see it. */
export interface World {
  readonly library: Library;
  readonly people: readonly Person[];
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
export function consequence(before: World, after: World, t: Instant): Consequence {
  const parties = groupPeople(before, after);
  const audiences = distinctAudiences(before, after);
  const now = difference(before, after, parties, t);
  const later = laterInstants(before, after, t).map((at) => ({
    at,
    ...difference(before, after, parties, at),
  }));

  const changes: AudienceChange[] = [];
  for (const audience of audiences) {
    const gains = effect(audience, now.gained);
    const loses = effect(audience, now.lost);
    const known = { gained: sightsOf(audience, now.gained), lost: sightsOf(audience, now.lost) };
    const gainsLater = laterEffect(
      audience,
      later.map(({ at, gained }) => ({ at, sights: gained })),
      known.gained,
    );
    const losesLater = laterEffect(
      audience,
      later.map(({ at, lost }) => ({ at, sights: lost })),
      known.lost,
    );
    if (gains || loses || gainsLater || losesLater)
      changes.push({ audience, gains, loses, gainsLater, losesLater });
  }
  return {
    audiences: changes,
    peopleGaining: countPeople(now.gained),
    peopleLosing: countPeople(now.lost),
  };
}

/** Whether model.md wants a question first: more people through school or public, or something taken from a class. */
export function asksFirst(result: Consequence): boolean {
  return result.audiences.some(({ audience, gains, gainsLater, loses, losesLater }) => {
    const opens = audience.kind === 'school' || audience.kind === 'door';
    const roster = audience.kind === 'class' || audience.kind === 'course';
    return (opens && (gains || gainsLater)) || (roster && (loses || losesLater));
  });
}

/** People who are reached alike in both worlds, or one door. */
interface Party {
  readonly before: Viewer | null;
  readonly after: Viewer | null;
  readonly people: number | null;
}

/** For one party: the things it gains or loses, and through which audiences it does. */
interface Sight {
  readonly party: Party;
  readonly things: ReadonlySet<string>;
  readonly through: ReadonlyMap<string, ReadonlySet<string>>;
}

function groupPeople(before: World, after: World): Party[] {
  const owners = new Set<Id>();
  const named = new Set<Id>();
  for (const { library } of [before, after]) {
    for (const folder of library.folders.values()) owners.add(folder.ownerId);
    for (const h of library.data.handingsOut)
      if (h.audience.kind === 'person') named.add(h.audience.id);
  }
  const pairs = new Map<Id, { before: Person | null; after: Person | null }>();
  for (const p of before.people) pairs.set(p.id, { before: p, after: null });
  for (const p of after.people)
    pairs.set(p.id, { before: pairs.get(p.id)?.before ?? null, after: p });

  const groups = new Map<string, { party: Party; people: number }>();
  for (const [id, pair] of pairs) {
    if (owners.has(id)) continue;
    const name = named.has(id) ? id : `${reach(pair.before)}>${reach(pair.after)}`;
    const group = groups.get(name);
    if (group) group.people += 1;
    else
      groups.set(name, {
        people: 1,
        party: { before: viewerOf(pair.before), after: viewerOf(pair.after), people: null },
      });
  }
  const doors = new Map<Id, Party>();
  for (const door of before.doors)
    doors.set(door.id, { before: stranger(door), after: null, people: null });
  for (const door of after.doors)
    doors.set(door.id, {
      before: doors.get(door.id)?.before ?? null,
      after: stranger(door),
      people: null,
    });
  return [
    ...[...groups.values()].map((g) => ({ ...g.party, people: g.people })),
    ...doors.values(),
  ];
}

function viewerOf(person: Person | null): Viewer | null {
  return person && { person, doors: [] };
}

/** Somebody with nothing but the address; a school door is judged as for a person who may pass it. */
function stranger(door: ShownDoor): Viewer {
  return { person: null, doors: [{ ...door, kind: 'public' }] };
}

function reach(person: Person | null): string {
  if (!person) return '';
  const classes = person.memberships.map((m) => `${m.classId}/${m.from}/${m.until}`).sort();
  return `${person.schoolId}|${person.staff}|${classes.join()}`;
}

function distinctAudiences(before: World, after: World): Audience[] {
  const found = new Map<string, Audience>();
  for (const { library } of [before, after])
    for (const { audience } of library.data.handingsOut)
      found.set(audienceName(audience), audience);
  return [...found.values()];
}

function laterInstants(before: World, after: World, t: Instant): Instant[] {
  const found = new Set<Instant>();
  const add = ({ from, until }: Span) => {
    for (const at of [from, until]) if (at !== null && at > t) found.add(at);
  };
  for (const { library, people } of [before, after]) {
    for (const node of [...library.data.folders, ...library.data.placements]) {
      add(node.release);
      node.release.perClass.forEach(add);
    }
    library.data.handingsOut.forEach(add);
    for (const person of people) person.memberships.forEach(add);
  }
  return [...found].sort((a, b) => a - b);
}

function difference(before: World, after: World, parties: readonly Party[], t: Instant) {
  const was = waysIn(before.library, t);
  const is = waysIn(after.library, t);
  return {
    gained: parties.flatMap((party) => surplus(party, is, party.after, was, party.before, t)),
    lost: parties.flatMap((party) => surplus(party, was, party.before, is, party.after, t)),
  };
}

type Ways = (key: Key) => ReadonlySet<string>;

/** What is seen on each way in at one instant, worked out once: people of one class share it, and so do changes. */
const judged = new WeakMap<Library, Map<Instant, Ways>>();
function waysIn(library: Library, t: Instant): Ways {
  const instants = judged.get(library) ?? new Map<Instant, Ways>();
  judged.set(library, instants);
  const found = instants.get(t);
  if (found) return found;
  const handedOut = new Set(library.data.handingsOut.map((h) => audienceName(h.audience)));
  const perKey = new Map<string, ReadonlySet<string>>();
  const ways: Ways = (key) => {
    if (!handedOut.has(audienceName(key))) return NOTHING;
    const name = keyName(key);
    const things = perKey.get(name) ?? new Set(library.thingsOn(key, t));
    perKey.set(name, things);
    return things;
  };
  instants.set(t, ways);
  return ways;
}

const NOTHING: ReadonlySet<string> = new Set();
const keyName = (key: Key) => `${audienceName(key)}/${key.reading}/${key.exempt}`;

/** The things a party sees in one state of the world and on no way in the other one; none or one sight. */
function surplus(
  party: Party,
  there: Ways,
  viewer: Viewer | null,
  elsewhere: Ways,
  other: Viewer | null,
  t: Instant,
): Sight[] {
  const others = (other ? keysOf(other, t) : []).map(elsewhere).filter((seen) => seen.size > 0);
  const things = new Set<string>();
  const through = new Map<string, Set<string>>();
  for (const key of viewer ? keysOf(viewer, t) : []) {
    const name = audienceName(key);
    for (const thing of there(key)) {
      if (others.some((seen) => seen.has(thing))) continue;
      things.add(thing);
      through.set(name, (through.get(name) ?? new Set()).add(thing));
    }
  }
  return things.size > 0 ? [{ party, things, through }] : [];
}

function sightsOf(audience: Audience, sights: readonly Sight[]): ReadonlySet<string> {
  const name = audienceName(audience);
  return new Set(sights.flatMap((s) => [...(s.through.get(name) ?? [])]));
}

function effect(audience: Audience, sights: readonly Sight[]): Effect | null {
  const name = audienceName(audience);
  const concerned = sights.filter((s) => (s.through.get(name)?.size ?? 0) > 0);
  if (concerned.length === 0) return null;
  return { people: headcount(audience, concerned), ...count(sightsOf(audience, concerned)) };
}

/** Sums up the instants after now; what is gained or lost at once already is not said again. */
function laterEffect(
  audience: Audience,
  instants: readonly { at: Instant; sights: readonly Sight[] }[],
  known: ReadonlySet<string>,
): LaterEffect | null {
  const name = audienceName(audience);
  const things = new Set<string>();
  const concerned = new Map<Party, Sight>();
  let from: Instant | null = null;
  for (const { at, sights } of instants) {
    for (const sight of sights) {
      const fresh = [...(sight.through.get(name) ?? [])].filter((x) => !known.has(x));
      if (fresh.length === 0) continue;
      from ??= at;
      concerned.set(sight.party, sight);
      for (const thing of fresh) things.add(thing);
    }
  }
  if (from === null) return null;
  return { from, people: headcount(audience, [...concerned.values()]), ...count(things) };
}

function headcount(audience: Audience, sights: readonly Sight[]): number | null {
  return audience.kind === 'door' ? null : countPeople(sights);
}

function countPeople(sights: readonly Sight[]): number {
  return sights.reduce((sum, { party }) => sum + (party.people ?? 0), 0);
}

function count(things: ReadonlySet<string>): { items: number; folders: number } {
  const items = [...things].filter((x) => x.startsWith('item:')).length;
  return { items, folders: things.size - items };
}
