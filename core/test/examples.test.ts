import { describe, expect, it } from 'vitest';
import {
  allows,
  bestOf,
  confidentialWord,
  CONFIDENTIAL_WORDS,
  explain,
  folderStandings,
  instantAt,
  lessonDateIn,
  Library,
  OUT,
  OUTLINE_DEPTH,
  OUTLINE_LINES,
  parseOutline,
  positionsBetween,
  type Audience,
  type Explanation,
  type Folder,
  type HandingOut,
  type LibraryData,
  type ReleaseRule,
  type Right,
  type Viewer,
} from '../src/index.ts';
import { folder, handed, placed, rule } from './plain.ts';

const open = rule();
const library = (data: Partial<LibraryData>) =>
  new Library({ folders: [], placements: [], handingsOut: [], ...data });
const toClass = (id: string, target: string, more: Partial<HandingOut> = {}) =>
  handed(target, { kind: 'class', id: 'A' }, { id, ...more });
const pupil: Viewer = {
  person: {
    id: 'pupil',
    schoolId: 's',
    staff: false,
    memberships: [{ classId: 'A', courseId: 'k', from: null, until: null }],
  },
  doors: [],
};

describe('rights', () => {
  it('are each what those below it are, too', () => {
    const rights: Right[] = ['none', 'view', 'add', 'manage', 'own'];
    for (const [has, right] of rights.entries())
      for (const [wants, wanted] of rights.entries())
        expect(allows(right, wanted), `${right} ${wanted}`).toBe(has >= wants);
  });

  it('in what is not there are none, and nothing of it is told', () => {
    const nothing = library({});
    expect(nothing.rightIn(pupil, 'gone', 1)).toBe('none');
    expect(nothing.seesFolder(pupil, 'gone', 1)).toBe(false);
    expect(nothing.seesPlacement(pupil, 'gone', 1)).toBe(false);
    expect(nothing.visiblePath(pupil, 'gone', 1)).toEqual([]);
    expect(folderStandings(nothing, 'gone', 1)).toEqual([]);
    expect(explain(nothing, pupil, { folderId: 'gone', placementId: null }, 1)).toEqual({
      sees: false,
      owns: false,
      binned: false,
      reasons: [],
    });
  });
});

