import type { ItemReach, Reach, Recorded, SchoolReach, SentNotes } from '@sammlung/contract';
import { belongs, opening, type RandomSchool } from '@sammlung/core/testing';
import { and, eq, isNotNull, sql } from 'drizzle-orm';
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import * as s from '../src/db/schema/index.ts';
import type { Database } from '../src/db/database.ts';
import { endOpenings, packOpenings } from '../src/domain/openings.ts';
import { classReach, folderReach, itemReach } from '../src/features/reach/service.ts';
import { AppError } from '../src/platform/errors.ts';
import type { SignedIn } from '../src/platform/sessions.ts';
import { scratchDatabase } from './database.ts';
import { startServer, type Who } from './harness.ts';
import { onRandomSchools } from './planting.ts';

const DAY_MS = 24 * 60 * 60 * 1000;
const ROSTER = ['person', 'class', 'course'];

describe('on random schools reach', () => {
  it('is what counting each opening of each person gives', async () => {
    const { db, close } = await scratchDatabase();
    const found = { folders: 0, classes: 0, opened: 0, earlier: 0, others: 0, unnamed: 0 };
    await onRandomSchools(db, 30, async (tx, school) => {
      const openings = await plantOpenings(tx, school);
      const reader = naiveReader(school, openings);
      // In every second school nobody teaches: what students open there is only counted, but for those reached by name.
      const teaching = openings.length % 2 === 0;
      if (!teaching) await tx.delete(s.courseTeachers);
      // The same once what was opened until today has been put together by day; a second night adds nothing.
      for (const nights of [0, 2]) {
        for (let n = 0; n < nights; n += 1) await packOpenings(tx, school.now);
        for (const teacher of school.people.filter(({ kind }) => kind === 'teacher')) {
          const person = signedIn(school, teacher.id);
          const teaches = teaching ? teacher.teaches : [];
          const needs = { db: tx, now: () => school.now };
          for (const { id } of school.data.folders) {
            const reach = await orRefused(folderReach(needs, person, id, undefined));
            if (!reach) continue;
            found.folders += 1;
            const expected = reader.itemsIn(id);
            expect(sorted(reach.items.map(({ itemId }) => itemId))).toEqual(sorted(expected));
            expectCounted(reach, reader, teaches, null, found);
            const [first] = reach.items;
            if (!first) continue;
            const one = await orRefused(itemReach(needs, person, first.placementId, undefined));
            if (!one) continue;
            expect(one.item).toEqual({ ...first, folder: '', days: one.item.days });
            for (const { personId, state, version } of one.students) {
              expect(state).toBe(reader.state(personId, first.itemId));
              expect(version).toBe(reader.newestVersion(personId, first.itemId));
            }
            expect(one.others).toBe(reader.others(first.itemId));
            found.others += one.others ?? 0;
          }
          for (const classId of teaches) {
            const reach = await classReach(needs, person, classId);
            found.classes += 1;
            expectCounted(reach, reader, teaches, classId, found);
          }
        }
      }
    });
    for (const [what, times] of Object.entries(found)) expect(times, what).toBeGreaterThan(0);
    await close();
  });
});

const HASH = 'a'.repeat(64);
type Planted = { personId: string; itemId: string; version: number | null; downloaded: boolean };

