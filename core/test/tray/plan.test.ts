import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  planRound,
  type PlacedFile,
  type RoundRow,
  type RoundStep,
  type TrayFolder,
} from '../../src/index.ts';

const OUT = { held: false, from: null, until: null };
const HELD = { held: true, from: null, until: null };
const CLASSES = ['A', 'B', 'C'];
const FOLDERS: TrayFolder[] = [
  { id: 'shared', title: 'shared', parentId: null, classIds: ['A', 'B'] },
  { id: 'a', title: 'a', parentId: null, classIds: ['A'] },
  { id: 'all', title: 'all', parentId: null, classIds: ['A', 'B', 'C'] },
  { id: 'private', title: 'private', parentId: null, classIds: [] },
];

const file = (n: number, more: Partial<PlacedFile> = {}): PlacedFile => ({
  ...{
    itemId: `i${n}`,
    placementId: `p${n}`,
    folderId: 'shared',
    title: `Title ${n}`,
    extension: 'pdf',
  },
  ...{ originalName: `t${n}.pdf`, own: true, hash: `h${n}`, at: n, classIds: ['A', 'B'] },
  ...more,
});
const row = (n: number, to: [string | null, string][], more: Partial<RoundRow> = {}): RoundRow => ({
  ...{
    fileId: `f${n}`,
    hash: `new ${n}`,
    title: `New ${n}`,
    extension: 'pdf',
    again: false,
    versionOf: null,
  },
  to: to.map(([classId, folderId]) => ({ classId, folderId, release: OUT })),
  ...more,
});
const plan = (rows: RoundRow[], placed: PlacedFile[] = []) => planRound(rows, placed, FOLDERS);
const outcomes = ({ steps }: { steps: readonly RoundStep[] }) => steps.map((s) => s.outcome);

