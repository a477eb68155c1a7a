import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { allows, Library, OUT, type Viewer } from '../src/index.ts';
import { opening, sees } from './naive.ts';
import { folder, handed, placed, rule } from './plain.ts';
import { randomSchool } from './random-school.ts';
import { runs, share } from './runs.ts';

const held = rule({ held: true });
const T = 1000;

function student(...classes: string[]): Viewer {
  return {
    person: {
      id: 'student',
      schoolId: 'school',
      staff: false,
      memberships: classes.map((classId) => ({
        classId,
        courseId: 'course',
        from: null,
        until: null,
      })),
    },
    doors: [],
  };
}
const toClass = (folderId: string, id: string) => handed(folderId, { kind: 'class', id });
const item = (id: string, folderId: string, release = rule()) =>
  placed(id, folderId, `item-${id}`, { release });

const colleague: Viewer = {
  person: { id: 'colleague', schoolId: 'school', staff: true, memberships: [] },
  doors: [],
};

describe('who sees what', () => {
  it('reaches everything below a handed out folder and nothing beside or above it', () => {
    const lib = new Library({
      folders: [folder('a'), folder('a/b'), folder('a/b/c'), folder('a/d')],
      placements: [item('deep', 'c'), item('beside', 'd')],
      handingsOut: [toClass('b', 'A')],
    });
    const seen = ['a', 'b', 'c', 'd'].filter((id) => lib.seesFolder(student('A'), id, T));
    expect(seen).toEqual(['b', 'c']);
    expect(lib.seesPlacement(student('A'), 'deep', T)).toBe(true);
    expect(lib.seesPlacement(student('A'), 'beside', T)).toBe(false);
    expect(lib.visiblePath(student('A'), 'c', T).map((f) => f.id)).toEqual(['b', 'c']);
    expect(lib.visiblePath(student('B'), 'c', T)).toEqual([]);
  });

  it('closes everything below a hold, whatever was handed out further down', () => {
    const lib = new Library({
      folders: [folder('a', { release: held }), folder('a/b')],
      placements: [item('p', 'b')],
      handingsOut: [toClass('b', 'A')],
    });
    expect(lib.seesPlacement(student('A'), 'p', T)).toBe(false);
    expect(
      lib.seesPlacement(
        { person: { ...student().person!, id: 'teacher', staff: true }, doors: [] },
        'p',
        T,
      ),
    ).toBe(true);
  });

  it('reads a release of one class for that class only; who is in both sees it when either is out', () => {
    const quiz = rule({}, [['B', { ...OUT, from: T + 1 }]]);
    const lib = new Library({
      folders: [folder('a')],
      placements: [item('quiz', 'a', quiz)],
      handingsOut: [toClass('a', 'A'), toClass('a', 'B')],
    });
    expect(lib.seesPlacement(student('A'), 'quiz', T)).toBe(true);
    expect(lib.seesPlacement(student('B'), 'quiz', T)).toBe(false);
    expect(lib.seesPlacement(student('B'), 'quiz', T + 1)).toBe(true);
    expect(lib.seesPlacement(student('A', 'B'), 'quiz', T)).toBe(true);
  });

  it('does not let an unrelated class open what is still to come for the class that has the folder', () => {
    const quiz = rule({}, [['B', { ...OUT, held: true }]]);
    const lib = new Library({
      folders: [folder('a')],
      placements: [item('quiz', 'a', quiz)],
      handingsOut: [toClass('a', 'B')],
    });
    expect(lib.seesPlacement(student('B', 'Z'), 'quiz', T)).toBe(false);
  });

  it('lets colleagues see what is due to them whatever its release, and no more than their level', () => {
    const staff = {
      ...toClass('a', 'x'),
      audience: { kind: 'staff' as const, id: 'school' },
      level: 'add' as const,
    };
    const lib = new Library({
      folders: [folder('a', { release: held, yearClosed: true })],
      placements: [],
      handingsOut: [staff],
    });
    expect(lib.rightIn(colleague, 'a', T)).toBe('add');
    expect(allows(lib.rightIn(colleague, 'a', T), 'manage')).toBe(false);
    expect(lib.rightIn(student('A'), 'a', T)).toBe('none');
  });

  it('gives the highest of several levels, whichever was given first, while it lasts', () => {
    const byName = handed('a', { kind: 'person', id: 'colleague' }, { level: 'manage', until: T });
    const toStaff = handed('a', { kind: 'staff', id: 'school' }, { level: 'add' });
    for (const handingsOut of [
      [byName, toStaff],
      [toStaff, byName],
    ]) {
      const lib = new Library({
        folders: [folder('a')],
        placements: [item('p', 'a')],
        handingsOut,
      });
      expect(lib.rightIn(colleague, 'a', T - 1)).toBe('manage');
      expect(lib.rightIn(colleague, 'a', T)).toBe('add');
    }
    const lower = { ...byName, level: 'view' as const };
    const lib = new Library({
      folders: [folder('a')],
      placements: [],
      handingsOut: [lower, toStaff, lower],
    });
    expect(lib.rightIn(colleague, 'a', T - 1)).toBe('add');
    const ends = { ...toClass('a', 'A'), until: T };
    const ending = new Library({
      folders: [folder('a')],
      placements: [item('p', 'a')],
      handingsOut: [ends],
    });
    expect([T - 1, T].map((t) => ending.seesPlacement(student('A'), 'p', t))).toEqual([
      true,
      false,
    ]);
  });

  it('shows nothing below a folder that is not there', () => {
    const lib = new Library({
      folders: [folder('gone/a')],
      placements: [item('p', 'a')],
      handingsOut: [toClass('a', 'A')],
    });
    expect(lib.seesFolder(student('A'), 'a', T)).toBe(false);
    expect(lib.seesPlacement(student('A'), 'p', T)).toBe(false);
  });

  it('opens a school door only to people of that school', () => {
    const door = { id: 'door', kind: 'school' as const, schoolId: 'school' };
    const through = { ...toClass('a', 'x'), audience: { kind: 'door' as const, id: 'door' } };
    const lib = new Library({ folders: [folder('a')], placements: [], handingsOut: [through] });
    expect(lib.seesFolder({ ...student(), doors: [door] }, 'a', T)).toBe(true);
    expect(lib.seesFolder({ person: null, doors: [door] }, 'a', T)).toBe(false);
    expect(
      lib.seesFolder(
        { person: { ...student().person!, schoolId: 'other' }, doors: [door] },
        'a',
        T,
      ),
    ).toBe(false);
    expect(lib.seesFolder({ person: null, doors: [{ ...door, kind: 'public' }] }, 'a', T)).toBe(
      true,
    );
  });
});