/** Gives half of the items two versions, and lets people open and download things, some of which they do not see. */
async function plantOpenings(tx: Database, school: RandomSchool): Promise<Planted[]> {
  const { schoolId, data, now, people, itemOwners } = school;
  await tx.update(s.schools).set({ reachSince: new Date(now - 30 * DAY_MS) });
  const versions = new Map<string, string[]>();
  for (const [n, [itemId, ownerId]] of [...itemOwners].entries()) {
    if (n % 2 === 0) continue;
    const of = (number: number) => ({
      ...{ schoolId, itemId, number, hash: HASH, size: 1, mediaType: 'text/plain' },
      ...{ originalName: 'x.txt', createdBy: ownerId },
    });
    await tx.insert(s.blobs).values({ schoolId, hash: HASH, size: 1 }).onConflictDoNothing();
    const made = await tx
      .insert(s.versions)
      .values([of(1), of(2)])
      .returning();
    versions.set(
      itemId,
      made.map(({ id }) => id),
    );
    await tx
      .update(s.items)
      .set({ kind: 'file', url: null, extension: 'txt', currentVersionId: made[1]!.id })
      .where(eq(s.items.id, itemId));
  }
  const planted: Planted[] = [];
  let dice = data.placements.length + people.length;
  const roll = (sides: number) => {
    dice = (dice * 1103515245 + 12345) % 2 ** 31;
    return Math.floor(dice / 65536) % sides;
  };
  for (const { id: personId } of people)
    for (const { id: placementId, itemId } of data.placements) {
      if (roll(2) === 0) continue;
      const of = versions.get(itemId) ?? null;
      const version = of && 1 + roll(2);
      const downloaded = roll(3) === 0;
      await tx.insert(s.openings).values({
        ...{ schoolId, placementId, personId, at: new Date(now - roll(20) * DAY_MS) },
        ...{ versionId: of && of[version! - 1], kind: downloaded ? 'downloaded' : 'opened' },
      });
      planted.push({ personId, itemId, version, downloaded });
      // What was marked as seen, and what is too old, does not count.
      for (const [kind, days] of [
        ['marked', 0],
        ['opened', 31],
      ] as const)
        await tx.insert(s.openings).values({
          ...{ schoolId, placementId, personId, kind, versionId: of && of[1] },
          at: new Date(now - days * DAY_MS),
        });
    }
  return planted;
}

function naiveReader(school: RandomSchool, openings: readonly Planted[]) {
  const { data, now, schoolId, people } = school;
  const students = people.filter(({ kind }) => kind === 'student');
  const viewer = (personId: string) => ({
    person: { ...people.find(({ id }) => id === personId)!, schoolId },
    doors: [],
  });
  const expected = (personId: string, itemId: string) =>
    data.placements.some(
      ({ id, folderId, itemId: of }) =>
        of === itemId &&
        opening(data, viewer(personId), { folderId, placementId: id }, now).some(({ audience }) =>
          ROSTER.includes(audience.kind),
        ),
    );
  const by = (personId: string, itemId: string) =>
    openings.filter((o) => o.personId === personId && o.itemId === itemId);
  const current = (itemId: string) =>
    [...school.itemOwners.keys()].indexOf(itemId) % 2 === 0 ? null : 2;
  return {
    school,
    students,
    expected,
    itemsIn: (folderId: string) => [
      ...new Set(
        data.placements
          .filter(({ folderId: at, binned }) => {
            const folder = data.folders.find(({ id }) => id === at)!;
            const path = folder.path.map((id) => data.folders.find((f) => f.id === id)!);
            return !binned && folder.path.includes(folderId) && path.every((f) => !f.binned);
          })
          .map(({ itemId }) => itemId),
      ),
    ],
    state(personId: string, itemId: string) {
      const own = by(personId, itemId);
      const newest = own.filter(({ version }) => version === current(itemId));
      if (!expected(personId, itemId)) return 'unseen';
      if (own.length === 0) return 'unopened';
      if (newest.length === 0) return 'earlier';
      return newest.some(({ downloaded }) => downloaded) ? 'downloaded' : 'opened';
    },
    newestVersion(personId: string, itemId: string) {
      const numbers = by(personId, itemId).map(({ version }) => version ?? 0);
      return numbers.length === 0 || current(itemId) === null ? null : Math.max(...numbers);
    },
    others: (itemId: string) =>
      students.filter(({ id }) => !expected(id, itemId) && by(id, itemId).length > 0).length,
  };
}