describe('a round', () => {
  it('puts a file into a folder with a release of its own for the classes that it is for', () => {
    const { steps } = plan([row(1, [['A', 'shared']])]);
    expect(steps).toMatchObject([
      {
        outcome: 'new',
        rules: [
          { classId: null, release: HELD },
          { classId: 'A', release: OUT },
        ],
      },
    ]);
    expect(
      plan([
        row(1, [
          ['A', 'shared'],
          ['B', 'shared'],
        ]),
      ]).steps,
    ).toMatchObject([{ rules: [{ classId: null, release: OUT }], classIds: ['A', 'B'] }]);
  });

  it('lets each class have its own time', () => {
    const later = { held: false, from: 5, until: null };
    const own = row(1, []);
    const to = [
      { classId: 'A', folderId: 'shared', release: OUT },
      { classId: 'B', folderId: 'shared', release: later },
    ];
    expect(plan([{ ...own, to }]).steps[0]!.rules).toEqual([
      { classId: null, release: HELD },
      { classId: 'A', release: OUT },
      { classId: 'B', release: later },
    ]);
  });

  it('makes one thing of a file that goes into several folders', () => {
    const { steps } = plan([
      row(1, [
        ['A', 'a'],
        ['C', 'all'],
      ]),
    ]);
    expect(steps.map(({ outcome, itemId }) => [outcome, itemId])).toEqual([
      ['new', null],
      ['placed', null],
    ]);
  });

  it('refuses what the library has, unless it is to be placed as well', () => {
    const placed = [file(1, { classIds: ['A'], folderId: 'a' })];
    const again = { hash: 'h1' };
    expect(plan([row(1, [['B', 'shared']], again)], placed).refused).toMatchObject([
      { because: 'in-library', placementId: 'p1' },
    ]);
    const { steps } = plan([row(1, [['B', 'shared']], { ...again, again: true })], placed);
    expect(steps).toMatchObject([{ outcome: 'placed', itemId: 'i1', title: 'Title 1' }]);
  });

  it('refuses the same content twice in a round, and what a class has, and goes on with the rest', () => {
    const placed = [file(1, { classIds: ['A'], folderId: 'a' })];
    const found = plan(
      [
        row(
          1,
          [
            ['A', 'shared'],
            ['B', 'shared'],
          ],
          { hash: 'h1', again: true },
        ),
        row(2, [['C', 'all']], { hash: 'h1' }),
        row(3, [['C', 'shared']]),
        row(4, []),
        row(5, [['A', 'gone']]),
      ],
      placed,
    );
    expect(found.steps).toMatchObject([{ fileId: 'f1', classIds: ['B'] }]);
    expect(found.refused.map(({ fileId, because }) => [fileId, because])).toEqual([
      ['f1', 'has-it'],
      ['f2', 'in-round'],
      ['f3', 'not-for-class'],
      ['f4', 'no-place'],
      ['f5', 'no-place'],
    ]);
  });

  it('makes the next version of a file of this name that is for the same classes, and a file of its own else', () => {
    const title = { title: 'Title 1' };
    const mine = [file(1, { classIds: ['A'] })];
    expect(outcomes(plan([row(1, [['A', 'shared']], title)], mine))).toEqual(['version']);
    const others = plan([row(1, [['B', 'shared']], title)], mine).steps;
    expect(others).toMatchObject([{ outcome: 'new', title: 'Title 1 2' }]);
    const more = plan(
      [
        row(
          1,
          [
            ['A', 'shared'],
            ['B', 'shared'],
          ],
          title,
        ),
      ],
      mine,
    ).steps;
    expect(more).toMatchObject([{ outcome: 'version', rules: [{ classId: 'B' }] }]);
    const wide = plan([row(1, [['A', 'shared']], title)], [file(1)]).steps;
    expect(wide).toMatchObject([{ outcome: 'new' }]);
    const said = plan([row(1, [['A', 'shared']], { versionOf: 'i1' })], [file(1)]).steps;
    expect(said).toMatchObject([{ outcome: 'version', title: 'Title 1' }]);
  });

  it('lets what is in the folder for one class go out to another', () => {
    const placed = [file(1, { classIds: ['A'] })];
    const { steps } = plan([row(1, [['B', 'shared']], { hash: 'h1', again: true })], placed);
    expect(steps).toMatchObject([
      { outcome: 'opened', placementId: 'p1', rules: [{ classId: 'B', release: OUT }] },
    ]);
  });

  it('never gives a class a content twice', () => {
    const hash = fc.constantFrom('h1', 'h2', 'h3');
    const title = fc.constantFrom('Title 1', 'Title 2', 'Title 3');
    const folderId = fc.constantFrom(...FOLDERS.map(({ id }) => id));
    const release = fc.constantFrom(OUT, { held: false, from: 9, until: null }, HELD);
    const library = fc
      .uniqueArray(
        fc.record({ item: fc.integer({ min: 1, max: 4 }), folderId, mine: fc.subarray(CLASSES) }),
        {
          selector: (x) => `${x.item} ${x.folderId}`,
          maxLength: 6,
        },
      )
      .chain((places) =>
        fc
          .tuple(fc.constant(places), fc.array(hash, { minLength: 4, maxLength: 4 }))
          .map(([all, hashes]) =>
            all.map(({ item, folderId: at, mine }, n) =>
              file(n, {
                ...{
                  itemId: `i${item}`,
                  folderId: at,
                  title: `Title ${item}`,
                  hash: hashes[item - 1]!,
                },
                classIds: FOLDERS.find((f) => f.id === at)!.classIds.filter((id) =>
                  mine.includes(id),
                ),
              }),
            ),
          ),
      );
    const rows = fc.array(
      fc.record({
        hash,
        title,
        again: fc.boolean(),
        versionOf: fc.constantFrom(null, null, 'i1', 'i2'),
        to: fc.array(fc.record({ classId: fc.constantFrom(null, ...CLASSES), folderId, release }), {
          maxLength: 4,
        }),
      }),
      { maxLength: 4 },
    );
    fc.assert(
      fc.property(library, rows, (placed, given) => {
        const all = given.map((one, n) => ({ ...one, fileId: `f${n}`, extension: 'pdf' }));
        const { steps } = planRound(all, placed, FOLDERS);
        const after = carriedOut(steps, placed, new Map(all.map((x) => [x.fileId, x.hash])));
        for (const classId of CLASSES)
          for (const content of ['h1', 'h2', 'h3']) {
            // One thing that was in two places before is one thing still.
            const has = (of: readonly Has[]) =>
              new Set(
                of
                  .filter((x) => x.hash === content && x.classIds.includes(classId))
                  .map((x) => (x.placementId.startsWith('new') ? x.placementId : x.itemId)),
              ).size;
            expect(has(after)).toBeLessThanOrEqual(Math.max(1, has(placed)));
          }
      }),
      { numRuns: 3000 },
    );
  });
});

type Has = Pick<PlacedFile, 'itemId' | 'folderId' | 'placementId' | 'hash' | 'classIds'>;
type Writable<T> = { -readonly [K in keyof T]: T[K] };

/** The library after the steps, by their releases alone. */
function carriedOut(
  steps: readonly RoundStep[],
  placed: readonly PlacedFile[],
  hashes: ReadonlyMap<string, string>,
): Has[] {
  const there: (Writable<Has> & { classIds: string[] })[] = placed.map((x) => ({
    ...x,
    classIds: [...x.classIds],
  }));
  const made = new Map<string, string>();
  for (const step of steps) {
    const hash = hashes.get(step.fileId)!;
    const reached = FOLDERS.find(({ id }) => id === step.folderId)!.classIds;
    const out = step.rules.filter(({ release }) => !release.held);
    const own = out.flatMap(({ classId }) => (classId === null ? reached : [classId]));
    const itemId = step.itemId ?? made.get(step.fileId) ?? `made ${step.fileId}`;
    if (step.itemId === null) made.set(step.fileId, itemId);
    if (step.outcome === 'version') for (const x of there) if (x.itemId === itemId) x.hash = hash;
    const here = there.find((x) => x.itemId === itemId && x.folderId === step.folderId);
    if (here) here.classIds.push(...own.filter((id) => !here.classIds.includes(id)));
    else
      there.push({
        ...{ itemId, placementId: `new ${there.length}`, folderId: step.folderId, hash },
        classIds: own.filter((id) => reached.includes(id)),
      });
  }
  return there;
}
