import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  afterChange,
  atOnce,
  consequence,
  confidentialWord,
  CONFIDENTIAL_WORDS,
  dayAfter,
  dayAt,
  explain,
  folderStandings,
  instantAt,
  Library,
  readWords,
  squares,
  startOfDay,
  wallTime,
  type Change,
  type LibraryData,
  type World,
} from '../src/index.ts';
import { naiveChange, naiveConsequence } from './naive.ts';
import { idOf, randomSchool, type RandomSchool } from './random-school.ts';
import { runs, share } from './runs.ts';

const world = (school: RandomSchool): World => ({
  library: new Library(school.data),
  people: school.people.map((p) => ({ ...p, schoolId: school.schoolId })),
  doors: school.doors,
});

/** Holds a consequence against a look at everybody and everything, now and at every later instant. */
function expectForetold(before: World, after: World, t: number) {
  const naive = (world: World) => ({ ...world, data: world.library.data });
  expect(atOnce(consequence(before, after, t))).toEqual(
    naiveConsequence(naive(before), naive(after), t),
  );
}

/** What is in a library, without the names and the order of what is new. */
function contentsOf({ folders, placements, handingsOut }: LibraryData) {
  const named = <T extends { id: string }>(list: readonly T[], nameOf: (one: T) => string) =>
    new Map(
      list.map((one) =>
        one.id.startsWith('new') ? [nameOf(one), { ...one, id: 'new' }] : [one.id, one],
      ),
    );
  return {
    folders,
    placements: named(placements, (p) => `${p.folderId} ${p.itemId}`),
    handingsOut: named(
      handingsOut,
      (h) => `new ${h.target.id} ${h.audience.kind} ${h.audience.id}`,
    ),
    counts: [placements.length, handingsOut.length],
  };
}

const any = <T>(list: readonly T[], n: number): T | undefined => list[n % Math.max(1, list.length)];

/** One change of any kind that a teacher can make, to a thing of the school. */
function changeOf(
  school: RandomSchool,
  other: RandomSchool,
  kind: number,
  n: number,
): Change | null {
  const folder = any(school.data.folders, n)!;
  const placement = any(school.data.placements, n >> 3);
  const things = [
    n % 2 === 0 || !placement
      ? { kind: 'folder' as const, id: folder.id }
      : { kind: 'placement' as const, id: placement.id },
  ];
  const to = any(school.data.folders, n >> 5)!.id;
  const release = any(other.data.folders, n >> 2)!.release;
  const node = any(other.data.folders, n >> 4)!;
  if (kind === 0) {
    const audiences = other.data.handingsOut.map((h) => h.audience).slice(0, 3);
    const { from, until } = release;
    return audiences.length === 0
      ? null
      : { do: 'hand-out', things, audiences, level: 'view', from, until };
  }
  if (kind === 1)
    return {
      do: 'take-back',
      handings: school.data.handingsOut.filter((_, i) => (n >> i) % 2 === 0).map((h) => h.id),
    };
  if (kind === 2) {
    const classId = n % 3 === 0 ? null : any(school.classes, n)!.id;
    const rule = { classId, release: n % 5 === 0 ? null : release };
    const beside = { classId: any(school.classes, n >> 4)!.id, release: node.release };
    return { do: 'release', things, rules: n % 7 < 3 ? [rule, beside] : [rule] };
  }
  if (kind === 3) return { do: 'remove', things };
  if (kind === 4) return { do: 'move', things, to };
  return placement ? { do: 'place', placements: [placement.id], to: [to] } : null;
}

