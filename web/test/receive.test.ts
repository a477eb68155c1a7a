import type { NewThing, NewThings } from '@sammlung/contract';
import { describe, expect, it } from 'vitest';
import { runsOf, withNews } from '../src/features/receive/came.ts';

const SO1A = { id: 'so1a', code: 'SO1A', colour: 'moss' } as const;
const PR2A = { id: 'pr2a', code: 'PR2A', colour: 'plum' } as const;

let made = 0;
const thing = (title: string, given: Partial<NewThing> = {}): NewThing => {
  made += 1;
  return {
    placementId: `p${made}`,
    itemId: `i${made}`,
    kind: 'file',
    title,
    extension: 'pdf',
    url: null,
    mediaType: 'application/pdf',
    size: 10,
    version: 1,
    lessonDate: null,
    keepOnTop: false,
    small: null,
    opening: null,
    opened: false,
    changedAt: '2026-11-02T08:00:00.000Z',
    cameAt: '2026-11-02T08:00:00.000Z',
    folder: { id: 'soil', title: 'Soil' },
    classes: [SO1A],
    ...given,
  } as NewThing;
};
const many = (n: number, given: Partial<NewThing> = {}) =>
  Array.from({ length: n }, (_, at) => thing(`Sheet ${at + 1}`, given));

describe('runs of things out of one folder', () => {
  it('shows a few of a long one and says how many more there are', () => {
    const [run, ...others] = runsOf(many(50), new Set());
    expect(run).toMatchObject({ folded: 46 });
    expect(run!.things.map(({ title }) => title)).toEqual([
      'Sheet 1',
      'Sheet 2',
      'Sheet 3',
      'Sheet 4',
    ]);
    expect(others).toEqual([]);
  });
  it('shows eight whole, and all when they were asked for', () => {
    expect(runsOf(many(8), new Set())[0]).toMatchObject({ folded: 0 });
    const things = many(50);
    const [run] = runsOf(things, new Set([runsOf(things, new Set())[0]!.from]));
    expect(run).toMatchObject({ folded: 0, things });
  });
  it('begins another run where the folder or the classes change, each with a key of its own', () => {
    const things = [
      ...many(2),
      ...many(2, { classes: [SO1A, PR2A] }),
      ...many(2, { folder: { id: 'water', title: 'Water' } }),
      ...many(2),
    ];
    const runs = runsOf(things, new Set());
    expect(runs.map((run) => run.things.length)).toEqual([2, 2, 2, 2]);
    expect(new Set(runs.map(({ key }) => key)).size).toBe(4);
    expect(runs[0]!.from).toBe(runs[3]!.from);
  });
  it('folds nothing that came without its folder', () => {
    expect(runsOf(many(20, { folder: null }), new Set())[0]).toMatchObject({ folded: 0 });
  });
});

describe('news of some folders', () => {
  const shown = (things: NewThing[], more = false): NewThings => ({
    things,
    more,
    unopened: things.filter(({ opened }) => !opened).length,
    classes: [
      { ...SO1A, unopened: things.filter((x) => !x.opened && x.classes.includes(SO1A)).length },
    ],
    forMe: 0,
    digest: null,
    joinRequests: 0,
    boxes: 0,
  });
  const titles = ({ things }: NewThings) => things.map(({ title }) => title);

  it('takes over what these folders hold now, the newest first, else by folder and from A to Z', () => {
    const other = thing('Frost', { folder: { id: 'water', title: 'Water' } });
    const before = shown([thing('Sheet 9'), other]);
    const come = [
      thing('Sheet 10'),
      thing('Sheet 2'),
      thing('Later', { cameAt: '2026-11-02T09:00:00.000Z' }),
    ];
    const after = withNews(before, { folderIds: ['soil'], things: come }, undefined);
    expect(titles(after)).toEqual(['Later', 'Sheet 2', 'Sheet 10', 'Frost']);
    expect(after.unopened).toBe(4);
    expect(after.classes).toMatchObject([{ unopened: 4 }]);
  });
  it('keeps what was opened as such, unless there is a newer version of it', () => {
    const [read, renewed] = [thing('Read', { opened: true }), thing('Renewed', { opened: true })];
    const after = withNews(
      shown([read, renewed]),
      {
        folderIds: ['soil'],
        things: [
          { ...read, opened: false },
          { ...renewed, opened: false, version: 2 },
        ],
      },
      undefined,
    );
    expect(after.things.map(({ title, opened }) => [title, opened])).toEqual([
      ['Read', true],
      ['Renewed', false],
    ]);
    expect(after.unopened).toBe(1);
  });
  it('leaves out what is older than what is shown, and what came by another class', () => {
    const before = shown([thing('Shown')], true);
    const come = [
      ...before.things,
      thing('Old', { cameAt: '2026-10-01T08:00:00.000Z' }),
      thing('Of another', { classes: [PR2A] }),
    ];
    expect(titles(withNews(before, { folderIds: ['soil'], things: come }, SO1A.id))).toEqual([
      'Shown',
    ]);
  });
  it('drops what is no longer there', () => {
    const after = withNews(shown([thing('Gone')]), { folderIds: ['soil'], things: [] }, undefined);
    expect(after).toMatchObject({ things: [], unopened: 0, classes: [{ unopened: 0 }] });
  });
});
