import { sql } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import { Library, type Right, type Viewer as CoreViewer } from '@sammlung/core';
import type { RandomSchool } from '@sammlung/core/testing';
import { rows, type Queries } from '../src/db/database.ts';
import {
  accessParams,
  waysInTable,
  rightIn,
  seesPlacement,
  type AccessParams,
  type Viewer,
} from '../src/domain/access/access-sql.ts';
import { thingsBelow } from '../src/domain/access/below.ts';
import { cardsSeen } from '../src/domain/access/cards.ts';
import { handedFolders, handedItems } from '../src/domain/access/reached.ts';
import { listFolder } from '../src/domain/files/list.ts';
import { placementFor } from '../src/domain/files/open.ts';
import { found } from '../src/features/find/queries.ts';
import { staffFolders, whatCame } from '../src/features/receive/queries.ts';
import { foldersSeen, itemsSeen } from '../src/domain/files/walk.ts';
import { folderFor } from '../src/domain/access/folders.ts';
import { scratchDatabase } from './database.ts';
import { asViewer, onRandomSchools, orNone } from './planting.ts';

const { db, close } = await scratchDatabase();
afterAll(close);

const RIGHTS: Right[] = ['none', 'view', 'add', 'manage', 'own'];
describe('the access rule in SQL', () => {
  it('answers as core does for every viewer of random schools', async () => {
    let compared = 0;
    let seen = 0;
    await onRandomSchools(db, 150, async (tx, school) => {
      const library = new Library(school.data);
      const t = school.now;
      for (const viewer of school.viewers) {
        const params = accessParams(asViewer(viewer, t));
        const folders = await rows<{ id: string; right: number }>(
          tx,
          sql`with ${waysInTable(params)} select n.id, ${rightIn(sql`n`, params)} as right from folders n`,
        );
        for (const f of folders) {
          const right = library.rightIn(viewer, f.id, t);
          expect(`${f.id} ${RIGHTS[f.right]}`).toBe(`${f.id} ${right}`);
        }
        const placements = await placementsSeen(tx, params);
        for (const p of placements) {
          const sees = library.seesPlacement(viewer, p.id, t);
          expect(`${p.id} ${p.sees}`).toBe(`${p.id} ${sees}`);
          compared += 1;
          if (sees) seen += 1;
        }
      }
    });
    // Both answers must have come up often, else the schools would be too poor to tell anything.
    expect(seen).toBeGreaterThan(compared / 20);
    expect(seen).toBeLessThan(compared * 0.95);
  });

  it('shows folders with what core lets know of the way up, and exactly what lies in them', async () => {
    let shown = 0;
    await onRandomSchools(db, 60, async (tx, school) => {
      const library = new Library(school.data);
      const t = school.now;
      for (const viewer of school.viewers)
        for (const { id } of school.data.folders) {
          const seenBy = asViewer(viewer, t);
          const folder = await orNone(folderFor(tx, seenBy, id));
          expect(folder?.right ?? 'none').toBe(library.rightIn(viewer, id, t));
          if (!folder) {
            expect(await orNone(listFolder(tx, seenBy, id, { limit: 100 }))).toBeNull();
            expect(await itemsSeen(tx, seenBy, id)).toEqual([]);
            // Folders of one that is not seen may be seen by themselves: nothing leads to them through it.
            continue;
          }
          shown += 1;
          const way = library.visiblePath(viewer, id, t).map((f) => f.id);
          expect(folder.crumbs.map((c) => c.id)).toEqual(way);
          const listed = await listFolder(tx, seenBy, id, { limit: 100 });
          const { items, folders: inside } = listed.contents.read();
          expect([listed.right, listed.ownerId]).toEqual([folder.right, folder.ownerId]);
          const lying = school.data.placements
            .filter((p) => p.folderId === id && library.seesPlacement(viewer, p.id, t))
            .map((p) => p.id);
          expect(items.map((i) => i.placementId).sort()).toEqual(lying.sort());
          const below = school.data.folders
            .filter((f) => f.path.at(-2) === id && !f.binned && library.seesFolder(viewer, f.id, t))
            .map((f) => f.id);
          expect(inside.map((f) => f.id).sort()).toEqual(below.sort());
          // Programs walk the same.
          const walked = await itemsSeen(tx, seenBy, id);
          expect(walked.map((i) => i.placementId).sort()).toEqual(lying);
          const walkedInto = await foldersSeen(tx, seenBy, id);
          expect(walkedInto.map((f) => f.id).sort()).toEqual(below);
          for (const { title } of inside.slice(0, 1)) {
            const key = title.normalize('NFC').toLowerCase();
            const named = inside.filter((f) => f.title.normalize('NFC').toLowerCase() === key);
            expect((await foldersSeen(tx, seenBy, id, key)).map((f) => f.id).sort()).toEqual(
              named.map((f) => f.id).sort(),
            );
          }
          for (const f of inside) {
            const there = school.data.placements.filter(
              (p) => p.folderId === f.id && library.seesPlacement(viewer, p.id, t),
            );
            expect(f.items).toBe(there.length);
          }
        }
    });
    expect(shown).toBeGreaterThan(100);
  });

  it('answers for any member of a class as for one who is nothing else, and keeps to one library where asked', async () => {
    let seen = 0;
    await onRandomSchools(db, 80, async (tx, school) => {
      const t = school.now;
      const person = (classes: RandomSchool['classes']): CoreViewer => ({
        person: {
          id: '00000000-0000-4000-8000-000000000000',
          schoolId: school.schoolId,
          staff: false,
          memberships: classes.map((c) => ({
            classId: c.id,
            courseId: c.courseId,
            from: null,
            until: null,
          })),
        },
        doors: [],
      });
      const only = school.people[0]!.id;
      const own = new Library({
        ...school.data,
        folders: school.data.folders.filter((f) => f.ownerId === only),
      });
      const library = new Library(school.data);
      const cases: { seenBy: Viewer; viewer: CoreViewer; rule: Library }[] = [
        ...school.classes.map((c) => ({
          seenBy: { personId: null, doorIds: [], at: t, asClass: c.id },
          viewer: person([c]),
          rule: library,
        })),
        ...school.viewers.map((viewer) => ({
          seenBy: { ...asViewer(viewer, t), only },
          viewer,
          rule: own,
        })),
      ];
      for (const { seenBy, viewer, rule } of cases) {
        const params = accessParams(seenBy);
        const found = await placementsSeen(tx, params);
        for (const p of found) {
          const sees = rule.seesPlacement(viewer, p.id, t);
          expect(`${p.id} ${p.sees}`).toBe(`${p.id} ${sees}`);
          if (sees) seen += 1;
        }
      }
    });
    expect(seen).toBeGreaterThan(100);
  });
});