describe('the consequence of every kind of change', () => {
  it('is the difference of what is seen before and after, now and later', () => {
    let changed = 0;
    fc.assert(
      fc.property(
        randomSchool(),
        randomSchool(),
        fc.nat({ max: 5 }),
        fc.nat({ max: 4095 }),
        (school, other, kind, n) => {
          const change = changeOf(school, other, kind, n);
          if (!change) return;
          const before = world(school);
          const after = { ...before, library: afterChange(before.library, change) };
          expect(contentsOf(after.library.data)).toEqual(
            contentsOf(naiveChange(school.data, change)),
          );
          if (atOnce(consequence(before, after, school.now)).audiences.length > 0) changed += 1;
          expectForetold(before, after, school.now);
        },
      ),
      runs(400),
    );
    // Most changes of poor schools change nothing; enough of them must.
    expect(changed).toBeGreaterThan(share(40));
  });

  it('of class lists, too: who joins, who leaves, who moves to another class', () => {
    fc.assert(
      fc.property(randomSchool(), fc.nat(), fc.nat({ max: 2 }), (school, n, way) => {
        const before = world(school);
        const student = before.people.filter((p) => !p.staff)[n % 3]!;
        const target = any(school.classes, n)!;
        const joined = { classId: target.id, courseId: target.courseId, from: null, until: null };
        const memberships =
          way === 0
            ? [...student.memberships, joined]
            : way === 1
              ? student.memberships.map((m) => ({ ...m, until: school.now }))
              : [joined];
        const people = before.people.map((p) => (p === student ? { ...p, memberships } : p));
        expectForetold(before, { ...before, people }, school.now);
      }),
      runs(150),
    );
  });

  it('of doors: one that is opened shows what it leads to, one that is closed takes it away', () => {
    fc.assert(
      fc.property(randomSchool(), fc.nat(), (school, n) => {
        const before = world(school);
        const folder = any(school.data.folders, n)!;
        const door = { id: 'new', kind: 'public' as const, schoolId: school.schoolId };
        const opened = afterChange(before.library, {
          do: 'hand-out',
          things: [{ kind: 'folder', id: folder.id }],
          audiences: [{ kind: 'door', id: door.id }],
          level: 'view',
          from: null,
          until: null,
        });
        const after = { ...before, library: opened, doors: [...before.doors, door] };
        expectForetold(before, after, school.now);
        const closed = atOnce(consequence(after, before, school.now));
        const open = atOnce(consequence(before, after, school.now));
        const line = (c: typeof open) => c.audiences.find((a) => a.audience.id === door.id);
        expect(line(closed)?.loses ?? null).toEqual(line(open)?.gains ?? null);
      }),
      runs(150),
    );
  });

  it('handing out what an audience has already gives it the new dates and level, once', () => {
    const school = fc.sample(randomSchool(), { numRuns: 1, seed: 7 })[0]!;
    const library = new Library(school.data);
    const folderId = school.data.folders[0]!.id;
    const audience = { kind: 'class' as const, id: idOf('class', 0) };
    const once = {
      do: 'hand-out' as const,
      things: [{ kind: 'folder' as const, id: folderId }],
      audiences: [audience],
      level: 'view' as const,
      from: 5,
      until: null,
    };
    const twice = afterChange(afterChange(library, once), { ...once, from: 9 });
    const found = twice.handingsOn(folderId).filter((h) => h.audience.id === audience.id);
    expect(found.map((h) => h.from)).toEqual([9]);
  });
});

describe('the board', () => {
  it('says of each square what the tabs of the folder say, and names what was handed out right there', () => {
    fc.assert(
      fc.property(randomSchool(), (school) => {
        const library = new Library(school.data);
        const ids = school.data.folders.map((f) => f.id);
        const found = squares(library, ids, school.now);
        for (const folderId of ids) {
          const here = found.filter((s) => s.folderId === folderId);
          const standings = folderStandings(library, folderId, school.now);
          expect(here.map((s) => [s.audience.id, s.state, s.from])).toEqual(
            standings.map((s) => [s.audience.id, s.state, s.from]),
          );
          for (const square of here)
            expect(square.here).toBe(
              library
                .handingsOn(folderId)
                .find(
                  ({ audience: { kind, id }, appearanceId }) =>
                    !appearanceId &&
                    `${kind}${id}` === `${square.audience.kind}${square.audience.id}`,
                ) ?? null,
            );
        }
      }),
      runs(200),
    );
  });
});

