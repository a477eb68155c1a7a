import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  asksFirst,
  atOnce,
  consequence,
  handingConsequences,
  Library,
  OUT,
  type HandingOut,
  type LibraryData,
  type World,
} from '../src/index.ts';
import { naiveConsequence } from './naive.ts';
import { idOf, randomSchool, type RandomSchool } from './random-school.ts';
import { runs, share } from './runs.ts';

function world(school: RandomSchool, data: LibraryData = school.data): World {
  return {
    library: new Library(data),
    people: school.people.map((p) => ({ ...p, schoolId: school.schoolId })),
    doors: school.doors,
  };
}

/** One change of any kind to a school's library. */
function changed(school: RandomSchool, kind: number, n: number, other: RandomSchool): LibraryData {
  const { folders, placements, handingsOut } = school.data;
  const at = <T>(list: readonly T[]) => n % Math.max(1, list.length);
  if (kind === 0)
    return { ...school.data, handingsOut: handingsOut.filter((_, i) => i !== at(handingsOut)) };
  if (kind === 1)
    return { ...school.data, placements: placements.filter((_, i) => i !== at(placements)) };
  if (kind === 2)
    return {
      ...school.data,
      folders: folders.map((f, i) =>
        i === at(folders) ? { ...f, release: other.data.folders[0]!.release } : f,
      ),
    };
  if (kind === 3)
    return {
      ...school.data,
      placements: [
        ...placements,
        { ...placements[0]!, id: 'new', folderId: folders[at(folders)]!.id },
      ].filter((p) => p.itemId),
    };
  const fresh: HandingOut[] = other.data.handingsOut
    .slice(0, 1)
    .map((h) => ({ ...h, id: 'new', target: { kind: 'folder', id: folders[at(folders)]!.id } }));
  return { ...school.data, handingsOut: [...handingsOut, ...fresh] };
}

