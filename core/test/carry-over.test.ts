import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  carriedKey,
  carriedName,
  carriedRelease,
  dayAfter,
  instantAt,
  isOff,
  isOut,
  movedDay,
  movedInstant,
  movedSpan,
  planCarryOver,
  sightOfPlan,
  strictest,
  wallTime,
  weekdayOf,
  type CarriedBefore,
  type CarryOverPlan,
  type FolderToCarry,
  type PlacementToCarry,
  type Release,
  type ReleaseRule,
  type Renaming,
  type TreeToCarry,
  type YearMove,
} from '../src/index.ts';

const term = (firstDay: string, lastDay: string) => ({ kind: 'term' as const, firstDay, lastDay });
const off = (firstDay: string, lastDay: string) => ({ kind: 'off' as const, firstDay, lastDay });

const MOVE: YearMove = {
  from: { firstDay: '2025-09-01', lastDay: '2026-07-31' },
  to: { firstDay: '2026-09-07', lastDay: '2027-07-30' },
  school: {
    zone: 'Europe/Berlin',
    days: [
      term('2025-09-01', '2025-12-19'),
      term('2026-01-12', '2026-07-31'),
      term('2026-09-07', '2026-12-18'),
      term('2027-01-11', '2027-07-30'),
      off('2026-10-12', '2026-10-23'),
    ],
  },
};
const WITHOUT_TERMS: YearMove = { ...MOVE, school: { zone: 'Europe/Berlin', days: [] } };

const day = fc.integer({ min: 0, max: 333 }).map((n) => dayAfter('2025-09-01', n));
const instant = fc
  .record({ day, minute: fc.integer({ min: 0, max: 24 * 60 - 1 }) })
  .map(({ day: d, minute }) => {
    const two = (n: number) => String(n).padStart(2, '0');
    return instantAt(`${d}T${two(Math.floor(minute / 60))}:${two(minute % 60)}`, 'Europe/Berlin');
  });

describe('days of another year', () => {
  it.each([
    // Counted from the beginning of the year, and of the second term.
    ['2025-09-02', '2026-09-08'],
    ['2026-01-12', '2027-01-11'],
    ['2026-03-05', '2027-03-04'],
    // In the autumn break, and the day after it.
    ['2025-10-08', '2026-10-26'],
    // Between the terms there is no school.
    ['2025-12-31', '2027-01-11'],
  ])('%s becomes %s', (from, to) => expect(movedDay(from, MOVE)).toBe(to));

  it('counts from the beginning of the year where it knows of no terms', () =>
    expect(movedDay('2026-03-05', WITHOUT_TERMS)).toBe('2027-03-11'));

  it('keeps the day of the week, and avoids days off', () => {
    fc.assert(
      fc.property(day, fc.constantFrom(MOVE, WITHOUT_TERMS), (d, move) => {
        const moved = movedDay(d, move);
        expect(isOff(moved, move.school)).toBe(false);
        const wanted = [...Array(140).keys()].map((n) => dayAfter(moved, -n));
        // Between it and a day that is as many whole weeks on there is no school.
        const kept = wanted.findIndex((one) => weekdayOf(one) === weekdayOf(d));
        if (moved !== wanted[kept])
          expect(wanted.slice(1).some((one) => isOff(one, move.school))).toBe(true);
        if (move === WITHOUT_TERMS) expect(weekdayOf(moved)).toBe(weekdayOf(d));
      }),
    );
  });

  it('keeps the time by the clock, also where the clocks change between', () => {
    // Summer time ends on 26 October 2025, and on 25 October 2026.
    const late = instantAt('2025-10-27T08:00', 'Europe/Berlin');
    expect(wallTime(movedInstant(late, WITHOUT_TERMS), 'Europe/Berlin')).toBe('2026-11-02T08:00');
    fc.assert(
      fc.property(instant, (t) => {
        const [before, after] = [t, movedInstant(t, WITHOUT_TERMS)].map((one) =>
          wallTime(one, 'Europe/Berlin').slice(11),
        );
        // In the hour that the clocks leap over, it is the same distance after the leap.
        if (!before!.startsWith('02:')) expect(after).toBe(before);
      }),
    );
  });

  it('never turns a span round', () => {
    fc.assert(
      fc.property(instant, instant, (a, b) => {
        fc.pre(a !== b);
        const { from, until } = movedSpan({ from: Math.min(a, b), until: Math.max(a, b) }, MOVE);
        expect(from!).toBeLessThan(until!);
      }),
    );
    expect(movedSpan({ from: null, until: null }, MOVE)).toEqual({ from: null, until: null });
  });
});

const release: fc.Arbitrary<Release> = fc
  .record({
    held: fc.boolean(),
    from: fc.option(instant, { nil: null }),
    until: fc.option(instant, { nil: null }),
  })
  .filter(({ from, until }) => from === null || until === null || from < until);
