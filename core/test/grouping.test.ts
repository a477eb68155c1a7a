import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { groupAlike } from '../src/alike.ts';
import { atOnce, Library, type LibraryData } from '../src/index.ts';
import { partiesOf } from '../src/parties.ts';
import {
  ALWAYS,
  intersection,
  NEVER,
  overlap,
  sameStretches,
  stretchesOf,
  union,
  without,
  type Stretch,
} from '../src/spans.ts';
import { folder, handed, placed, rule } from './plain.ts';

const classA = { kind: 'class', id: 'A' } as const;
const classB = { kind: 'class', id: 'B' } as const;
const out = { held: false, from: null, until: null };

describe('stretches of time', () => {
  const LAST = 8;
  const stretches = fc.array(
    fc
      .tuple(fc.integer({ min: 0, max: LAST }), fc.integer({ min: 0, max: LAST }))
      .map(([from, until]): Stretch => ({ from, until })),
    { maxLength: 4 },
  );
  const within = (all: readonly Stretch[], t: number) =>
    all.some(({ from, until }) => from <= t && t < until);
  /** The stretches in which a condition holds, found by asking at every instant. */
  const where = (holds: (t: number) => boolean): Stretch[] => {
    const found: Stretch[] = [];
    for (let t = 0; t < LAST; t += 1) {
      if (!holds(t)) continue;
      const last = found.at(-1);
      if (last?.until === t) found.splice(-1, 1, { from: last.from, until: t + 1 });
      else found.push({ from: t, until: t + 1 });
    }
    return found;
  };

  it('together, in common, and one without the other, are what each instant says', () => {
    fc.assert(
      fc.property(stretches, stretches, (a, b) => {
        expect(union(a)).toEqual(where((t) => within(a, t)));
        const [x, y] = [union(a), union(b)];
        expect(intersection(x, y)).toEqual(where((t) => within(a, t) && within(b, t)));
        expect(without(x, y)).toEqual(where((t) => within(a, t) && !within(b, t)));
        expect(sameStretches(x, y)).toBe(JSON.stringify(x) === JSON.stringify(y));
        expect(sameStretches(x, union(a))).toBe(true);
      }),
      { numRuns: 300 },
    );
  });

  it('that are always, or never, stay themselves', () => {
    expect(ALWAYS).toEqual([{ from: -Infinity, until: Infinity }]);
    expect(stretchesOf({ from: null, until: null })).toBe(ALWAYS);
    expect(stretchesOf({ from: 3, until: null })).toEqual([{ from: 3, until: Infinity }]);
    expect(stretchesOf({ from: null, until: 3 })).toEqual([{ from: -Infinity, until: 3 }]);
    expect(stretchesOf({ from: 3, until: 3 })).toEqual([]);
    const some = [{ from: 1, until: 2 }];
    for (const [a, b, both] of [
      [ALWAYS, some, some],
      [some, ALWAYS, some],
      [NEVER, some, NEVER],
      [some, NEVER, NEVER],
    ] as const)
      expect(intersection(a, b)).toBe(both);
  });

  it('differ by either end', () => {
    expect(overlap({ from: 1, until: 4 }, { from: 3, until: 6 })).toEqual({ from: 3, until: 4 });
    expect(overlap({ from: 1, until: 3 }, { from: 3, until: 6 })).toBeNull();
    const [one, two] = [
      { from: 1, until: 2 },
      { from: 4, until: 5 },
    ];
    expect(sameStretches([one, two], [one, { from: 4, until: 6 }])).toBe(false);
    expect(sameStretches([one, two], [one, { from: 3, until: 5 }])).toBe(false);
    expect(sameStretches([one, two], [one])).toBe(false);
  });
});

