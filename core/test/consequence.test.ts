import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  asksFirst,
  consequence,
  Library,
  OUT,
  type HandingOut,
  type LibraryData,
  type Viewer,
  type World,
} from '../src/index.ts';
import { idOf, randomSchool, type RandomSchool } from './random-school.ts';

function world(school: RandomSchool, data: LibraryData = school.data): World {
  return {
    library: new Library(data),
    people: school.people.map((p) => ({ ...p, schoolId: school.schoolId })),
    doors: school.doors,
  };
}

/** What a viewer sees, by brute force through the rule. */
function sight(library: Library, viewer: Viewer, t: number): Set<string> {
  const folders = [...library.folders.keys()].filter((id) => library.seesFolder(viewer, id, t));
  const items = [...library.placements.values()]
    .filter((p) => library.seesPlacement(viewer, p.id, t))
    .map((p) => p.itemId);
  return new Set([...folders, ...items]);
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
  it('foretells exactly who gains and who loses, and the same for each door', () => {
    fc.assert(
      fc.property(
        randomSchool(),
        randomSchool(),
        fc.nat({ max: 4 }),
        fc.nat(),
        (school, other, kind, n) => {
          const before = world(school);
          const after = world(school, changed(school, kind, n, other));
          const t = school.now;
          const result = consequence(before, after, t);

          const owners = new Set(school.data.folders.map((f) => f.ownerId));
          let gaining = 0;
          let losing = 0;
          const gainsBy = new Map<string, number>();
          for (const person of before.people.filter((p) => !owners.has(p.id))) {
            const viewer = { person, doors: [] };
            const was = sight(before.library, viewer, t);
            const is = sight(after.library, viewer, t);
            if ([...is].some((x) => !was.has(x))) {
              gaining += 1;
              gainsBy.set(person.id, [...is].filter((x) => !was.has(x)).length);
            }
            if ([...was].some((x) => !is.has(x))) losing += 1;
          }
          expect([result.peopleGaining, result.peopleLosing]).toEqual([gaining, losing]);

          for (const door of school.doors.filter((d) => d.kind === 'public')) {
            const viewer = { person: null, doors: [door] };
            const was = sight(before.library, viewer, t);
            const gained = [...sight(after.library, viewer, t)].filter((x) => !was.has(x)).length;
            const line = result.audiences.find((a) => a.audience.id === door.id);
            expect((line?.gains?.items ?? 0) + (line?.gains?.folders ?? 0)).toBe(gained);
          }
        },
      ),
      { numRuns: 400 },
    );
  });

  it('says nothing of a change that changes nothing', () => {
    fc.assert(
      fc.property(randomSchool(), (school) => {
        const result = consequence(world(school), world(school), school.now);
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
    const given = consequence(before, after, 100);
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
    expect(asksFirst(consequence(after, before, 100))).toBe(true);

    const door = { id: 'd', kind: 'public' as const, schoolId: 's' };
    const opened = { ...toA, audience: { kind: 'door' as const, id: 'd' } };
    const publicly = consequence(
      before,
      { ...before, doors: [door], library: new Library({ ...data, handingsOut: [opened] }) },
      100,
    );
    expect(publicly.audiences[0]?.gains).toEqual({ people: null, items: 1, folders: 1 });
    expect(asksFirst(publicly)).toBe(true);
  });
});
