import type { Boxes, Desk, LogEntry, Merging, Place, Slips, Tree } from '@sammlung/contract';
import { and, eq, sql } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import {
  folders,
  grants,
  kept,
  memberships,
  openingDays,
  openings,
  people,
  rateLimits,
} from '../src/db/schema/index.ts';
import { mail, startServer, type Who } from './harness.ts';
import { uploader } from './upload.ts';

const server = await startServer();
const { ask, call, clock, db, refused, world } = server;
const { add } = uploader(server);
afterAll(() => server.stop());

const { schoolId, classA, classB } = world;
const DAY = 24 * 60 * 60 * 1000;
const day = (text: string) => new Date(`${text}T00:00:00Z`);
const newPerson = async (kind: string, name: string, email: string | null = null) =>
  (await ask<{ id: string }>('office', 'POST', '/api/people', { kind, name, email })).id;
const join = (personId: string, classId: string, from: string | null, until: string | null) =>
  db.insert(memberships).values({
    ...{ schoolId, classId, personId },
    ...{ fromAt: from === null ? null : day(from), untilAt: until === null ? null : day(until) },
  });
const merging = (to: string, other: string) =>
  ask<Merging>('office', 'GET', `/api/people/${to}/merge?other=${other}`);
const merge = (to: string, other: string, who: Who = 'office') =>
  call(who, 'POST', `/api/people/${to}/merge`, { other });
const isThere = async (id: string) =>
  (await db.select().from(people).where(eq(people.id, id))).length > 0;