describe('what stands in the way', () => {
  const later: ReleaseRule = { ...open, from: 50 };
  const held: ReleaseRule = { ...open, held: true };
  const ended: ReleaseRule = { ...open, until: 5 };
  const obstacles = ({ reasons }: Explanation) => reasons.map((reason) => reason.obstacle);
  const why = (folders: Folder[], handings: HandingOut[], placement: ReleaseRule = open) =>
    explain(
      library({
        folders,
        handingsOut: handings,
        placements: [placed('p', 'in', 'i', { release: placement })],
      }),
      pupil,
      { folderId: 'in', placementId: 'p' },
      10,
    );
  const plain = [folder('top'), folder('top/in')];

  it('is the handing out itself, before or after its time', () => {
    expect(obstacles(why(plain, [toClass('h', 'top', { from: 20 })]))).toEqual([
      { kind: 'handing', id: 'h', state: 'later', from: 20 },
    ]);
    expect(obstacles(why(plain, [toClass('h', 'top', { until: 10 })]))).toEqual([
      { kind: 'handing', id: 'h', state: 'ended', from: null },
    ]);
  });

  it('is a closed year, or the first folder or placement that is not out', () => {
    const closed = [folder('top', { yearClosed: true, release: held }), folder('top/in')];
    expect(obstacles(why(closed, [toClass('h', 'top')]))).toEqual([
      { kind: 'year', id: 'top', state: 'ended', from: null },
    ]);
    const node = (kind: string, id: string, state: string, from: number | null) => ({
      kind,
      id,
      state,
      from,
    });
    const on = (release: ReleaseRule) =>
      why([folder('top', { release }), folder('top/in', { release: held })], [toClass('h', 'top')]);
    expect(obstacles(on(later))).toEqual([node('folder', 'top', 'later', 50)]);
    expect(obstacles(on(ended))).toEqual([node('folder', 'top', 'ended', null)]);
    expect(obstacles(on(open))).toEqual([node('folder', 'in', 'held', null)]);
    expect(obstacles(why(plain, [toClass('h', 'in')], { ...held, from: 50 }))).toEqual([
      node('placement', 'p', 'held', null),
    ]);
  });

  it('is never asked about by the owner', () => {
    const owner: Viewer = {
      person: { id: 'teacher', schoolId: 's', staff: true, memberships: [] },
      doors: [],
    };
    const toStaff = toClass('h', 'f', { audience: { kind: 'staff', id: 's' } });
    const mine = library({ folders: [folder('f')], handingsOut: [toStaff] });
    expect(explain(mine, owner, { folderId: 'f', placementId: null }, 10)).toEqual({
      sees: true,
      owns: true,
      binned: false,
      reasons: [],
    });
  });

  it('is nothing for staff, whatever is held', () => {
    const colleague: Viewer = {
      person: { id: 'colleague', schoolId: 's', staff: true, memberships: [] },
      doors: [],
    };
    const given = library({
      folders: [folder('f', { release: held, yearClosed: true })],
      handingsOut: [toClass('h', 'f', { audience: { kind: 'staff', id: 's' } })],
    });
    const { reasons } = explain(given, colleague, { folderId: 'f', placementId: null }, 10);
    expect(reasons.map((reason) => reason.obstacle)).toEqual([null]);
  });

  it('is nothing where something is seen, and the release of one’s own class counts', () => {
    const forA: ReleaseRule = { ...held, perClass: new Map([['A', OUT]]) };
    const { sees, reasons } = why(plain, [toClass('h', 'top')], forA);
    expect(sees).toBe(true);
    expect(reasons).toMatchObject([
      { handing: { id: 'h' }, key: { kind: 'class' }, obstacle: null },
    ]);
  });
});

describe('how a folder stands to an audience', () => {
  const stands = (handings: HandingOut[], release: ReleaseRule = open) =>
    folderStandings(
      library({ folders: [folder('f', { release })], handingsOut: handings }),
      'f',
      10,
    ).map(({ state, from, through }) => [state, from, through.id]);

  it('is by the later of what has to begin first', () => {
    expect(stands([toClass('h', 'f', { from: 20 })], { ...open, from: 30 })).toEqual([
      ['later', 30, 'h'],
    ]);
    expect(stands([toClass('h', 'f', { from: 30 })], { ...open, from: 20 })).toEqual([
      ['later', 30, 'h'],
    ]);
    expect(stands([toClass('h', 'f', { from: 5 })], { ...open, from: 20 })).toEqual([
      ['later', 20, 'h'],
    ]);
    expect(stands([toClass('h', 'f', { until: 10 })])).toEqual([['ended', null, 'h']]);
  });

  it('is the best of several ways, and of two that come later the sooner one', () => {
    const audience: Audience = { kind: 'class', id: 'A' };
    const through = toClass('h', 'f');
    const state = (state: 'out' | 'later' | 'held' | 'ended', from: number | null = null) => ({
      state,
      from,
      audience,
      through,
    });
    const sooner = state('later', 20);
    const [out, later, isHeld, ended] = [
      state('out'),
      state('later', 30),
      state('held'),
      state('ended'),
    ];
    for (const several of [
      [ended, isHeld, later, sooner, out],
      [out, sooner, later, isHeld, ended],
    ]) {
      expect(bestOf(several)).toBe(out);
      expect(bestOf(several.filter((x) => x !== out))).toBe(sooner);
      expect(bestOf([ended, isHeld])).toBe(isHeld);
    }
    const same = state('later', 20);
    expect(bestOf([sooner, same])).toBe(sooner);
  });

  it('to staff, and to a colleague by name, is out whatever is held', () => {
    const held = { ...open, held: true };
    const given = library({
      folders: [folder('f', { release: held })],
      handingsOut: [
        toClass('staff', 'f', { audience: { kind: 'staff', id: 's' } }),
        toClass('colleague', 'f', { audience: { kind: 'person', id: 'colleague' } }),
        toClass('pupil', 'f', { audience: { kind: 'person', id: 'pupil' } }),
        toClass('course', 'f', { audience: { kind: 'course', id: 'k' } }),
      ],
      readers: { staff: new Set(['colleague']), classesOf: new Map() },
    });
    expect(folderStandings(given, 'f', 10).map((s) => [s.through.id, s.state])).toEqual([
      ['staff', 'out'],
      ['colleague', 'out'],
      ['pupil', 'held'],
      ['course', 'held'],
    ]);
  });
});

