import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Library, unreached, type Viewer, type World } from '../src/index.ts';
import { folder, handed, placed, rule } from './plain.ts';
import { randomSchool, type RandomSchool } from './random-school.ts';
import { runs } from './runs.ts';

const HOUR = 3_600_000;
/** Every instant at which something begins or ends in a random school, and those in between. */
const instantsFrom = (t: number) => Array.from({ length: 16 }, (_, n) => t + (n * HOUR) / 2);

const worldOf = (school: RandomSchool): World => ({
  library: new Library(school.data),
  people: school.people.map((person) => ({ ...person, schoolId: school.schoolId })),
  doors: school.doors,
});

describe('readers of a page who do not see what it refers to', () => {
  it('are those who get the page, ever, and see the thing at no time from now on', () => {
    fc.assert(
      fc.property(randomSchool(), fc.nat(), fc.nat(), (school, p, f) => {
        const { folders, placements } = school.data;
        const page = placements[p % Math.max(placements.length, 1)];
        if (!page) return;
        const thing = folders[f % folders.length]!;
        const world = worldOf(school);
        // As if the page and all above it were out: what is held back today is written today.
        const path = new Set(folders.find(({ id }) => id === page.folderId)!.path);
        const out = { ...rule(), perClass: new Map() };
        const opened = new Library({
          ...school.data,
          folders: folders.map((one) =>
            path.has(one.id) ? { ...one, release: out, binned: false, yearClosed: false } : one,
          ),
          placements: placements.map((one) =>
            one.id === page.id ? { ...one, release: out, binned: false } : one,
          ),
        });
        const ever = (sees: (t: number) => boolean) => instantsFrom(school.now).some(sees);
        const owners = [page.folderId, thing.id].map(
          (id) => folders.find((one) => one.id === id)!.ownerId,
        );
        const unseeing = world.people.filter((person) => {
          const viewer: Viewer = { person, doors: [] };
          return (
            !owners.includes(person.id) &&
            ever((t) => opened.seesPlacement(viewer, page.id, t)) &&
            !ever((t) => world.library.seesFolder(viewer, thing.id, t))
          );
        });
        const found = unreached(
          world,
          { folderId: page.folderId, placement: page },
          { folderId: thing.id, placement: null },
          school.now,
        );
        const counted = found.filter(({ people }) => people !== null);
        // Somebody who is reached in two ways is counted for each of them.
        const most = counted.reduce((n, { people }) => n + people!, 0);
        expect(most).toBeGreaterThanOrEqual(unseeing.length);
        expect(counted.length > 0).toBe(unseeing.length > 0);
        for (const { people } of counted) expect(people).toBeLessThanOrEqual(unseeing.length);
      }),
      runs(300),
    );
  });

  it('are named with whether the thing is handed out to them and held back', () => {
    const classA = { kind: 'class' as const, id: 'A' };
    const door = { kind: 'door' as const, id: 'D' };
    const memberships = [{ classId: 'A', courseId: 'C', from: null, until: null }];
    const world: World = {
      library: new Library({
        folders: [
          folder('read'),
          folder('keys', { release: rule({ held: true }) }),
          folder('own'),
          folder('course'),
        ],
        placements: [placed('page', 'read', 'item-page')],
        handingsOut: [
          handed('read', classA),
          handed('read', door),
          handed('keys', classA),
          handed('course', { kind: 'course', id: 'C' }),
        ],
      }),
      people: ['ann', 'ben'].map((id) => ({ id, schoolId: 'S', staff: false, memberships })),
      doors: [{ id: 'D', kind: 'public', schoolId: 'S' }],
    };
    const page = { folderId: 'read', placement: world.library.placements.get('page')! };
    const of = (folderId: string) => unreached(world, page, { folderId, placement: null }, 1000);
    expect(of('keys')).toEqual([
      { audience: classA, people: 2, handedOut: true },
      { audience: door, people: null, handedOut: false },
    ]);
    expect(of('own')).toEqual([
      { audience: classA, people: 2, handedOut: false },
      { audience: door, people: null, handedOut: false },
    ]);
    expect(of('course')).toEqual([{ audience: door, people: null, handedOut: false }]);
    expect(of('read')).toEqual([]);
  });
});