const OLD = ['SO1A', 'SO1B', 'SO2'];
const NEW = ['so1a', 'so1b'];
const rule: fc.Arbitrary<ReleaseRule> = fc
  .tuple(release, fc.dictionary(fc.constantFrom(...OLD), release))
  .map(([general, perClass]) => ({ ...general, perClass: new Map(Object.entries(perClass)) }));
const successors = fc
  .dictionary(fc.constantFrom(...NEW), fc.uniqueArray(fc.constantFrom(...OLD)))
  .map((found) => new Map(Object.entries(found)));

describe('strictest', () => {
  it('is out exactly where all are', () => {
    fc.assert(
      fc.property(fc.array(release, { minLength: 1, maxLength: 4 }), instant, (all, t) => {
        const perClass = new Map();
        const each = all.every((one) => isOut({ ...one, perClass }, null, t));
        expect(isOut({ ...strictest(all), perClass }, null, t)).toBe(each);
      }),
    );
  });
});

describe('carriedRelease', () => {
  it('shows a class nothing that one of the classes before it had not seen by then', () => {
    fc.assert(
      fc.property(rule, successors, instant, (of, next, t) => {
        const carried = carriedRelease(of, next, WITHOUT_TERMS);
        const then = movedInstant(t, WITHOUT_TERMS);
        for (const [id, before] of next) {
          const seen = (before.length > 0 ? before : [null]).every((old) => isOut(of, old, t));
          // Of all that a tree for one class has, it is the release; for several, each reads its own, or the general one.
          if (next.size === 1 || before.some((old) => of.perClass.has(old)))
            expect(isOut(carried, id, then)).toBe(seen);
          else expect(isOut(carried, id, then)).toBe(isOut(of, null, t));
        }
      }),
    );
  });
});

describe('carriedName', () => {
  const parts = { year: 2025, course: 'Soil Science', teacher: 'Quill', unit: 0, kind: '' };
  const renaming: Renaming = {
    from: { ...MOVE.from, classes: ['SO1A'] },
    to: { ...MOVE.to, classes: ['SO1C'] },
    pattern: {
      text: '{year2} {class} {course}',
      before: [{ ...parts, class: 'SO1A' }],
      after: { ...parts, year: 2026, class: 'SO1C' },
    },
  };
  it.each([
    ['25-26 SO1A Soil Science', '26-27 SO1C Soil Science'],
    ['25-26 so1a soil science', '26-27 SO1C Soil Science'],
    ['SO1A notes 2025-26', 'SO1C notes 2026-27'],
    ['Week of 6 October 2025', 'Week of 5 October 2026'],
    ['1 Soil', '1 Soil'],
    ['Plan SO1AB', 'Plan SO1AB'],
  ])('%s becomes %s', (from, to) => expect(carriedName(from, renaming)).toBe(to));

  it('leaves a name as it is where the other one could not be used', () => {
    const long = `SO1A ${'x'.repeat(55)}`;
    const to = { ...renaming.to, classes: ['LONGERCODE'] };
    expect(carriedName(long, { ...renaming, to, pattern: null })).toBe(long);
  });
});

/** A tree with what is in it, each folder in one that comes before it. */
const library = fc
  .array(
    fc.record({
      above: fc.nat(),
      title: fc.constantFrom('Unit', 'unit', 'Notes 2025', 'Notes 2026', 'SO1A', '1 Soil'),
      release: rule,
      items: fc.array(rule, { maxLength: 3 }),
    }),
    { minLength: 1, maxLength: 12 },
  )
  .map((rows) => {
    const folders: FolderToCarry[] = rows.map(({ above, title, release: of }, n) => ({
      id: `f${n}`,
      parentId: n === 0 ? null : `f${above % n}`,
      title,
      release: of,
    }));
    const placements: PlacementToCarry[] = rows.flatMap(({ items }, n) =>
      items.map((of, k) => ({ id: `p${n}.${k}`, folderId: `f${n}`, release: of })),
    );
    return { folders, placements };
  });

const trees = (count: number): TreeToCarry[] =>
  NEW.slice(0, count).map((id, n) => ({
    folderId: 'f0',
    key: id,
    successors: new Map([[id, [OLD[n]!]]]),
    rename: (title) =>
      carriedName(title, {
        from: { ...MOVE.from, classes: OLD },
        to: { ...MOVE.to, classes: NEW },
        pattern: null,
      }),
  }));

function carry(
  { folders, placements }: { folders: FolderToCarry[]; placements: PlacementToCarry[] },
  count: number,
  known = new Map<string, CarriedBefore>(),
  namesIn: (id: string | null) => ReadonlySet<string> = () => new Set(),
): CarryOverPlan {
  let n = known.size;
  return planCarryOver(
    { folders, placements, trees: trees(count), known, namesIn, move: MOVE },
    () => `new ${(n += 1)}`,
  );
}
const remember = ({ folders, placements }: CarryOverPlan, known = new Map()) => {
  for (const one of folders)
    known.set(carriedKey('folder', one.key, one.sourceId), { id: one.id, binned: false });
  for (const one of placements)
    known.set(carriedKey('placement', one.key, one.sourceId), { id: one.id, binned: false });
  return known as Map<string, CarriedBefore>;
};