describe('small rules', () => {
  it('positions before the first one come in rising order below it', () => {
    expect(positionsBetween(null, 10, 2)).toEqual([8, 9]);
    expect(positionsBetween(0, 2e-6, 1)).toEqual([1e-6]);
    expect(positionsBetween(0, 1.9e-6, 1)).toBeNull();
  });

  it.each([
    ['25_11_2026', '2026-11-25'],
    ['25.11.00', '2000-11-25'],
    ['31.4.2026', null],
    ['2026-13-01', null],
    ['30 Feb 2026', null],
    ['29 Feb', null],
    ['Sept 3', '2026-09-03'],
    ['3 Augt', null],
    ['3 september', '2026-09-03'],
    ['28 Dec', '2026-12-28'],
    ['2 Jan', '2027-01-02'],
  ])('the day in %s is %s', (name, day) => {
    expect(lessonDateIn(name, '2026-11-25')).toBe(day);
  });

  it('a day that is missing in the year next to it is looked for in the one before and after', () => {
    expect(lessonDateIn('29 Feb', '2027-11-25')).toBe('2028-02-29');
    expect(lessonDateIn('28 Dec', '2027-01-05')).toBe('2026-12-28');
  });

  it('an outline of several steps, bullets and tabs keeps its lines and tells its faults', () => {
    const { lines, faults } = parseOutline('* - A\n \tB\n    C\n      D\nE\n\t F\n');
    const names = (list: typeof lines): unknown[] =>
      list.map(({ name, line, below }) => [name, line, ...names(below)]);
    expect(names(lines)).toEqual([
      ['A', 1, ['B', 2], ['C', 3, ['D', 4]]],
      ['E', 5, ['F', 6]],
    ]);
    expect(faults).toEqual([]);
    const deep = Array.from({ length: OUTLINE_DEPTH + 1 }, (_, n) => ' '.repeat(n) + 'x');
    expect(parseOutline(deep.join('\n')).faults).toEqual([
      { line: OUTLINE_DEPTH + 1, fault: 'too-deep' },
    ]);
    const many = Array.from({ length: OUTLINE_LINES + 1 }, () => 'x');
    expect(parseOutline(many.join('\n')).faults).toEqual([
      { line: OUTLINE_LINES + 1, fault: 'too-many' },
    ]);
  });

  it('each confidential word is one; an empty term is none', () => {
    for (const word of CONFIDENTIAL_WORDS) {
      expect(word).toMatch(/^[a-z]+$/u);
      expect(confidentialWord(`The ${word} of 7B`, CONFIDENTIAL_WORDS)).toBe(word);
    }
    expect(CONFIDENTIAL_WORDS).toContain('gradebook');
    expect(CONFIDENTIAL_WORDS).toContain('passwords');
    expect(confidentialWord('any  name', ['', '--', 'any name'])).toBe('any name');
    expect(confidentialWord('Bo\u0308den', ['b\u00F6den'])).toBe('b\u00F6den');
  });

  it.each([
    'x2026-12-07T08:00',
    '2026-12-07T08:00x',
    '2026-12-07T24:00',
    '2026-12-07T08:60',
    '2026-13-07T08:00',
    '2026-00-07T08:00',
  ])('%s is no moment', (wall) => {
    expect(() => instantAt(wall, 'UTC')).toThrow(`no day and time: ${wall}`);
  });
});
