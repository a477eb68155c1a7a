import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  atOnce,
  Library,
  reachOf,
  REACH_STATES,
  sightOf,
  type ItemOpening,
  type ReachSight,
} from '../src/index.ts';
import { opening } from './naive.ts';
import { randomSchool } from './random-school.ts';
import { runs } from './runs.ts';

const ROSTER = ['person', 'class', 'course'];

describe('who is expected to look', () => {
  it('is whoever sees a thing by name, class or course, by the rule read word by word', () => {
    const found = { seen: 0, byOthersOnly: 0 };
    fc.assert(
      fc.property(randomSchool(), ({ data, people, schoolId, itemOwners, now }) => {
        const readers = people.map((p) => ({ ...p, schoolId }));
        const items = [...itemOwners.keys()];
        const sight = atOnce(sightOf(new Library(data), readers, items, now));
        expect([sight.people, sight.items]).toEqual([readers.length, items.length]);
        for (const [p, person] of readers.entries())
          for (const [i, itemId] of items.entries()) {
            const ways = data.placements
              .filter((placement) => placement.itemId === itemId)
              .flatMap(({ id, folderId }) =>
                opening(data, { person, doors: [] }, { folderId, placementId: id }, now),
              )
              .map(({ audience }) => audience.kind);
            const expected = ways.some((kind) => ROSTER.includes(kind));
            expect(sight.sees(p, i)).toBe(expected);
            if (expected) found.seen += 1;
            else if (ways.length > 0) found.byOthersOnly += 1;
          }
      }),
      runs(300),
    );
    expect(found.seen).toBeGreaterThan(0);
    expect(found.byOthersOnly).toBeGreaterThan(0);
  });

  it('of items that are in no folder is nobody', () => {
    const library = new Library({ folders: [], placements: [], handingsOut: [] });
    const person = { id: 'p', schoolId: 's', staff: false, memberships: [] };
    expect(atOnce(sightOf(library, [person], ['gone'], 0)).sees(0, 0)).toBe(false);
  });
});

const PEOPLE = 4;
const ITEMS = 5;
const pairs = fc.uniqueArray(
  fc.record({
    person: fc.nat({ max: PEOPLE - 1 }),
    item: fc.nat({ max: ITEMS - 1 }),
    state: fc.constantFrom('earlier' as const, 'opened' as const, 'downloaded' as const),
    firstDay: fc.nat({ max: 3 }),
    lastDay: fc.integer({ min: 3, max: 6 }),
  }),
  { selector: ({ person, item }) => `${person} ${item}` },
);
const seen = fc.array(fc.boolean(), { minLength: PEOPLE * ITEMS, maxLength: PEOPLE * ITEMS });

describe('reach', () => {
  const sightFrom = (matrix: readonly boolean[]): ReachSight => ({
    people: PEOPLE,
    items: ITEMS,
    sees: (person, item) => matrix[person * ITEMS + item]!,
  });

  it('is what counting pair by pair gives', () => {
    fc.assert(
      fc.property(seen, pairs, (matrix, openings) => {
        const reach = atOnce(reachOf(sightFrom(matrix), openings));
        const counted = (holds: (o: ItemOpening) => boolean) =>
          openings.filter((o) => matrix[o.person * ITEMS + o.item] && holds(o));
        for (const [item, found] of reach.items.entries()) {
          const own = counted((o) => o.item === item);
          const days = new Map<number, number>();
          for (const { firstDay } of own) days.set(firstDay, (days.get(firstDay) ?? 0) + 1);
          expect(found).toEqual({
            people: matrix.filter((yes, n) => yes && n % ITEMS === item).length,
            opened: own.length,
            newest: own.filter((o) => o.state !== 'earlier').length,
            downloaded: own.filter((o) => o.state === 'downloaded').length,
            days,
          });
        }
        for (const [person, found] of reach.people.entries()) {
          const own = counted((o) => o.person === person);
          const stateOf = (item: number) =>
            matrix[person * ITEMS + item]
              ? (own.find((o) => o.item === item)?.state ?? 'unopened')
              : 'unseen';
          const states = Array.from({ length: ITEMS }, (_, item) => stateOf(item));
          expect(found).toEqual({
            items: states.filter((state) => state !== 'unseen').length,
            opened: own.length,
            lastDay: own.length > 0 ? Math.max(...own.map((o) => o.lastDay)) : null,
            cells: states.map((state) => ' -eod'[REACH_STATES.indexOf(state)]).join(''),
          });
        }
      }),
      runs(300),
    );
  });
});