describe('two records of a student', () => {
  it('become one: lists, places in boxes, desk, what was handed out, kept and opened', async () => {
    const to = await server.enrol('joiner', 'student');
    const from = await server.enrol('leaver', 'student');
    await join(to, classA, '2026-01-01', null);
    await join(from, classA, '2025-02-01', '2025-05-01');
    await join(from, classA, '2025-12-01', '2026-02-01');
    await join(from, classB, '2025-09-01', null);

    const box = async (classId: string, title: string) =>
      (await ask<{ ids: [string] }>('owner', 'POST', '/api/boxes', { title, classIds: [classId] }))
        .ids[0];
    await db
      .update(memberships)
      .set({ untilAt: null })
      .where(and(eq(memberships.personId, from), eq(memberships.fromAt, day('2025-12-01'))));
    const boxes = [await box(classA, 'Both'), await box(classA, 'One'), await box(classB, 'Other')];
    const placeOf = async (who: Who, id: string) =>
      (await ask<Boxes>(who, 'GET', '/api/boxes')).own.find((one) => one.id === id)!.placeId;
    const place = await placeOf('joiner', boxes[0]!);
    await add('joiner', place, 'log.txt', 'of the one that stays');
    const { placementId } = (await add(
      'leaver',
      await placeOf('leaver', boxes[0]!),
      'log.txt',
      'of the other',
    )) as { placementId: string };
    await ask('owner', 'POST', `/api/placements/${placementId}/remarks`, { body: 'Well done' });
    await ask('leaver', 'POST', `/api/placements/${placementId}/remarks`, { body: 'Thank you' });
    await add('joiner', await placeOf('joiner', boxes[1]!), 'only.txt', 'here');
    await add('leaver', await placeOf('leaver', boxes[2]!), 'other.txt', 'there');
    const otherPlace = await placeOf('leaver', boxes[2]!);

    const desk = async (who: Who) => {
      const { folderId } = await ask<Desk>(who, 'POST', '/api/desk');
      await ask(who, 'POST', '/api/folders', { parentId: folderId, title: 'Notes' });
      return folderId;
    };
    const [ownDesk, otherDesk] = [await desk('joiner'), await desk('leaver')];

    // One folder is for both, for different times; the other only for the one that goes.
    const scene = await server.scene();
    const hand = (
      folderId: string,
      personId: string,
      from: number | null,
      until: number | null,
      level: 'view' | 'manage' = 'view',
    ) =>
      db.insert(grants).values({
        ...{ schoolId, folderId, personId, createdBy: world.ids.owner },
        audienceKind: 'person',
        level,
        fromAt: from === null ? null : new Date(clock.now + from),
        untilAt: until === null ? null : new Date(clock.now + until),
      });
    await hand(scene.inner, to, null, DAY);
    await hand(scene.inner, from, DAY / 2, 3 * DAY);
    await hand(scene.secret, from, null, null);
    // What is over gives nothing any more, neither its time nor its level.
    await hand(scene.handed, to, null, null);
    await hand(scene.handed, from, -2 * DAY, -DAY, 'manage');
    for (const personId of [to, from])
      await db.insert(kept).values({ schoolId, personId, folderId: scene.inner, title: 'Inner' });
    await db
      .insert(kept)
      .values({ schoolId, personId: from, folderId: scene.secret, title: 'Secret' });
    await db
      .insert(openings)
      .values({ schoolId, placementId: placementId, personId: from, kind: 'opened' });
    const numberOf = async (id: string) =>
      (await db.select().from(people).where(eq(people.id, id)))[0]!.number;
    const numbers = [await numberOf(from), await numberOf(to)];
    await db
      .insert(openingDays)
      .values({ schoolId, placementId, kind: 'opened', day: '2026-01-02', people: numbers });

    expect(await merging(to, from)).toEqual({
      ...{ classes: ['A'], boxes: 1, folders: 2, items: 0 },
      ...{ signIn: mail('joiner'), password: 'own', listed: false },
    });
    expect((await merge(to, from)).status).toBe(204);

    expect(await isThere(from)).toBe(false);
    expect((await call('leaver', 'GET', '/api/new')).status).toBe(401);
    const spans = await db
      .select()
      .from(memberships)
      .where(and(eq(memberships.personId, to), eq(memberships.classId, classA)))
      .orderBy(memberships.fromAt);
    expect(spans.map(({ fromAt, untilAt }) => [fromAt, untilAt])).toEqual([
      [day('2025-02-01'), day('2025-05-01')],
      [day('2025-12-01'), null],
    ]);
    expect(
      (await ask<Boxes>('joiner', 'GET', '/api/boxes')).own.map((one) => one.title).sort(),
    ).toEqual(['Both', 'One', 'Other']);
    const see = (id: string) => ask<Place>('joiner', 'GET', `/api/places/${id}`);
    expect((await see(place)).things.map(({ title }) => title).sort()).toEqual(['log', 'log']);
    expect(await placeOf('joiner', boxes[2]!)).toBe(otherPlace);
    const remarks = await ask<{ remarks: { body: string; by: string }[] }>(
      'joiner',
      'GET',
      `/api/placements/${placementId}/remarks`,
    );
    expect(remarks.remarks.map(({ body }) => body).sort()).toEqual(['Thank you', 'Well done']);
    await add('joiner', otherPlace, 'more.txt', 'goes on');

    expect(await ask('joiner', 'POST', '/api/desk')).toMatchObject({ folderId: ownDesk });
    const inDesk = await db.select().from(folders).where(eq(folders.parentId, ownDesk));
    expect(inDesk.map(({ title }) => title).sort()).toEqual(['Notes', 'leaver']);
    expect(inDesk.find(({ title }) => title === 'leaver')).toMatchObject({
      id: otherDesk,
      ownerId: to,
    });
    const handed = await db
      .select()
      .from(grants)
      .where(and(eq(grants.personId, to), eq(grants.ofPlace, false)));
    expect(
      handed.map(({ folderId, fromAt, untilAt }) => [folderId, fromAt, untilAt?.getTime() ?? null]),
    ).toEqual(
      expect.arrayContaining([
        [scene.inner, null, clock.now + 3 * DAY],
        [scene.secret, null, null],
      ]),
    );
    expect(handed).toHaveLength(3);
    expect(handed.find(({ folderId }) => folderId === scene.handed)).toMatchObject({
      ...{ level: 'view', fromAt: null, untilAt: null },
    });
    expect(await db.select().from(kept).where(eq(kept.personId, to))).toHaveLength(2);
    const [opened] = await db.select().from(openings).where(eq(openings.placementId, placementId));
    expect(opened!.personId).toBe(to);
    const [packed] = await db.select().from(openingDays);
    expect(packed!.people).toEqual([numbers[1]]);

    const { entries } = await ask<{ entries: LogEntry[] }>('office', 'GET', '/api/log');
    expect(entries.find(({ act }) => act === 'merged')).toMatchObject({
      ...{ by: 'office', person: 'joiner', thing: { title: 'leaver', path: null } },
    });
    expect(entries.filter(({ act }) => act === 'left')).toEqual([]);
    await refused(await merge(to, from), 404, 'not-found');
  });

  it('sign in by what either has: who has a password keeps it', async () => {
    const listed = await newPerson('student', 'Alma Listed');
    await db.update(people).set({ externalId: 'S-1' }).where(eq(people.id, listed));
    const typed = await newPerson('student', 'Alma Typed', 'alma@example.org');
    const { slips } = await ask<Slips>('office', 'POST', '/api/people/slips', { people: [typed] });
    expect(await merging(listed, typed)).toMatchObject({
      ...{ signIn: 'alma@example.org', password: 'other', listed: false },
    });
    expect((await merge(listed, typed)).status).toBe(204);
    await db.delete(rateLimits);
    const signedIn = await call('visitor without', 'POST', '/api/session', {
      email: 'alma@example.org',
      password: slips[0]!.firstPassword,
    });
    expect(await signedIn.json()).toMatchObject({ step: 'password' });
    const [person] = await db.select().from(people).where(eq(people.id, listed));
    expect(person).toMatchObject({
      name: 'Alma Listed',
      externalId: 'S-1',
      email: 'alma@example.org',
    });

    const own = await server.signIn('student in');
    expect(own).not.toBe('');
    const twin = await newPerson('student', 'Twin', 'twin@example.org');
    expect((await merge(world.ids['student in'], twin)).status).toBe(204);
    expect(await ask('student in', 'GET', '/api/session')).toMatchObject({
      person: { name: 'student in' },
    });
    expect(await server.signIn('student in')).not.toBe('');
  });

  it('are two people where they do not the same work, are of another school, or are the office itself', async () => {
    const student = await newPerson('student', 'Pupil');
    const { owner, office } = world.ids;
    await refused(await merge(owner, student), 409, 'kinds-differ');
    await refused(await merge(student, student), 404, 'not-found');
    await refused(await merge(student, world.ids['other school']), 404, 'not-found');
    await refused(await merge(world.ids['other school'], student), 404, 'not-found');
    const second = await newPerson('office', 'Second', 'second@example.org');
    await refused(await merge(second, office), 404, 'not-found');
    await ask('office', 'PUT', `/api/people/${student}/deactivated`);
    const other = await newPerson('student', 'Pupil again');
    await refused(await merge(student, other), 404, 'not-found');
    expect((await merge(other, student)).status).toBe(204);
    expect((await merge(office, second)).status).toBe(204);
  });

  it('merged both ways at the same time leave one', async () => {
    const [a, b] = [await newPerson('student', 'A twin'), await newPerson('student', 'B twin')];
    await Promise.all([join(a, classA, null, null), join(b, classA, null, null)]);
    const replies = await Promise.all([merge(a, b), merge(b, a), merge(a, b)]);
    expect(replies.map(({ status }) => status).sort()).toEqual([204, 404, 404]);
    const left = [await isThere(a), await isThere(b)];
    expect(left.filter(Boolean)).toHaveLength(1);
  });
});

