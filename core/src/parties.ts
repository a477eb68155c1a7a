import { audienceName, waysInOverTime, type WayIn } from './audience.ts';
import type { Audience, Id, Membership, ShownDoor, Viewer } from './model.ts';
import { stretchesOf, type Stretches } from './spans.ts';
import type { World } from './consequence.ts';

type Person = NonNullable<Viewer['person']>;

/** One way in which a party is reached, for as long as it is. */
export interface Way {
  /** The same object for all who are reached in this way. */
  readonly key: WayIn;
  /** The audience, as `audienceName` has it. */
  readonly audience: string;
  readonly when: Stretches;
}

/** People who are reached alike in two states of the world, or one door. */
export interface Party {
  readonly before: readonly Way[];
  readonly after: readonly Way[];
  /** Null for a door: nobody can count who comes through. */
  readonly people: number | null;
}

/**
 * Everybody who is reached through any of the audiences, in as few parties as can be. Owners of the folders are left
 * out: their own sight never changes.
 */
export function partiesOf(before: World, after: World, audiences: readonly Audience[]): Party[] {
  const names = new Set(audiences.map(audienceName));
  const owners = new Set<Id>();
  for (const { library } of [before, after])
    for (const folder of library.folders.values())
      if (folder.ownerId !== null) owners.add(folder.ownerId);
  const pairs = new Map<Id, { before: Person | null; after: Person | null }>();
  for (const p of before.people) pairs.set(p.id, { before: p, after: null });
  for (const p of after.people)
    pairs.set(p.id, { before: pairs.get(p.id)?.before ?? null, after: p });

  const keys = new Map<string, WayIn>();
  const waysOf = (viewer: Viewer | null): Way[] =>
    (viewer ? waysInOverTime(viewer) : []).flatMap(({ key, span }) => {
      const audience = audienceName(key);
      if (!names.has(audience)) return [];
      const name = `${audience}/${key.reading}/${key.exempt}`;
      const shared = keys.get(name) ?? key;
      keys.set(name, shared);
      return [{ key: shared, audience, when: stretchesOf(span) }];
    });
  const parties = new Map<string, { before: Way[]; after: Way[]; people: number }>();
  for (const [id, pair] of pairs) {
    if (owners.has(id)) continue;
    const name = `${reach(pair.before, names)}>${reach(pair.after, names)}`;
    const party = parties.get(name);
    if (party) {
      party.people += 1;
      continue;
    }
    const ways = waysOf(viewerOf(pair.before));
    const same = pair.before === pair.after;
    parties.set(name, {
      before: ways,
      after: same ? ways : waysOf(viewerOf(pair.after)),
      people: 1,
    });
  }

  const doors = new Map<Id, Party>();
  for (const door of before.doors)
    doors.set(door.id, { before: waysOf(stranger(door)), after: [], people: null });
  for (const door of after.doors)
    doors.set(door.id, {
      before: doors.get(door.id)?.before ?? [],
      after: waysOf(stranger(door)),
      people: null,
    });
  return [...parties.values(), ...doors.values()];
}

function viewerOf(person: Person | null): Viewer | null {
  return person && { person, doors: [] };
}

/** Somebody with nothing but the address; a school door is judged as for a person who may pass it. */
function stranger(door: ShownDoor): Viewer {
  return { person: null, doors: [{ ...door, kind: 'public' }] };
}

/** What of a person decides through which of the named audiences they are reached, and how they read releases. */
function reach(person: Person | null, names: ReadonlySet<string>): string {
  if (!person) return '';
  const named = names.has(`person:${person.id}`) ? person.id : '';
  const concerns = ({ classId, courseId }: Membership) =>
    names.has(`class:${classId}`) || names.has(`course:${courseId}`);
  const classes = person.memberships
    .filter(concerns)
    .map((m) => `${m.classId}/${m.from}/${m.until}`)
    .sort();
  const taught = (person.teaches ?? []).filter((id) => names.has(`teachers:${id}`)).sort();
  return `${named}|${person.schoolId}|${person.staff}|${classes.join()}|${taught.join()}`;
}