describe('things that lie alike', () => {
  const groups = (before: Partial<LibraryData>, after = before, apart: string | null = null) => {
    const of = (data: Partial<LibraryData>) =>
      new Library({ folders: [], placements: [], handingsOut: [], ...data });
    const was = of(before);
    return atOnce(groupAlike(was, after === before ? was : of(after), apart));
  };
  const sizes = (...states: Parameters<typeof groups>) =>
    groups(...states)
      .map(({ folders, itemIds }) => [folders, itemIds.length])
      .sort();

  it('are one group, however deep they lie, with the places of its first', () => {
    const [only, ...others] = groups({
      folders: [folder('top'), folder('top/in'), folder('other')],
      placements: [placed('p', 'in', 'i'), placed('q', 'other', 'j'), placed('r', 'other', 'i')],
    });
    expect(others).toEqual([]);
    const place = { folderId: 'top', placement: null };
    expect(only).toEqual({ folders: 3, itemIds: ['i', 'j'], before: [place], after: [place] });
    expect(only!.after).toBe(only!.before);
  });

  it.each([
    ['a hold', { release: rule({ held: true }) }],
    ['a beginning', { release: rule({ from: 5 }) }],
    ['an end', { release: rule({ until: 5 }) }],
    ['a hold for one class', { release: rule({}, [['A', { ...out, held: true }]]) }],
    ['a beginning for one class', { release: rule({}, [['A', { ...out, from: 5 }]]) }],
    ['a closed year', { yearClosed: true }],
  ] as const)('are set apart by %s of a folder, and not from each other', (_, more) => {
    const folders = [
      folder('plain'),
      folder('one', more),
      folder('one/below'),
      folder('two', more),
      folder('two/in'),
    ];
    const placements = [placed('p', 'plain', 'i'), placed('q', 'below', 'j')];
    expect(sizes({ folders, placements })).toEqual([
      [1, 1],
      [4, 1],
    ]);
  });

  it.each([
    ['a hold', { release: rule({ held: true }) }],
    ['dates', { release: rule({ from: 1, until: 5 }) }],
    ['an end', { release: rule({ until: 5 }) }],
  ] as const)('are set apart by %s of an item', (_, more) => {
    const placements = [
      placed('p', 'f', 'i', more),
      placed('q', 'f', 'j', more),
      placed('r', 'f', 'k'),
    ];
    expect(sizes({ folders: [folder('f')], placements })).toEqual([
      [0, 2],
      [1, 1],
    ]);
  });

  it('are set apart by dates of one class from the same of another', () => {
    const of = (classId: string) => rule({}, [[classId, { ...out, from: 5 }]]);
    const folders = [folder('a', { release: of('A') }), folder('b', { release: of('B') })];
    expect(sizes({ folders })).toEqual([
      [1, 0],
      [1, 0],
    ]);
  });

  it('are alike in whatever order their classes, handings out and places are told', () => {
    const [forA, forB] = [
      ['A', { ...out, from: 5 }],
      ['B', { ...out, from: 6 }],
    ] as const;
    expect(
      sizes({
        folders: [
          folder('one', { release: rule({}, [forA, forB]) }),
          folder('two', { release: rule({}, [forB, forA]) }),
        ],
      }),
    ).toEqual([[2, 0]]);
    expect(
      sizes({
        folders: [folder('one'), folder('two')],
        handingsOut: [
          handed('one', classA),
          handed('one', classB),
          handed('two', classB),
          handed('two', classA),
        ],
      }),
    ).toEqual([[2, 0]]);
    const placements = [
      placed('p', 'plain', 'i'),
      placed('q', 'held', 'i'),
      placed('r', 'held', 'j'),
      placed('s', 'plain', 'j'),
    ];
    const folders = [folder('plain'), folder('held', { release: rule({ held: true }) })];
    expect(sizes({ folders, placements })).toEqual([
      [0, 2],
      [1, 0],
      [1, 0],
    ]);
  });

  it('are set apart by to whom, and when, they are handed out; items as well', () => {
    const folders = ['a', 'b', 'from', 'until', 'none'].map((id) => folder(id));
    const handingsOut = [
      handed('a', classA),
      handed('b', classB),
      handed('from', classA, { from: 5 }),
      handed('until', classA, { until: 5 }),
    ];
    expect(sizes({ folders, handingsOut })).toEqual(folders.map(() => [1, 0]));
    const placements = ['item1', 'item2', 'item3'].map((id) => placed(`p${id}`, 'f', id));
    expect(
      sizes({
        folders: [folder('f')],
        placements,
        handingsOut: [handed('item1', classA), handed('item2', classA)],
      }),
    ).toEqual([
      [0, 2],
      [1, 1],
    ]);
  });

  it('are set apart from those in the folder that is named', () => {
    const folders = [folder('top'), folder('top/in'), folder('other')];
    expect(sizes({ folders })).toEqual([[3, 0]]);
    const one = { folders };
    expect(sizes(one, one, 'top')).toEqual([
      [1, 0],
      [2, 0],
    ]);
  });

  it('are none that are in the Bin, below it, or below what is not there', () => {
    expect(
      groups({
        folders: [folder('bin', { binned: true }), folder('bin/below'), folder('gone/below2')],
        placements: [
          placed('p', 'below', 'i'),
          placed('q', 'below2', 'j'),
          placed('r', 'gone', 'k'),
        ],
      }),
    ).toEqual([]);
    const folders = [folder('f')];
    const placements = [placed('p', 'f', 'i', { binned: true }), placed('q', 'f', 'j')];
    expect(sizes({ folders, placements })).toEqual([[1, 1]]);
  });

  it('of two states are alike where they are alike in both; nowhere is a place, too', () => {
    const folders = [folder('f')];
    const [p, q] = [placed('p', 'f', 'i'), placed('q', 'f', 'j')];
    const found = groups({ folders, placements: [p] }, { folders, placements: [q] });
    const here = { folderId: 'f', placement: null };
    expect(found).toMatchObject([
      { folders: 1, itemIds: [], before: [here], after: [here] },
      { folders: 0, itemIds: ['i'], before: [{ folderId: 'f', placement: p }], after: [] },
      { folders: 0, itemIds: ['j'], before: [], after: [{ folderId: 'f', placement: q }] },
    ]);
  });

  it('are found in pieces of at most five hundred items', () => {
    const placements = Array.from({ length: 1200 }, (_, n) => placed(`p${n}`, 'f', `i${n}`));
    const library = new Library({ folders: [folder('f')], placements, handingsOut: [] });
    const work = groupAlike(library, library);
    let pieces = 0;
    while (!work.next().done) pieces += 1;
    expect(pieces).toBe(4);
  });
});