describe('properties of the rule', () => {
  const cases = runs(400);

  it('lets everybody see what model.md, read word by word, lets them see', () => {
    let seen = 0;
    fc.assert(
      fc.property(randomSchool(), ({ data, viewers, now }) => {
        const lib = new Library(data);
        for (const viewer of viewers) {
          for (const { id } of data.folders) {
            const spot = { folderId: id, placementId: null };
            expect(lib.seesFolder(viewer, id, now)).toBe(sees(data, viewer, spot, now));
          }
          for (const p of data.placements) {
            const spot = { folderId: p.folderId, placementId: p.id };
            const is = sees(data, viewer, spot, now);
            expect(lib.seesPlacement(viewer, p.id, now)).toBe(is);
            if (is && viewer.person?.id !== lib.folders.get(p.folderId)!.ownerId) seen += 1;
          }
        }
      }),
      cases,
    );
    expect(seen).toBeGreaterThan(share(500));
  });

  it('lets teachers do what the highest level on an open way gives them, and students only look but in their places', () => {
    fc.assert(
      fc.property(randomSchool(), ({ data, viewers, now }) => {
        const lib = new Library(data);
        for (const viewer of viewers)
          for (const { id, ownerId } of data.folders) {
            const spot = { folderId: id, placementId: null };
            const levels = opening(data, viewer, spot, now).map((h) => h.level);
            const staff = viewer.person?.staff === true;
            const wanted =
              ownerId === viewer.person?.id
                ? sees(data, viewer, spot, now)
                  ? 'own'
                  : 'none'
                : levels.length === 0
                  ? 'none'
                  : !staff && ownerId !== null
                    ? 'view'
                    : (['manage', 'add', 'view'] as const).find((l) => levels.includes(l));
            expect(lib.rightIn(viewer, id, now)).toBe(wanted);
          }
      }),
      cases,
    );
  });

  it('never takes sight away by one more handing out, nor gives any by one more hold', () => {
    fc.assert(
      fc.property(randomSchool(), fc.nat(), ({ data, viewers, now }, n) => {
        const folder = data.folders[n % data.folders.length]!;
        const wider = new Library({
          ...data,
          handingsOut: [
            ...data.handingsOut,
            { ...toClass(folder.id, data.handingsOut[0]?.audience.id ?? 'x') },
          ],
        });
        const tighter = new Library({
          ...data,
          folders: data.folders.map((f) => (f.id === folder.id ? { ...f, release: held } : f)),
        });
        const lib = new Library(data);
        for (const viewer of viewers)
          for (const p of data.placements) {
            const sees = lib.seesPlacement(viewer, p.id, now);
            if (sees) expect(wider.seesPlacement(viewer, p.id, now)).toBe(true);
            else expect(tighter.seesPlacement(viewer, p.id, now)).toBe(false);
          }
      }),
      cases,
    );
  });

  it('starts what a viewer is told of at a folder that is seen, without gaps', () => {
    fc.assert(
      fc.property(randomSchool(), ({ data, viewers, now }) => {
        const lib = new Library(data);
        for (const viewer of viewers)
          for (const f of data.folders) {
            const shown = lib.visiblePath(viewer, f.id, now);
            expect(shown.every((x) => lib.seesFolder(viewer, x.id, now))).toBe(true);
            expect(shown.map((x) => x.id)).toEqual(f.path.slice(f.path.length - shown.length));
            expect(shown.length > 0).toBe(lib.seesFolder(viewer, f.id, now));
          }
      }),
      cases,
    );
  });

  it('lets nobody into the place of a student but the student and those who teach the class', () => {
    let inside = 0;
    fc.assert(
      fc.property(randomSchool(), ({ data, places, viewers, now }) => {
        const lib = new Library(data);
        for (const { folderId, personId, classId } of places)
          for (const { person, doors } of viewers) {
            const teaches = person?.teaches?.includes(classId) ?? false;
            const own = person?.id === personId;
            const below = data.folders.filter((f) => f.path[0] === folderId);
            for (const f of below) {
              const right = lib.rightIn({ person, doors }, f.id, now);
              expect(right === 'none').toBe(!teaches && !own);
              expect(right === 'manage').toBe(teaches);
              inside += 1;
            }
            for (const p of data.placements)
              if (below.some((f) => f.id === p.folderId))
                expect(lib.seesPlacement({ person, doors }, p.id, now)).toBe(teaches || own);
          }
      }),
      cases,
    );
    expect(inside).toBeGreaterThan(100);
  });
});