it('lets nobody into the place of a student by any query but the student and those who teach the class', async () => {
  const count = { inside: 0, outside: 0 };
  let turn = 0;
  await onRandomSchools(db, 300, async (tx, school) => {
    const { data, places, viewers, now } = school;
    if (places.length === 0) return;
    // Two viewers of each school, in turn.
    for (const n of [0, 1]) {
      const viewer = viewers[(turn + n) % viewers.length]!;
      const seenBy = asViewer(viewer, now);
      const { person } = viewer;
      for (const { folderId, personId, classId } of places) {
        const may = person?.id === personId || (person?.teaches?.includes(classId) ?? false);
        const below = data.folders.filter((f) => f.path[0] === folderId).map(({ id }) => id);
        for (const id of below) {
          const inIt = data.placements.filter((p) => p.folderId === id);
          expect((await orNone(folderFor(tx, seenBy, id))) !== null).toBe(may);
          expect((await orNone(listFolder(tx, seenBy, id, { limit: 10 }))) !== null).toBe(may);
          expect((await itemsSeen(tx, seenBy, id)).length).toBe(may ? inIt.length : 0);
          const taken = await orNone(thingsBelow(tx, seenBy, [{ kind: 'folder', id }]));
          expect(taken !== null).toBe(may);
          for (const { id: placement } of inIt) {
            expect((await orNone(placementFor(tx, seenBy, placement))) !== null).toBe(may);
            const cards = await cardsSeen(tx, seenBy, [{ kind: 'placement', id: placement }]);
            expect(cards.length > 0).toBe(may);
          }
        }
        count[may ? 'inside' : 'outside'] += 1;
      }
      // What is put together for everybody has nothing of it but for the student: teachers find it in the box.
      const others = places.filter(({ personId }) => personId !== person?.id);
      const foreign = data.folders.filter((f) => others.some((p) => p.folderId === f.path[0]));
      const ids = new Set(
        data.placements.flatMap(({ folderId, id, itemId }) =>
          foreign.some((f) => f.id === folderId) ? [folderId, id, itemId] : [],
        ),
      );
      const everything = JSON.stringify([
        (await whatCame(tx, seenBy, { limit: 1000 })).things.read(),
        await handedFolders(tx, seenBy),
        await handedItems(tx, seenBy),
        await staffFolders(tx, seenBy),
        person ? await found(tx, seenBy, { words: 'sheet' }, 1000) : [],
      ]);
      expect([...ids].filter((id) => everything.includes(id))).toEqual([]);
    }
    turn += 1;
  });
  expect(count.inside).toBeGreaterThan(50);
  expect(count.outside).toBeGreaterThan(200);
});

/** Every placement, and whether it is seen. */
function placementsSeen(tx: Queries, params: AccessParams) {
  return rows<{ id: string; sees: boolean }>(
    tx,
    sql`with ${waysInTable(params)} select p.id, ${seesPlacement(sql`p`, sql`f`, params)} as sees
      from placements p join folders f on f.id = p.folder_id`,
  );
}
