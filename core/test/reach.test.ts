import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  atOnce,
  Library,
  Openings,
  reachOf,
  REACH_STATES,
  sightOf,
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
            expect(sight.seenBy(p)[i]).toBe(expected ? 1 : 0);
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
    expect([...atOnce(sightOf(library, [person], ['gone'], 0)).seenBy(0)]).toEqual([0]);
  });
});

const PEOPLE = 4;
const ITEMS = 5;
const STATES = ['earlier', 'opened', 'downloaded'] as const;
const found = fc.array(
  fc.record({
    person: fc.nat({ max: PEOPLE - 1 }),
    item: fc.nat({ max: ITEMS - 1 }),
    state: fc.constantFrom(...STATES),
    day: fc.nat({ max: 6 }),
  }),
  { maxLength: 30 },
);
const seen = fc.array(fc.boolean(), { minLength: PEOPLE * ITEMS, maxLength: PEOPLE * ITEMS });

describe('reach', () => {
  const sightFrom = (matrix: readonly boolean[]): ReachSight => ({
    people: PEOPLE,
    items: ITEMS,
    seenBy: (person) => Uint8Array.from(matrix.slice(person * ITEMS, (person + 1) * ITEMS), Number),
  });

  it('is what counting opening by opening gives', () => {
    fc.assert(
      fc.property(seen, found, (matrix, list) => {
        const openings = new Openings(PEOPLE, ITEMS);
        for (const { person, item, state, day } of list) openings.add([person], item, state, day);
        const reach = atOnce(reachOf(sightFrom(matrix), openings));
        const sees = (person: number, item: number) => matrix[person * ITEMS + item]!;
        const people = Array.from({ length: PEOPLE }, (_, person) => person);
        const by = (person: number, item: number) =>
          list.filter((one) => one.person === person && one.item === item);
        const furthest = (person: number, item: number) =>
          STATES.findLast((state) => by(person, item).some((one) => one.state === state)) ??
          'unopened';
        for (const [item, counted] of reach.items.entries()) {
          const readers = people.filter((person) => sees(person, item));
          const openers = readers.filter((person) => by(person, item).length > 0);
          const days = new Map<number, number>();
          for (const person of openers) {
            const first = Math.min(...by(person, item).map(({ day }) => day));
            days.set(first, (days.get(first) ?? 0) + 1);
          }
          const states = readers.map((person) => furthest(person, item));
          expect(counted).toEqual({
            people: readers.length,
            opened: openers.length,
            newest: states.filter((state) => state === 'opened' || state === 'downloaded').length,
            downloaded: states.filter((state) => state === 'downloaded').length,
            days,
          });
          expect(openings.countOf(item)).toBe(
            people.filter((person) => by(person, item).length > 0).length,
          );
        }
        for (const [person, counted] of reach.people.entries()) {
          const states = Array.from({ length: ITEMS }, (_, item) =>
            sees(person, item) ? furthest(person, item) : 'unseen',
          );
          const own = list.filter((one) => one.person === person && sees(person, one.item));
          expect(counted).toEqual({
            items: states.filter((state) => state !== 'unseen').length,
            opened: new Set(own.map(({ item }) => item)).size,
            lastDay: own.length > 0 ? Math.max(...own.map(({ day }) => day)) : null,
            cells: states.map((state) => ' -eod'[REACH_STATES.indexOf(state)]).join(''),
          });
        }
      }),
      runs(300),
    );
  });
});
