import type { Library } from './access.ts';
import { groupAlike } from './alike.ts';
import { audienceName, waysIn } from './audience.ts';
import type { Audience, Id, Instant, Viewer } from './model.ts';
import type { InPieces } from './pieces.ts';
import { within } from './release.ts';

type Person = NonNullable<Viewer['person']>;

/**
 * How far a student has got with an item, in the order of how far: it is not theirs to see, not opened, opened in an earlier version only,
 * opened in the newest one, or downloaded in that.
 */
export const REACH_STATES = ['unseen', 'unopened', 'earlier', 'opened', 'downloaded'] as const;
export type ReachState = (typeof REACH_STATES)[number];
export type OpenedState = Exclude<ReachState, 'unseen' | 'unopened'>;

/** Each state as one character, for lists of many. */
const CELLS = [...' -eod'].map((cell) => cell.charCodeAt(0));

/** A place in `REACH_STATES`. */
const UNOPENED = 1;

/**
 * What people have done with items, by the places of both in their lists; days are numbers, whatever they count from. Kept in plain numbers:
 * it holds what thousands have opened of hundreds of things.
 */
export class Openings {
  readonly #states: Uint8Array;
  readonly #firstDays: Int16Array;
  readonly #lastDays: Int16Array;

  constructor(
    readonly people: number,
    readonly items: number,
  ) {
    this.#states = new Uint8Array(people * items);
    this.#firstDays = new Int16Array(people * items);
    this.#lastDays = new Int16Array(people * items);
  }

