import fc from 'fast-check';
import { sql } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import { Library, type ReleaseRule, type Right, type Span, type Viewer } from '@sammlung/core';
import { randomSchool, type RandomSchool } from '@sammlung/core/testing';
import { rows, type Queries } from '../src/db/database.ts';
import * as s from '../src/db/schema/index.ts';
import {
  asking,
  keysTable,
  rightIn,
  seesPlacement,
  type Asker,
} from '../src/platform/access/twin.ts';
import { foldersIn, itemsIn } from '../src/features/reading/queries.ts';
import { folderFor } from '../src/platform/access/folder.ts';
import { AppError } from '../src/platform/errors.ts';
import { scratchDatabase } from './database.ts';

const { db, close } = await scratchDatabase();
afterAll(close);

const RIGHTS: Right[] = ['none', 'view', 'add', 'manage', 'own'];
const DAY = '2026-08-01';

const date = (t: number | null) => (t === null ? null : new Date(t));
const span = ({ from, until }: Span) => ({ fromAt: date(from), untilAt: date(until) });
const release = (rule: ReleaseRule) => ({ held: rule.held, ...span(rule) });

/** Lays a random school down in the tables. */
async function plant(tx: Queries, school: RandomSchool) {
  const { schoolId, data } = school;
  const put = async <T extends object>(
    values: T[],
    insert: (values: T[]) => PromiseLike<unknown>,
  ) => {
    if (values.length > 0) await insert(values);
  };
  await tx.insert(s.schools).values({ id: schoolId, name: 'Random', timeZone: 'UTC' });
  await tx.insert(s.people).values(
    school.people.map((p) => ({
      id: p.id,
      schoolId,
      kind: p.staff ? ('teacher' as const) : ('student' as const),
      name: p.id,
    })),
  );
  const yearIds = { open: school.courses[0]!, closed: school.courses[1]! };
  await tx.insert(s.years).values([
    { id: yearIds.open, schoolId, label: 'open', firstDay: DAY, lastDay: '2027-07-01' },
    {
      id: yearIds.closed,
      schoolId,
      label: 'closed',
      firstDay: DAY,
      lastDay: '2027-07-01',
      closedAt: new Date(0),
    },
  ]);
  await tx.insert(s.courses).values(
    school.courses.map((id) => ({
      id,
      schoolId,
      yearId: yearIds.open,
      title: id,
      colour: 'leaf' as const,
    })),
  );
  await tx.insert(s.classes).values(
    school.classes.map((c) => ({
      ...c,
      schoolId,
      yearId: yearIds.open,
      code: c.id,
      colour: 'leaf' as const,
    })),
  );
  await put(
    school.people.flatMap((p) =>
      p.memberships.map((m) => ({ schoolId, classId: m.classId, personId: p.id, ...span(m) })),
    ),
    (v) => tx.insert(s.memberships).values(v),
  );
  for (const f of data.folders)
    await tx.insert(s.folders).values({
      id: f.id,
      schoolId,
      ownerId: f.ownerId,
      createdBy: f.ownerId,
      parentId: f.path.at(-2) ?? null,
      title: f.id,
      yearId: f.yearClosed ? yearIds.closed : null,
      binnedAt: f.binned ? new Date(0) : null,
      ...release(f.release),
    });
  await tx.insert(s.items).values(
    [...school.itemOwners].map(([id, ownerId]) => ({
      id,
      schoolId,
      ownerId,
      kind: 'link' as const,
      title: id,
      url: 'https://example.org/',
    })),
  );
  await put(
    data.placements.map((p) => ({
      id: p.id,
      schoolId,
      folderId: p.folderId,
      itemId: p.itemId,
      addedBy: school.people[0]!.id,
      binnedAt: p.binned ? new Date(0) : null,
      ...release(p.release),
    })),
    (v) => tx.insert(s.placements).values(v),
  );
  await put(
    [
      ...data.folders.map((f) => ({ target: { folderId: f.id }, rule: f.release })),
      ...data.placements.map((p) => ({ target: { placementId: p.id }, rule: p.release })),
    ].flatMap(({ target, rule }) =>
      [...rule.perClass].map(([classId, r]) => ({
        schoolId,
        classId,
        held: r.held,
        ...span(r),
        ...target,
      })),
    ),
    (v) => tx.insert(s.classReleases).values(v),
  );
  const target = (h: RandomSchool['data']['handingsOut'][number]) =>
    h.target.kind === 'folder' ? { folderId: h.target.id } : { itemId: h.target.id };
  const by = school.people[0]!.id;
  for (const h of data.handingsOut) {
    const { kind, id } = h.audience;
    if (kind === 'door') continue;
    await tx.insert(s.grants).values({
      id: h.id,
      schoolId,
      ...target(h),
      audienceKind: kind,
      personId: kind === 'person' ? id : null,
      classId: kind === 'class' ? id : null,
      courseId: kind === 'course' ? id : null,
      level: h.level,
      createdBy: by,
      ...span(h),
    });
  }
}

/** In the tables a door has one target; so each handing out through a door becomes a door of its own kind. */
function separateDoors(school: RandomSchool): RandomSchool {
  const doors: RandomSchool['doors'][number][] = [];
  const shown = new Map<string, string[]>();
  const handingsOut = school.data.handingsOut.map((h) => {
    if (h.audience.kind !== 'door') return h;
    const door = school.doors.find((d) => d.id === h.audience.id)!;
    doors.push({ ...door, id: h.id });
    shown.set(door.id, [...(shown.get(door.id) ?? []), h.id]);
    return { ...h, audience: { kind: 'door' as const, id: h.id } };
  });
  const viewers = school.viewers.map((v) => ({
    ...v,
    doors: v.doors.flatMap((d) => (shown.get(d.id) ?? []).map((id) => ({ ...d, id }))),
  }));
  return { ...school, doors, viewers, data: { ...school.data, handingsOut } };
}