describe('the explanation', () => {
  it('has a way without an obstacle exactly when the thing is seen, and never one for strangers', () => {
    let seen = 0;
    fc.assert(
      fc.property(randomSchool(), (school) => {
        const library = new Library(school.data);
        const targets = [
          ...school.data.folders.map((f) => ({ folderId: f.id, placementId: null })),
          ...school.data.placements.map((p) => ({ folderId: p.folderId, placementId: p.id })),
        ];
        for (const viewer of school.viewers)
          for (const target of targets) {
            const { sees, owns, binned, reasons } = explain(library, viewer, target, school.now);
            const rule = target.placementId
              ? library.seesPlacement(viewer, target.placementId, school.now)
              : library.seesFolder(viewer, target.folderId, school.now);
            expect(sees).toBe(rule);
            const open = !binned && (owns || reasons.some((r) => r.obstacle === null));
            expect(open).toBe(rule);
            if (sees) seen += 1;
          }
      }),
      runs(150),
    );
    expect(seen).toBeGreaterThan(share(300));
  });
});

describe('days and clocks of a zone', () => {
  it('go there and back, at every hour of the year', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 366 * 24 * 4 }),
        fc.constantFrom(
          'Europe/Berlin',
          'America/New_York',
          'Asia/Kathmandu',
          'Australia/Lord_Howe',
          'UTC',
        ),
        (quarter, zone) => {
          const t = Date.UTC(2026, 0, 1) + quarter * 15 * 60_000;
          const there = instantAt(wallTime(t, zone), zone);
          // In the hour that comes twice the first one is meant.
          expect([0, 30, 60].map((minutes) => minutes * 60_000)).toContain(t - there);
          expect(wallTime(there, zone)).toBe(wallTime(t, zone));
          expect(startOfDay(dayAt(t, zone), zone)).toBeLessThanOrEqual(t);
          expect(t - startOfDay(dayAt(t, zone), zone)).toBeLessThan(25 * 3_600_000);
        },
      ),
      runs(300),
    );
  });

  it('know the hour that comes twice in October and the one that is left out in March', () => {
    const berlin = (wall: string) => new Date(instantAt(wall, 'Europe/Berlin')).toISOString();
    expect(berlin('2026-10-25T02:30')).toBe('2026-10-25T00:30:00.000Z');
    expect(berlin('2026-10-25T03:00')).toBe('2026-10-25T02:00:00.000Z');
    expect(berlin('2026-03-29T02:30')).toBe('2026-03-29T01:30:00.000Z');
    expect(berlin('2026-12-07T08:00')).toBe('2026-12-07T07:00:00.000Z');
    for (const wrong of ['2026-02-30T08:00', '2026-12-07', 'soon', '2026-12-07T25:00'])
      expect(() => berlin(wrong), wrong).toThrow(RangeError);
    expect(dayAfter('2026-12-31', 1)).toBe('2027-01-01');
    expect(dayAfter('2026-03-01', -1)).toBe('2026-02-28');
  });
});

describe('names that look confidential', () => {
  it.each([
    ['Answer_key-2.pdf', 'key'],
    ['answerKey', 'key'],
    ['MARKS of 7B', 'marks'],
    ['Mark schemes', 'mark'],
    ['Keyboard skills', null],
    ['Remarkable trees', null],
    ['Notes on reporting', null],
  ])('%j: %j', (name, word) => {
    expect(confidentialWord(name, CONFIDENTIAL_WORDS)).toBe(word);
  });

  it('follow a list of one’s own, with terms of several words', () => {
    const words = readWords('safe guarding\n Über uns ,\nkey;key');
    expect(words).toEqual(['safe guarding', 'Über uns', 'key']);
    expect(confidentialWord('Safe-guarding plan', words)).toBe('safe guarding');
    expect(confidentialWord('ÜBER_UNS', words)).toBe('Über uns');
    expect(confidentialWord('Marks', words)).toBeNull();
  });
});