/** Holds a reach against each state of each student, counted one by one. */
function expectCounted(
  reach: Reach,
  reader: ReturnType<typeof naiveReader>,
  teaches: readonly string[],
  classId: string | null,
  found: Record<string, number>,
) {
  const { school, students, expected, state } = reader;
  const { data, now } = school;
  const items = reach.items.map(({ itemId }) => itemId);
  const classesOf = (id: string) =>
    students
      .find((one) => one.id === id)!
      .memberships.filter(
        (m) =>
          belongs(
            {
              person: {
                ...students.find((one) => one.id === id)!,
                schoolId: school.schoolId,
                memberships: [m],
              },
              doors: [],
            },
            { kind: 'class', id: m.classId },
            now,
          ).length > 0,
      )
      .map((m) => m.classId);
  const audience = students.filter(
    ({ id }) =>
      items.some((itemId) => expected(id, itemId)) &&
      (classId === null || classesOf(id).includes(classId)),
  );
  expect(reach.people).toBe(audience.length);
  const OPENED = ['earlier', 'opened', 'downloaded'];
  expect(reach.opened).toBe(
    audience.filter(({ id }) => items.some((item) => OPENED.includes(state(id, item)))).length,
  );
  // What is in places of hand-in boxes is not among it.
  const inPlaces = new Set(data.folders.filter((f) => f.ownerId === null).map(({ id }) => id));
  const kept = data.placements.filter(({ folderId }) => inPlaces.has(folderId));
  for (const { itemId } of kept) expect(items).not.toContain(itemId);
  for (const item of reach.items) {
    const states = audience.map(({ id }) => state(id, item.itemId));
    const count = (...of: string[]) => states.filter((one) => of.includes(one)).length;
    expect(item).toMatchObject({
      people: states.length - count('unseen'),
      opened: count('earlier', 'opened', 'downloaded'),
      newest: count('opened', 'downloaded'),
      downloaded: count('downloaded'),
    });
    expect(item.days.reduce((sum, [, people]) => sum + people, 0)).toBe(item.opened);
    found.opened! += item.opened!;
    found.earlier! += count('earlier');
  }
  const byName = (id: string) =>
    data.handingsOut.some(
      (h) =>
        h.audience.kind === 'person' &&
        h.audience.id === id &&
        items.some((itemId) => concerns(school, h.target.id, itemId)),
    );
  const named = audience.filter(
    ({ id }) => byName(id) || classesOf(id).some((one) => teaches.includes(one)),
  );
  expect(sorted(reach.students.map(({ personId }) => personId))).toEqual(
    sorted(named.map(({ id }) => id)),
  );
  expect(reach.unnamed).toBe(audience.length - named.length);
  found.unnamed! += reach.unnamed;
  const CELLS: Record<string, string> = {
    unseen: ' ',
    unopened: '-',
    earlier: 'e',
    opened: 'o',
    downloaded: 'd',
  };
  for (const { personId, cells, items: seen, opened } of reach.students) {
    const states = items.map((item) => CELLS[state(personId, item)]);
    expect(cells).toBe(states.join(''));
    expect(seen).toBe(states.filter((cell) => cell !== ' ').length);
    expect(opened).toBe(states.filter((cell) => cell !== ' ' && cell !== '-').length);
  }
}

/** Whether a handing out is on the item or above one of its places that is not in the Bin. */
function concerns({ data }: RandomSchool, targetId: string, itemId: string): boolean {
  return (
    targetId === itemId ||
    data.placements.some(
      (p) =>
        p.itemId === itemId &&
        !p.binned &&
        data.folders.find(({ id }) => id === p.folderId)!.path.includes(targetId),
    )
  );
}

const sorted = (values: readonly string[]) => [...values].sort();
const orRefused = <T>(asked: Promise<T>): Promise<T | null> =>
  asked.catch((error: unknown) => {
    if (error instanceof AppError && ['not-found', 'not-allowed'].includes(error.code)) return null;
    throw error;
  });
const signedIn = ({ schoolId }: RandomSchool, id: string): SignedIn =>
  ({ id, schoolId, kind: 'teacher', name: id, timeZone: 'UTC' }) as SignedIn;

const server = await startServer();
const { ask, call, clock, db, refused, world } = server;
afterAll(() => server.stop());
const { schoolId, classA } = world;
const HOUR = 60 * 60 * 1000;

/** What the owner is told of a thing that they have handed out. */
const told = (placement: string, who: Who = 'owner') =>
  ask<ItemReach>(who, 'GET', `/api/placements/${placement}/reach`);
const open = (who: Who, placement: string) =>
  ask(who, 'PUT', `/api/placements/${placement}/opened`);
const setLevel = (level: string) =>
  ask<SchoolReach>('office', 'PUT', '/api/school/reach', { level });
const BROWSER = { 'user-agent': 'Mozilla/5.0 (X11; Linux x86_64) Gecko/20100101 Firefox/130.0' };
const OTHER = { 'user-agent': 'Mozilla/5.0 (iPad; CPU OS 17_5 like Mac OS X) Safari/605.1.15' };
const ROBOT = { 'user-agent': 'Mozilla/5.0 (compatible; SomeBot/2.1; +https://bot.example)' };

const awayId = await server.enrol('joiner', 'student');
/** More students in the class of 'student in', so that numbers may be told. */
const mates: string[] = [];
for (let n = 0; n < 4; n += 1) {
  const [made] = await db
    .insert(s.people)
    .values({ schoolId, kind: 'student', name: `Mate ${n}`, email: `mate${n}@school.example` })
    .returning();
  mates.push(made!.id);
}
await db
  .insert(s.memberships)
  .values(mates.map((personId) => ({ schoolId, classId: classA, personId })));