describe('consequence', () => {
  it('is what a look at everybody, everything and every later instant finds', () => {
    const found = { gains: 0, loses: 0, gainsLater: 0, losesLater: 0 };
    fc.assert(
      fc.property(
        randomSchool(),
        randomSchool(),
        fc.nat({ max: 4 }),
        fc.nat(),
        (school, other, kind, n) => {
          const before = world(school);
          const data = changed(school, kind, n, other);
          const after = world(school, data);
          const result = atOnce(consequence(before, after, school.now));
          expect(result).toEqual(
            naiveConsequence({ ...before, data: school.data }, { ...after, data }, school.now),
          );
          for (const line of result.audiences)
            for (const kind of ['gains', 'loses', 'gainsLater', 'losesLater'] as const)
              if (line[kind]) found[kind] += 1;
        },
      ),
      runs(800),
    );
    // Rich enough to say something of each kind.
    for (const [kind, times] of Object.entries(found)) expect(times, kind).toBeGreaterThan(0);
  });

  it('of handing a folder out, or taking it back, is the same whether told alone or for all audiences', () => {
    let told = 0;
    fc.assert(
      fc.property(randomSchool(), randomSchool(), fc.nat(), (school, other, n) => {
        const before = world(school);
        const folderId = school.data.folders[n % school.data.folders.length]!.id;
        const { handingsOut } = school.data;
        const audiences = [...handingsOut, ...other.data.handingsOut].map((h) => h.audience);
        const changes = audiences.map((audience) => {
          const here = handingsOut.find(
            (h) =>
              h.target.id === folderId &&
              h.audience.kind === audience.kind &&
              h.audience.id === audience.id,
          );
          const target = { kind: 'folder' as const, id: folderId };
          const fresh = { id: 'new', target, audience, level: 'view' as const };
          return {
            audience,
            handingsOut: here
              ? handingsOut.filter((h) => h !== here)
              : [...handingsOut, { ...fresh, from: null, until: null }],
          };
        });
        const results = atOnce(handingConsequences(before, folderId, changes, school.now));
        for (const [m, { handingsOut }] of changes.entries()) {
          const after = world(school, { ...school.data, handingsOut });
          expect(results[m]).toEqual(atOnce(consequence(before, after, school.now)));
          told += results[m]!.audiences.length;
        }
      }),
      runs(150),
    );
    expect(told).toBeGreaterThan(share(50));
  });

  it('says nothing of a change that changes nothing', () => {
    fc.assert(
      fc.property(randomSchool(), (school) => {
        const result = atOnce(consequence(world(school), world(school), school.now));
        expect(result).toEqual({ audiences: [], peopleGaining: 0, peopleLosing: 0 });
        expect(asksFirst(result)).toBe(false);
      }),
    );
  });

  it('counts people of a class, what comes later, and asks only where it should', () => {
    const open = { ...OUT, perClass: new Map() };
    const people = [0, 1, 2].map((n) => ({
      id: idOf('person', n),
      schoolId: 's',
      staff: false,
      memberships: [{ classId: n < 2 ? 'A' : 'B', courseId: 'k', from: null, until: null }],
    }));
    const data: LibraryData = {
      folders: [
        {
          id: 'f',
          ownerId: 'teacher',
          path: ['f'],
          release: open,
          binned: false,
          yearClosed: false,
        },
      ],
      placements: [
        { id: 'p', folderId: 'f', itemId: 'i', release: open, binned: false },
        { id: 'q', folderId: 'f', itemId: 'j', release: { ...open, from: 500 }, binned: false },
      ],
      handingsOut: [],
    };
    const toA: HandingOut = {
      id: 'h',
      target: { kind: 'folder', id: 'f' },
      audience: { kind: 'class', id: 'A' },
      level: 'view',
      from: null,
      until: null,
    };
    const before = { library: new Library(data), people, doors: [] };
    const after = { ...before, library: new Library({ ...data, handingsOut: [toA] }) };
    const given = atOnce(consequence(before, after, 100));
    expect(given.audiences).toEqual([
      {
        audience: toA.audience,
        gains: { people: 2, items: 1, folders: 1 },
        loses: null,
        gainsLater: { people: 2, items: 1, folders: 0, from: 500 },
        losesLater: null,
      },
    ]);
    expect(asksFirst(given)).toBe(false);
    expect(asksFirst(atOnce(consequence(after, before, 100)))).toBe(true);

    const door = { id: 'd', kind: 'public' as const, schoolId: 's' };
    const opened = { ...toA, audience: { kind: 'door' as const, id: 'd' } };
    const publicly = atOnce(
      consequence(
        before,
        { ...before, doors: [door], library: new Library({ ...data, handingsOut: [opened] }) },
        100,
      ),
    );
    expect(publicly.audiences[0]?.gains).toEqual({ people: null, items: 1, folders: 1 });
    expect(asksFirst(publicly)).toBe(true);
  });

  it.each([
    ['public', { kind: 'door', id: 'd' }, true, false],
    ['school', { kind: 'school', id: 's' }, true, false],
    ['a class', { kind: 'class', id: 'A' }, false, true],
    ['a course', { kind: 'course', id: 'k' }, false, true],
    ['a person', { kind: 'person', id: 'a' }, false, false],
    ['staff', { kind: 'staff', id: 's' }, false, false],
  ] as const)('asks of %s when more is shown, or less, now or later', (_, audience, more, less) => {
    const asks = (key: 'gains' | 'gainsLater' | 'loses' | 'losesLater') => {
      const none = { gains: null, loses: null, gainsLater: null, losesLater: null };
      const effect = { people: 1, items: 1, folders: 0, from: 5 };
      const line = { audience, ...none, [key]: effect };
      return asksFirst({ audiences: [line], peopleGaining: 1, peopleLosing: 1 });
    };
    for (const key of ['gains', 'gainsLater'] as const) expect(asks(key), key).toBe(more);
    for (const key of ['loses', 'losesLater'] as const) expect(asks(key), key).toBe(less);
  });
});
