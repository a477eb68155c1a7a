import fc from 'fast-check';
import type { ReleaseRule, Span, Viewer as CoreViewer } from '@sammlung/core';
import { randomSchool, type RandomSchool } from '@sammlung/core/testing';
import type { Database, Queries } from '../src/db/database.ts';
import * as s from '../src/db/schema/index.ts';
import type { Viewer } from '../src/domain/access/access-sql.ts';
import { AppError } from '../src/platform/errors.ts';

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
      kind: p.kind,
      name: p.id,
      email: `${p.id}@school.example`,
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
  const by = school.people[0]!.id;
  await put(
    school.people.flatMap(({ id, teaches }) => {
      const taught = school.classes.filter((c) => teaches.includes(c.id));
      return [...new Set(taught.map((c) => c.courseId))].map((courseId) => ({
        ...{ schoolId, courseId, personId: id },
      }));
    }),
    (v) => tx.insert(s.courseTeachers).values(v),
  );
  // In their order: a folder finds its path in its parent, which comes before it.
  await put(
    data.folders.map((f) => ({
      id: f.id,
      schoolId,
      ownerId: f.ownerId,
      inPlace: f.ownerId === null,
      createdBy: f.ownerId ?? by,
      parentId: f.path.at(-2) ?? null,
      title: `Sheets ${f.id}`,
      yearId: f.yearClosed ? yearIds.closed : null,
      binnedAt: f.binned ? new Date(0) : null,
      ...release(f.release),
    })),
    (v) => tx.insert(s.folders).values(v),
  );
  await tx.insert(s.items).values(
    [...school.itemOwners].map(([id, ownerId]) => ({
      id,
      schoolId,
      ownerId,
      kind: 'link' as const,
      title: `Sheet ${id}`,
      url: 'https://example.org/',
    })),
  );
  await put(
    data.placements.map((p) => ({
      id: p.id,
      schoolId,
      folderId: p.folderId,
      itemId: p.itemId,
      addedBy: school.itemOwners.get(p.itemId)!,
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
  await plantClosedClass(tx, school, yearIds.closed);
  const target = (h: RandomSchool['data']['handingsOut'][number]) =>
    h.target.kind === 'folder' ? { folderId: h.target.id } : { itemId: h.target.id };
  // Each in a box of its own, which is closed, so that the tables make no places for the others of the class.
  await put(
    school.places.map(({ folderId, classId }) => ({
      ...{ id: folderId, schoolId, classId, title: 'Soil log', createdBy: by },
      closedAt: new Date(0),
    })),
    (v) => tx.insert(s.boxes).values(v),
  );
  await put(
    school.places.map(({ folderId, personId }) => ({
      ...{ folderId, schoolId, boxId: folderId, personId },
    })),
    (v) => tx.insert(s.places).values(v),
  );
  const handed = data.handingsOut.filter(({ audience }) => audience.kind !== 'door');
  // An entry is called as its appearance is, and has what was handed out.
  const onPages = handed.flatMap((h) =>
    h.appearanceId ? [{ ...h, appearanceId: h.appearanceId }] : [],
  );
  await put(
    onPages.map(({ appearanceId }) => ({
      ...{ schoolId, id: appearanceId, ownerId: by, title: appearanceId },
    })),
    (v) => tx.insert(s.entries).values(v),
  );
  await put(
    onPages.flatMap(({ appearanceId, target: { kind, id } }) => {
      const placement = data.placements.find(({ itemId }) => itemId === id);
      const folderId = kind === 'folder' ? id : null;
      if (!folderId && !placement) return [];
      const placementId = folderId ? null : placement!.id;
      return [{ ...{ schoolId, entryId: appearanceId, position: 1 }, folderId, placementId }];
    }),
    (v) => tx.insert(s.entryThings).values(v),
  );
  await put(
    onPages.map((h) => ({
      ...{ schoolId, id: h.appearanceId, entryId: h.appearanceId, classId: h.audience.id },
      ...{ createdBy: by, ...span(h) },
    })),
    (v) => tx.insert(s.appearances).values(v),
  );
  await put(
    handed.map((h) => {
      const { kind, id } = h.audience;
      return {
        id: h.id,
        schoolId,
        ...target(h),
        audienceKind: kind as Exclude<typeof kind, 'door'>,
        personId: kind === 'person' ? id : null,
        classId: kind === 'class' ? id : null,
        taughtClassId: kind === 'teachers' ? id : null,
        courseId: kind === 'course' ? id : null,
        level: h.level,
        createdBy: by,
        appearanceId: h.appearanceId ?? null,
        ofPlace: h.ofPlace ?? false,
        ...span(h),
      };
    }),
    (v) => tx.insert(s.grants).values(v),
  );
}

/** A class of a closed year, of which all students are, and which has a part of everything: it changes nothing for anybody. */
async function plantClosedClass(
  tx: Queries,
  { schoolId, people, data, itemOwners }: RandomSchool,
  yearId: string,
): Promise<void> {
  const [course] = await tx
    .insert(s.courses)
    .values({ schoolId, yearId, title: 'Over', colour: 'moss' })
    .returning();
  const courseId = course!.id;
  const [made] = await tx
    .insert(s.classes)
    .values({ schoolId, yearId, courseId, code: 'OVER', colour: 'moss' })
    .returning();
  const classId = made!.id;
  await tx
    .insert(s.memberships)
    .values(
      people
        .filter(({ kind }) => kind === 'student')
        .map(({ id }) => ({ schoolId, classId, personId: id })),
    );
  const folderIds = data.folders.flatMap(({ id, ownerId }) => (ownerId === null ? [] : [id]));
  const free = [...itemOwners.keys()].filter(
    (id) => !data.placements.some((p) => p.itemId === id && !folderIds.includes(p.folderId)),
  );
  const common = { schoolId, createdBy: people[0]!.id };
  await tx
    .insert(s.grants)
    .values([
      ...folderIds
        .filter((_, n) => n % 2 === 0)
        .map((folderId) => ({ ...common, folderId, audienceKind: 'class' as const, classId })),
      ...free
        .filter((_, n) => n % 3 === 0)
        .map((itemId) => ({ ...common, itemId, audienceKind: 'course' as const, courseId })),
    ]);
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

async function plantDoors(tx: Queries, { doors, data, people, schoolId }: RandomSchool) {
  const opened = doors.map((door) => {
    const h = data.handingsOut.find(({ id }) => id === door.id)!;
    return {
      id: door.id,
      schoolId,
      kind: door.kind,
      token: `token-of-at-least-22-signs-${door.id}`,
      folderId: h.target.kind === 'folder' ? h.target.id : null,
      itemId: h.target.kind === 'item' ? h.target.id : null,
      createdBy: people[0]!.id,
      ...span(h),
    };
  });
  if (opened.length > 0) await tx.insert(s.doors).values(opened);
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

export const asViewer = (viewer: CoreViewer, at: number): Viewer => ({
  at,
  personId: viewer.person?.id ?? null,
  doorIds: viewer.doors.map((d) => d.id),
});

/** Null for what is not there for somebody. */
export const orNone = <T>(found: Promise<T>): Promise<T | null> =>
  found.catch((error: unknown) => {
    if (error instanceof AppError && error.code === 'not-found') return null;
    throw error;
  });

class RollBack extends Error {}

/** Lays one random school after the other down, and leaves nothing of it. The seed is printed; SEED repeats it. */
export async function onRandomSchools(
  db: Database,
  numRuns: number,
  look: (tx: Database, school: RandomSchool) => Promise<void>,
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
