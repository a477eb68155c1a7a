import type { Library } from './access.ts';
import { groupAlike } from './alike.ts';
import { audienceName, waysIn } from './audience.ts';
import type { Id, Instant, Viewer } from './model.ts';
import type { InPieces } from './pieces.ts';

type Person = NonNullable<Viewer['person']>;

/**
 * How far a student has got with an item, in the order of how far: it is not theirs to see, not opened, opened in an earlier version only,
 * opened in the newest one, or downloaded in that.
 */
export const REACH_STATES = ['unseen', 'unopened', 'earlier', 'opened', 'downloaded'] as const;
export type ReachState = (typeof REACH_STATES)[number];

/** Each state as one character, for lists of many. */
const CELLS: Readonly<Record<ReachState, string>> = {
  unseen: ' ',
  unopened: '-',
  earlier: 'e',
  opened: 'o',
  downloaded: 'd',
};

/** What one student has done with one item; people and items by their places in the lists. Days are numbers, whatever they count from. */
export interface ItemOpening {
  readonly person: number;
  readonly item: number;
  readonly state: Exclude<ReachState, 'unseen' | 'unopened'>;
  readonly firstDay: number;
  readonly lastDay: number;
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
  sees(person: number, item: number): boolean;
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
  const parties = new Map<string, readonly boolean[]>();
  const partyOf: (readonly boolean[])[] = [];
  for (const person of people) {
    const ways = waysIn({ person, doors: [] }, t).filter(
      (way) => BY_ROSTER.has(way.kind) && handedTo.has(audienceName(way)),
    );
    const mark = ways
      .map((way) => `${audienceName(way)}/${way.reading}`)
      .sort()
      .join();
    let party = parties.get(mark);
    if (!party) {
      party = groups.map(
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
      parties.set(mark, party);
      yield;
    }
    partyOf.push(party);
  }
  return {
    people: people.length,
    items: itemIds.length,
    sees: (person, item) => partyOf[person]![itemGroups[item]!] === true,
  };
}

/** Audiences whose members are expected to look: what is handed out to them shows at their place. */
const BY_ROSTER: ReadonlySet<string> = new Set(['person', 'class', 'course']);

/** Puts together who has opened what; openings of what somebody does not see now do not count. Each pair may be given once. */
export function* reachOf(
  sight: ReachSight,
  openings: readonly ItemOpening[],
): InPieces<{ items: ItemReach[]; people: PersonReach[] }> {
  const items = Array.from({ length: sight.items }, () => ({
    ...{ people: 0, opened: 0, newest: 0, downloaded: 0 },
    days: new Map<number, number>(),
  }));
  // For each pair the place of its opening in the list, one higher.
  const placeOf = new Int32Array(sight.people * sight.items);
  for (const [n, { person, item }] of openings.entries())
    placeOf[person * sight.items + item] = n + 1;
  const people: PersonReach[] = [];
  for (let person = 0; person < sight.people; person += 1) {
    const cells: string[] = [];
    const counts = { items: 0, opened: 0, lastDay: null as number | null };
    for (const [n, item] of items.entries()) {
      if (!sight.sees(person, n)) {
        cells.push(CELLS.unseen);
        continue;
      }
      item.people += 1;
      counts.items += 1;
      const opening = openings[placeOf[person * sight.items + n]! - 1];
      cells.push(CELLS[opening?.state ?? 'unopened']);
      if (!opening) continue;
      const { state, firstDay, lastDay } = opening;
      counts.opened += 1;
      counts.lastDay = Math.max(counts.lastDay ?? lastDay, lastDay);
      item.opened += 1;
      if (state !== 'earlier') item.newest += 1;
      if (state === 'downloaded') item.downloaded += 1;
      item.days.set(firstDay, (item.days.get(firstDay) ?? 0) + 1);
    }
    people.push({ ...counts, cells: cells.join('') });
    yield;
  }
  return { items, people };
}