describe('people who are reached alike', () => {
  const member = (id: string, ...classIds: string[]) => ({
    id,
    schoolId: 's',
    staff: false,
    memberships: classIds.map((classId) => ({ classId, courseId: 'k', from: null, until: null })),
  });
  const world = (people: ReturnType<typeof member>[], doors: string[] = []) => ({
    library: new Library({ folders: [folder('f')], placements: [], handingsOut: [] }),
    people,
    doors: doors.map((id) => ({ id, kind: 'school' as const, schoolId: 's' })),
  });
  const ways = (list: readonly { audience: string }[]) => list.map(({ audience }) => audience);
  const parties = (...args: Parameters<typeof partiesOf>) =>
    partiesOf(...args).map(({ before, after, people }) => [people, ways(before), ways(after)]);

  it('are one party, whatever else they belong to and in whatever order', () => {
    const state = world([
      member('p', 'A', 'B', 'C'),
      member('q', 'B', 'A'),
      member('r', 'A'),
      member('teacher', 'A'),
    ]);
    const [both, one] = partiesOf(state, state, [classA, classB]);
    expect(both!.after).toBe(both!.before);
    expect(one!.before[0]!.key).toBe(both!.before[0]!.key);
    expect(both!.before[0]!.when).toBe(ALWAYS);
    expect(parties(state, state, [classA, classB])).toEqual([
      [2, ['class:A', 'class:B'], ['class:A', 'class:B']],
      [1, ['class:A'], ['class:A']],
    ]);
  });

  it('are told by name only where the name is asked for', () => {
    const state = world([member('p'), member('q')]);
    expect(parties(state, state, [])).toEqual([[2, [], []]]);
    expect(parties(state, state, [{ kind: 'person', id: 'p' }])).toEqual([
      [1, ['person:p'], ['person:p']],
      [1, [], []],
    ]);
  });

  it('come and go, and so do doors, which are passed by nobody who can be counted', () => {
    const door = (id: string) => ({ kind: 'door' as const, id });
    expect(
      parties(
        world([member('p', 'A')], ['old', 'both']),
        world([member('q', 'A')], ['both', 'new']),
        [classA, ...['old', 'both', 'new'].map(door)],
      ),
    ).toEqual([
      [1, ['class:A'], []],
      [1, [], ['class:A']],
      [null, ['door:old'], []],
      [null, ['door:both'], ['door:both']],
      [null, [], ['door:new']],
    ]);
  });
});