async function plantDoors(tx: Queries, school: RandomSchool) {
  for (const door of school.doors) {
    const h = school.data.handingsOut.find((x) => x.id === door.id)!;
    // One open door of a kind for a target: the second one of the random school takes the place of none.
    await tx.insert(s.doors).values({
      id: door.id,
      schoolId: school.schoolId,
      kind: door.kind,
      token: `token-of-at-least-22-signs-${door.id}`,
      folderId: h.target.kind === 'folder' ? h.target.id : null,
      itemId: h.target.kind === 'item' ? h.target.id : null,
      createdBy: school.people[0]!.id,
      ...span(h),
    });
  }
}

/** Two doors of one kind to one target are refused by the tables; the second is left out. */
function withoutDoubleDoors(school: RandomSchool): RandomSchool {
  const known = new Set<string>();
  const handingsOut = school.data.handingsOut.filter((h) => {
    const door = school.doors.find((d) => d.id === h.audience.id);
    if (!door) return true;
    const name = `${door.kind}${h.target.id}`;
    return !known.has(name) && known.add(name);
  });
  return { ...school, data: { ...school.data, handingsOut } };
}

const askerOf = (viewer: Viewer): Asker => ({
  personId: viewer.person?.id ?? null,
  doorIds: viewer.doors.map((d) => d.id),
});

class RollBack extends Error {}

/** Lays one random school after the other down, and leaves nothing of it. The seed is printed; SEED repeats it. */
async function onRandomSchools(
  numRuns: number,
  look: (tx: Queries, school: RandomSchool) => Promise<void>,
) {
  const seed = Number(process.env.SEED ?? Date.now() % 2 ** 31);
  console.log(`Random schools from SEED=${seed}`);
  const property = fc.asyncProperty(randomSchool(), async (random) => {
    const school = separateDoors(withoutDoubleDoors(random));
    await db
      .transaction(async (tx) => {
        await plant(tx, school);
        await plantDoors(tx, school);
        await look(tx, school);
        throw new RollBack();
      })
      .catch((error: unknown) => {
        if (!(error instanceof RollBack)) throw error;
      });
  });
  await fc.assert(property, { numRuns, seed });
}

describe('the SQL twin of the access rule', () => {
  it('answers as core does for every viewer of random schools', async () => {
    let compared = 0;
    let seen = 0;
    await onRandomSchools(300, async (tx, school) => {
      const library = new Library(school.data);
      const t = school.now;
      for (const viewer of school.viewers) {
        const ask = asking(askerOf(viewer), t);
        const folders = await rows<{ id: string; right: number }>(
          tx,
          sql`with ${keysTable(ask)} select n.id, ${rightIn(sql`n`, ask)} as right from folders n`,
        );
        for (const f of folders) {
          const right = library.rightIn(viewer, f.id, t);
          expect(`${f.id} ${RIGHTS[f.right]}`).toBe(`${f.id} ${right}`);
        }
        const placements = await rows<{ id: string; sees: boolean }>(
          tx,
          sql`with ${keysTable(ask)} select p.id, ${seesPlacement(sql`p`, sql`f`, ask)} as sees
            from placements p join folders f on f.id = p.folder_id`,
        );
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
    await onRandomSchools(60, async (tx, school) => {
      const library = new Library(school.data);
      const t = school.now;
      for (const viewer of school.viewers)
        for (const { id } of school.data.folders) {
          const asker = askerOf(viewer);
          const folder = await folderFor(tx, asker, id, t).catch((error: unknown) => {
            if (error instanceof AppError && error.code === 'not-found') return null;
            throw error;
          });
          expect(folder?.right ?? 'none').toBe(library.rightIn(viewer, id, t));
          if (!folder) continue;
          shown += 1;
          const way = library.visiblePath(viewer, id, t).map((f) => f.id);
          expect(folder.crumbs.map((c) => c.id)).toEqual(way);
          const { items } = await itemsIn(tx, folder, asker, t, { limit: 100 });
          const lying = school.data.placements
            .filter((p) => p.folderId === id && library.seesPlacement(viewer, p.id, t))
            .map((p) => p.id);
          expect(items.map((i) => i.placementId).sort()).toEqual(lying.sort());
          const inside = await foldersIn(tx, folder, asker, t);
          const below = school.data.folders
            .filter((f) => f.path.at(-2) === id && !f.binned && library.seesFolder(viewer, f.id, t))
            .map((f) => f.id);
          expect(inside.map((f) => f.id).sort()).toEqual(below.sort());
        }
    });
    expect(shown).toBeGreaterThan(100);
  });

  it('answers for any member of a class as for one who is nothing else, and keeps to one library where asked', async () => {
    let seen = 0;
    await onRandomSchools(80, async (tx, school) => {
      const t = school.now;
      const person = (classes: RandomSchool['classes']): Viewer => ({
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
      const cases: { asker: Asker; viewer: Viewer; rule: Library }[] = [
        ...school.classes.map((c) => ({
          asker: { personId: null, doorIds: [], asClass: c.id },
          viewer: person([c]),
          rule: library,
        })),
        ...school.viewers.map((viewer) => ({
          asker: { ...askerOf(viewer), only },
          viewer,
          rule: own,
        })),
      ];
      for (const { asker, viewer, rule } of cases) {
        const ask = asking(asker, t);
        const found = await rows<{ id: string; sees: boolean }>(
          tx,
          sql`with ${keysTable(ask)} select p.id, ${seesPlacement(sql`p`, sql`f`, ask)} as sees
            from placements p join folders f on f.id = p.folder_id`,
        );
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