describe('two records of a teacher', () => {
  it('become one: library, courses, entries, addresses and settings; whoever saw something sees it', async () => {
    const to = await server.enrol('manages', 'teacher');
    const { owner } = world.ids;
    const scene = await server.scene();
    await ask('manages', 'POST', '/api/folders', { parentId: null, title: 'owner' });
    const counts = () =>
      db.execute<Record<string, number>>(sql`
        select count(*) filter (where owner_id = ${owner})::int as other, count(*) filter (where owner_id = ${to})::int as own from folders`);
    const before = (await counts()).rows[0]!;
    expect((await merge(to, owner)).status).toBe(204);
    expect((await counts()).rows[0]).toEqual({ other: 0, own: before.own! + before.other! + 1 });
    const { folders: tree } = await ask<Tree>('manages', 'GET', '/api/library/tree');
    const top = tree.find(({ title }) => title === 'owner 2')!;
    expect(tree.find(({ id }) => id === scene.secret)!.parentId).toBe(top.id);
    expect((await call('student in', 'GET', `/api/folders/${scene.inner}/contents`)).status).toBe(
      200,
    );
    expect((await call('visitor without', 'GET', `/api/open/${scene.token}`)).status).toBe(200);
    const { courses } = await ask<{ courses: { id: string }[] }>('manages', 'GET', '/api/courses');
    expect(courses.map(({ id }) => id)).toEqual(expect.arrayContaining([scene.course]));
  });
});