describe('planCarryOver', () => {
  it('makes the same structure for each class, with names that are free', () => {
    fc.assert(
      fc.property(library, fc.constantFrom(1, 2), (given, count) => {
        const plan = carry(given, count);
        expect(plan.folders).toHaveLength(given.folders.length * count);
        expect(plan.placements).toHaveLength(given.placements.length * count);
        const sourceOf = new Map(plan.folders.map((one) => [one.id, one]));
        const seen = new Set<string>();
        for (const one of plan.folders) {
          const source = given.folders.find(({ id }) => id === one.sourceId)!;
          const above = one.parentId === null ? null : sourceOf.get(one.parentId)!;
          expect(above?.sourceId ?? null).toBe(source.parentId);
          expect(above?.key ?? one.key).toBe(one.key);
          // Each one's parent comes before it.
          expect(one.parentId === null || seen.has(one.parentId)).toBe(true);
          seen.add(one.id);
        }
        const names = plan.folders.map((one) => `${one.parentId} ${one.title.toLowerCase()}`);
        expect(new Set(names).size).toBe(names.length);
        for (const one of plan.placements) {
          const source = given.placements.find(({ id }) => id === one.sourceId)!;
          expect(sourceOf.get(one.folderId)!.sourceId).toBe(source.folderId);
          expect(sourceOf.get(one.folderId)!.key).toBe(one.key);
        }
      }),
    );
  });

  it('changes nothing when it is repeated, and adds only what is missing', () => {
    fc.assert(
      fc.property(library, library, fc.constantFrom(1, 2), (given, more, count) => {
        const known = remember(carry(given, count));
        const again = carry(given, count, known);
        expect([again.folders, again.placements, again.removed]).toEqual([[], [], 0]);
        expect(again.there).toBe((given.folders.length + given.placements.length) * count);
        // What has come to the earlier year since.
        const later = {
          folders: [
            ...given.folders,
            ...more.folders.map((one) => ({
              ...one,
              id: `late ${one.id}`,
              parentId: one.parentId === null ? 'f0' : `late ${one.parentId}`,
            })),
          ],
          placements: [
            ...given.placements,
            ...more.placements.map((one) => ({
              ...one,
              id: `late ${one.id}`,
              folderId: `late ${one.folderId}`,
            })),
          ],
        };
        const third = carry(later, count, known);
        expect(third.folders.every(({ sourceId }) => sourceId.startsWith('late'))).toBe(true);
        expect(third.folders).toHaveLength(more.folders.length * count);
        expect(third.placements).toHaveLength(more.placements.length * count);
        const tops = third.folders.filter(({ sourceId }) => sourceId === 'late f0');
        for (const { key, parentId } of tops)
          expect(parentId).toBe(known.get(carriedKey('folder', key, 'f0'))!.id);
      }),
    );
  });

  it('leaves out what was removed after it had been carried over, with all that is in it', () => {
    fc.assert(
      fc.property(library, fc.nat(), (given, which) => {
        const known = remember(carry(given, 1));
        const gone = given.folders[which % given.folders.length]!.id;
        const key = carriedKey('folder', NEW[0]!, gone);
        known.set(key, { id: known.get(key)!.id, binned: true });
        const again = carry(given, 1, known);
        expect([again.folders, again.placements, again.removed]).toEqual([[], [], 1]);
      }),
    );
  });

  it('numbers a name that is taken where it goes', () => {
    const one: FolderToCarry = {
      ...{ id: 'f0', parentId: null, title: 'SO1A' },
      release: { held: false, from: null, until: null, perClass: new Map() },
    };
    const plan = carry({ folders: [one], placements: [] }, 2, new Map(), () => new Set(['so1a']));
    expect(plan.folders.map(({ title }) => title)).toEqual(['so1a 2', 'so1a 3']);
  });
});

describe('sightOfPlan', () => {
  it('counts what a class would see as its releases say, folder by folder', () => {
    fc.assert(
      fc.property(library, fc.nat(), instant, (given, which, at) => {
        const t = movedInstant(at, MOVE);
        const plan = carry(given, 1);
        const byId = new Map(plan.folders.map((one) => [one.id, one]));
        const handed = plan.folders[which % plan.folders.length]!.id;
        const count = { now: 0, rest: 0 };
        for (const { folderId, release: own } of plan.placements) {
          let out = isOut(own, NEW[0]!, t);
          let reached = false;
          for (let f = byId.get(folderId); f; f = f.parentId ? byId.get(f.parentId) : undefined) {
            out &&= isOut(f.release, NEW[0]!, t);
            reached ||= f.id === handed;
          }
          if (reached) count[out ? 'now' : 'rest'] += 1;
        }
        const { now, later, held } = sightOfPlan(plan, NEW[0]!, new Set([handed]), t);
        expect({ now, rest: later + held }).toEqual(count);
      }),
    );
  });
});