  /** Notes that these people opened an item on a day; of several times the furthest counts. */
  add(people: readonly number[], item: number, state: OpenedState, day: number): void {
    const reached = REACH_STATES.indexOf(state);
    for (let n = 0; n < people.length; n += 1) {
      const at = people[n]! * this.items + item;
      const known = this.#states[at]!;
      if (reached > known) this.#states[at] = reached;
      if (known === 0 || day < this.#firstDays[at]!) this.#firstDays[at] = day;
      if (known === 0 || day > this.#lastDays[at]!) this.#lastDays[at] = day;
    }
  }

  /** What a person did with each item: places in `REACH_STATES`, 0 for nothing; and on which days first and last. */
  of(person: number): { states: Uint8Array; firstDays: Int16Array; lastDays: Int16Array } {
    const [from, to] = [person * this.items, (person + 1) * this.items];
    return {
      states: this.#states.subarray(from, to),
      firstDays: this.#firstDays.subarray(from, to),
      lastDays: this.#lastDays.subarray(from, to),
    };
  }

  /** How many have opened an item. */
  countOf(item: number): number {
    let count = 0;
    for (let person = 0; person < this.people; person += 1)
      if (this.#states[person * this.items + item]! > 0) count += 1;
    return count;
  }
}

/** How many of those who see an item now have opened it. */
export interface ItemReach {
  readonly people: number;
  /** In any version. */
  readonly opened: number;
  readonly newest: number;
  readonly downloaded: number;
  /** How many opened it first on each day. */
  readonly days: ReadonlyMap<number, number>;
}

/** How many of the items that a student sees now they have opened. */
export interface PersonReach {
  readonly items: number;
  readonly opened: number;
  readonly lastDay: number | null;
  /** One character for each item, in the order of the items: a space for `unseen`, else `-`, `e`, `o`, `d`. */
  readonly cells: string;
}

/** Which of some items each of some people sees, by their places in the lists. */
export interface ReachSight {
  readonly people: number;
  readonly items: number;
  /** For each item whether (1) the person sees it. */
  seenBy(person: number): Uint8Array;
}

/**
 * Which of the items each of the people sees at `t` because it was handed out to them by name, to a class or to a course: those whom a
 * teacher expects to look. Of people who are reached alike, and things that lie alike, one is looked at.
 */
export function* sightOf(
  library: Library,
  people: readonly Person[],
  itemIds: readonly Id[],
  t: Instant,
): InPieces<ReachSight> {
  const groups = yield* groupAlike(library, library);
  const groupOf = new Map<Id, number>();
  groups.forEach((group, n) => group.itemIds.forEach((id) => groupOf.set(id, n)));
  const itemGroups = itemIds.map((id) => groupOf.get(id) ?? -1);
  const wanted = new Set(itemGroups);

  const handedTo = new Set(library.data.handingsOut.map(({ audience }) => audienceName(audience)));
  const parties = new Map<string, Uint8Array>();
  const seenBy: Uint8Array[] = [];
  const isHanded = (kind: Audience['kind'], id: Id) => handedTo.has(audienceName({ kind, id }));
  for (const person of people) {
    const classIds = person.memberships.flatMap((m) =>
      within(m, t) && (isHanded('class', m.classId) || isHanded('course', m.courseId))
        ? m.classId
        : [],
    );
    const byName = isHanded('person', person.id) ? person.id : '';
    const mark = `${byName}|${person.staff}|${classIds.sort().join()}`;
    let seen = parties.get(mark);
    if (!seen) {
      const ways = waysIn({ person, doors: [] }, t).filter((way) => BY_ROSTER.has(way.kind));
      const sees = groups.map(
        ({ before }, n) =>
          wanted.has(n) &&
          before.some(({ folderId, placement }) =>
            ways.some((way) =>
              library
                .seenOn(way, folderId, placement)
                .some(({ from, until }) => from <= t && t < until),
            ),
          ),
      );
      seen = Uint8Array.from(itemGroups, (n) => (sees[n] ? 1 : 0));
      parties.set(mark, seen);
      yield;
    }
    seenBy.push(seen);
  }
  return { people: people.length, items: itemIds.length, seenBy: (person) => seenBy[person]! };
}

/** Audiences whose members are expected to look: what is handed out to them shows at their place. */
const BY_ROSTER: ReadonlySet<string> = new Set(['person', 'class', 'course']);

/** Puts together who has opened what; openings of what somebody does not see now do not count. */
export function* reachOf(
  sight: ReachSight,
  openings: Openings,
): InPieces<{ items: ItemReach[]; people: PersonReach[] }> {
  const counts = new Counts(sight.items);
  const people: PersonReach[] = [];
  for (let person = 0; person < sight.people; person += 1) {
    people.push(counts.take(person, sight.seenBy(person), openings));
    yield;
  }
  return { items: Array.from({ length: sight.items }, (_, n) => counts.of(n)), people };
}

/** Spread as arguments, numbers take five times as long as handed over in one list. */
function textOf(characters: Uint8Array): string {
  return String.fromCharCode.apply(null, characters as unknown as number[]);
}

/** How many see and have opened each item, counted person by person; in plain numbers, as in `Openings`. */
class Counts {
  /** By how far they got, as in `REACH_STATES`. */
  readonly #states: readonly Int32Array[];
  /** By the day on which they first opened it, with gaps. */
  readonly #days: readonly number[][];

  constructor(readonly items: number) {
    this.#states = REACH_STATES.map(() => new Int32Array(items));
    this.#days = Array.from({ length: items }, () => []);
  }

  take(person: number, seen: Uint8Array, openings: Openings): PersonReach {
    const cells = new Uint8Array(this.items);
    let [items, opened] = [0, 0];
    let lastDay: number | null = null;
    const { states, firstDays, lastDays } = openings.of(person);
    for (let n = 0; n < this.items; n += 1) {
      if (seen[n] === 0) {
        cells[n] = CELLS[0]!;
        continue;
      }
      const state = Math.max(UNOPENED, states[n]!);
      cells[n] = CELLS[state]!;
      this.#states[state]![n]! += 1;
      items += 1;
      if (state === UNOPENED) continue;
      opened += 1;
      const [first, last] = [firstDays[n]!, lastDays[n]!];
      lastDay = lastDay === null ? last : Math.max(lastDay, last);
      this.#days[n]![first] = (this.#days[n]![first] ?? 0) + 1;
    }
    return { items, opened, lastDay, cells: textOf(cells) };
  }

  of(item: number): ItemReach {
    const [, unopened, earlier, opened, downloaded] = this.#states.map((counts) => counts[item]!);
    const newest = opened! + downloaded!;
    const days = new Map<number, number>();
    this.#days[item]!.forEach((people, day) => days.set(day, people));
    return {
      people: unopened! + earlier! + newest,
      opened: earlier! + newest,
      newest,
      downloaded: downloaded!,
      days,
    };
  }
}