describe('the reach of a thing', () => {
  beforeEach(async () => {
    await db
      .update(s.schools)
      .set({ reach: 'names', reachSince: new Date(clock.now - 90 * DAY_MS) });
  });

  it('says who has opened or downloaded which version, and who has not', async () => {
    const { placement, handed, itemId } = await server.scene();
    expect(await told(placement)).toMatchObject({ item: { people: 5, opened: 0 }, unnamed: 0 });
    await open('student in', placement);
    const first = await told(placement);
    expect(first.item).toMatchObject({ opened: 1, newest: 1, downloaded: 0 });
    const own = (reach: ItemReach) =>
      reach.students.find(({ personId }) => personId === world.ids['student in']);
    expect(own(first)).toMatchObject({ state: 'opened', version: 1, downloadedAt: null });
    expect(first.students.filter(({ state }) => state === 'unopened')).toHaveLength(4);
    await call('student in', 'GET', `/api/placements/${placement}/content`);
    expect(own(await told(placement))).toMatchObject({ state: 'downloaded' });
    // A new version is one that nobody has opened yet.
    const [version] = await db
      .insert(s.versions)
      .values({
        ...{ schoolId, itemId, number: 2, ...world.content, mediaType: 'text/plain' },
        ...{ originalName: 'Böden.txt', createdBy: world.ids.owner },
      })
      .returning();
    await db.update(s.items).set({ currentVersionId: version!.id }).where(eq(s.items.id, itemId));
    const newer = await told(placement);
    expect(newer.item).toMatchObject({ version: 2, opened: 1, newest: 0, downloaded: 0 });
    expect(own(newer)).toMatchObject({ state: 'earlier', version: 1 });
    const all = await ask<Reach>('owner', 'GET', `/api/folders/${handed}/reach`);
    expect(all).toMatchObject({ title: 'Handed out', people: 5, opened: 1, more: 0 });
    expect(all.students.map(({ cells }) => cells).sort()).toEqual(['-', '-', '-', '-', 'e']);
    const inClass = await ask<Reach>('owner', 'GET', `/api/classes/${classA}/reach`);
    expect(inClass.items.map((item) => item.itemId)).toContain(itemId);
  });

  it('is for those who decide who sees it, and for the teachers of a class within it', async () => {
    const { placement, handed, secret } = await server.scene();
    for (const who of ['colleague', 'student in', 'office', 'other school'] as const) {
      for (const path of [`placements/${placement}`, `folders/${handed}`, `folders/${secret}`])
        expect(
          (await call(who, 'GET', `/api/${path}/reach`)).status,
          `${who} ${path}`,
        ).toBeGreaterThan(402);
      await refused(await call(who, 'GET', `/api/classes/${classA}/reach`), 404, 'not-found');
      const inClass = `/api/placements/${placement}/reach?class=${classA}`;
      await refused(await call(who, 'GET', inClass), 404, 'not-found');
      await refused(
        await call(who, 'POST', inClass.replace('?', '/notes?'), { body: 'Look' }),
        404,
        'not-found',
      );
    }
    // Who teaches the class beside its owner may know what its students have opened of what it has, and of nothing else.
    const [course] = await db.select().from(s.classes).where(eq(s.classes.id, classA));
    const teaches = { schoolId, courseId: course!.courseId, personId: world.ids.colleague };
    await db.insert(s.courseTeachers).values(teaches);
    const seen = await ask<ItemReach>(
      'colleague',
      'GET',
      `/api/placements/${placement}/reach?class=${classA}`,
    );
    expect(seen.item.people).toBe(5);
    // Of what is handed out by itself the name of its folder stays unknown, and visitors are the owner's to count.
    const key = await server.scene();
    await db.delete(s.grants).where(eq(s.grants.id, key.grant));
    await ask('owner', 'POST', '/api/grants', {
      things: [{ kind: 'placement', id: key.placement }],
      audiences: [{ kind: 'class', id: classA }],
    });
    await call(
      'visitor with door',
      'PUT',
      `/api/open/${key.token}/placements/${key.placement}/opened`,
    );
    const ofClass = await ask<Reach>('colleague', 'GET', `/api/classes/${classA}/reach`);
    const alone = ofClass.items.find((one) => one.placementId === key.placement)!;
    expect(alone).toMatchObject({ folder: '', byLink: { opened: 0 } });
    expect((await told(key.placement)).item.byLink.opened).toBe(1);
    const { inner } = await server.scene();
    const [hidden] = await db.select().from(s.placements).where(eq(s.placements.folderId, inner));
    await db.update(s.placements).set({ held: true }).where(eq(s.placements.id, hidden!.id));
    await refused(
      await call('colleague', 'GET', `/api/placements/${hidden!.id}/reach?class=${classA}`),
      404,
      'not-found',
    );
    await refused(
      await call('colleague', 'GET', `/api/placements/${placement}/reach`),
      404,
      'not-found',
    );
    await db
      .delete(s.courseTeachers)
      .where(
        and(
          eq(s.courseTeachers.courseId, course!.courseId),
          eq(s.courseTeachers.personId, world.ids.colleague),
        ),
      );
  });

  it('names only students whom the teacher teaches; others are counted', async () => {
    const { placement, itemId } = await server.scene();
    const [away] = await db
      .insert(s.courses)
      .values({ schoolId, yearId: world.yearId, title: 'Elsewhere', colour: 'leaf' })
      .returning();
    const [elsewhere] = await db
      .insert(s.classes)
      .values({ schoolId, yearId: world.yearId, courseId: away!.id, code: 'EL1', colour: 'leaf' })
      .returning();
    await db.insert(s.memberships).values({ schoolId, classId: elsewhere!.id, personId: awayId });
    const handOut = {
      things: [{ kind: 'placement', id: placement }],
      audiences: [{ kind: 'class', id: elsewhere!.id }],
    };
    await ask('owner', 'POST', '/api/grants', handOut);
    await open('joiner', placement);
    const reach = await told(placement);
    expect(reach).toMatchObject({ unnamed: 1, item: { people: 6, opened: 1 } });
    expect(reach.students.map(({ personId }) => personId)).not.toContain(awayId);
    expect(reach.classes.map(({ code }) => code)).toContain('EL1');
    const inClass = `/api/placements/${placement}/reach?class=${elsewhere!.id}`;
    await refused(await call('owner', 'GET', inClass), 404, 'not-found');
    // By name is by name.
    await ask('owner', 'POST', '/api/grants', {
      ...handOut,
      audiences: [{ kind: 'person', id: awayId }],
    });
    expect((await told(placement)).students.map(({ personId }) => personId)).toContain(awayId);
    await db.delete(s.memberships).where(eq(s.memberships.classId, elsewhere!.id));
    await db.execute(sql`delete from grants where item_id = ${itemId}::uuid`);
    // Who had it once is one of the others.
    expect(await told(placement)).toMatchObject({
      others: 1,
      unnamed: 0,
      item: { people: 5, opened: 0 },
    });
  });

  it('writes to just those who have not opened it', async () => {
    const { placement } = await server.scene();
    await open('student in', placement);
    const note = { body: 'The key is there.', copyToSender: true };
    const sent = await ask<{ people: number }>(
      'owner',
      'POST',
      `/api/placements/${placement}/reach/notes`,
      note,
    );
    expect(sent.people).toBe(4);
    const { notes } = await ask<SentNotes>('owner', 'GET', '/api/notes');
    expect(notes[0]).toMatchObject({
      title: 'Böden 土壌',
      reminder: true,
      body: 'The key is there.',
    });
    const { id } = notes[0]!;
    const mails = await db.select().from(s.mails).where(eq(s.mails.noteId, id));
    expect(mails.map(({ personId }) => personId).sort()).toEqual(
      [...mates, world.ids.owner].sort(),
    );
    expect(mails.every(({ path }) => path?.includes(placement))).toBe(true);
    for (const who of ['colleague', 'student in'] as const)
      expect(
        (await call(who, 'POST', `/api/placements/${placement}/reach/notes`, note)).status,
      ).toBeGreaterThan(402);
  });

  it('by visitors is counted once a day for each, never for programs, and nobody can tell afterwards who it was', async () => {
    const { placement, token } = await server.scene();
    const visit = (headers: Record<string, string>) =>
      call(
        'visitor with door',
        'PUT',
        `/api/open/${token}/placements/${placement}/opened`,
        undefined,
        headers,
      );
    for (const headers of [BROWSER, BROWSER, OTHER, ROBOT, { ...OTHER, 'sec-purpose': 'prefetch' }])
      expect((await visit(headers)).status).toBe(204);
    await Promise.all(Array.from({ length: 5 }, () => visit(BROWSER)));
    expect((await told(placement)).item.byLink).toEqual({ opened: 2, downloaded: 0 });
    await call(
      'visitor with door',
      'GET',
      `/api/open/${token}/placements/${placement}/content`,
      undefined,
      BROWSER,
    );
    expect((await told(placement)).item.byLink).toEqual({ opened: 2, downloaded: 1 });
    const marks = async () =>
      (
        await db
          .select()
          .from(s.openings)
          .where(and(eq(s.openings.placementId, placement), isNotNull(s.openings.visitor)))
      ).length;
    expect(await marks()).toBe(3);
    await endOpenings(db, Date.now() + 4 * DAY_MS);
    expect(await marks()).toBe(0);
    expect(await db.select().from(s.visitorSalts)).toEqual([]);
    expect((await told(placement)).item.byLink).toEqual({ opened: 2, downloaded: 1 });
  });

  it('is told in numbers where the school wants no names, and of fewer than five not at all', async () => {
    const { placement, handed } = await server.scene();
    await open('student in', placement);
    await setLevel('numbers');
    const reach = await told(placement);
    expect(reach).toMatchObject({
      level: 'numbers',
      students: [],
      others: null,
      item: { people: 5, opened: 1 },
    });
    expect(await ask<Reach>('owner', 'GET', `/api/folders/${handed}/reach`)).toMatchObject({
      opened: 1,
      students: [],
    });
    const [last] = mates.slice(-1);
    await db
      .update(s.memberships)
      .set({ untilAt: new Date(clock.now - HOUR) })
      .where(eq(s.memberships.personId, last!));
    expect(await told(placement)).toMatchObject({
      item: { people: 0, opened: null, days: [] },
      classes: [],
    });
    await refused(
      await call('owner', 'POST', `/api/placements/${placement}/reach/notes`, { body: '' }),
      409,
      'reach-not-told',
    );
    await db.update(s.memberships).set({ untilAt: null }).where(eq(s.memberships.personId, last!));
  });

  it('is not told at all where the school wants nothing of it; telling more begins anew', async () => {
    const { placement, handed, token } = await server.scene();
    await setLevel('nothing');
    await open('student in', placement);
    await call(
      'visitor with door',
      'PUT',
      `/api/open/${token}/placements/${placement}/opened`,
      undefined,
      BROWSER,
    );
    expect(await told(placement)).toMatchObject({
      level: 'nothing',
      students: [],
      item: { people: 0, opened: 0 },
    });
    expect(await ask<Reach>('owner', 'GET', `/api/folders/${handed}/reach`)).toMatchObject({
      items: [],
      people: 0,
    });
    await refused(
      await call('owner', 'POST', `/api/placements/${placement}/reach/notes`, { body: '' }),
      409,
      'reach-not-told',
    );
    clock.now += 2 * HOUR;
    const { since } = await setLevel('names');
    expect(Date.parse(since)).toBe(clock.now);
    const reach = await told(placement);
    expect(reach.item).toMatchObject({ people: 5, opened: 0, byLink: { opened: 0 } });
    // Less is told from what is there, and the same changes nothing.
    clock.now += HOUR;
    expect(await setLevel('numbers')).toMatchObject({ since });
    expect(await setLevel('numbers')).toMatchObject({ since });
    for (const who of ['owner', 'student in'] as const)
      await refused(
        await call(who, 'PUT', '/api/school/reach', { level: 'names' }),
        403,
        'not-allowed',
      );
    expect(await ask<SchoolReach>('student in', 'GET', '/api/school/reach')).toMatchObject({
      level: 'numbers',
    });
  });

  it('is open to the student whose it is, without the names of what they see no more', async () => {
    const { placement, grant } = await server.scene();
    await open('student in', placement);
    const own = () => ask<Recorded>('student in', 'GET', '/api/recorded');
    expect((await own()).openings[0]).toMatchObject({
      kind: 'opened',
      title: 'Böden 土壌',
      version: 1,
      placementId: placement,
    });
    await ask('owner', 'POST', '/api/grants/take-back', { grants: [grant] });
    expect((await own()).openings[0]).toMatchObject({ title: null, placementId: null });
    const before = (await own()).openings[0]!.id;
    const older = await ask<Recorded>('student in', 'GET', `/api/recorded?before=${before}`);
    expect(older.openings.every(({ id }) => id < before)).toBe(true);
  });
});
