import type {
  Boxes,
  BoxPlaces,
  Copied,
  Desk,
  FolderView,
  Moved,
  NewThings,
  Place,
  Placed,
} from '@sammlung/contract';
import { eq, sql } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import {
  blobs,
  classes,
  doors,
  grants,
  memberships,
  people,
  places,
  versions,
  years,
} from '../src/db/schema/index.ts';
import { startServer, type Who } from './harness.ts';
import { deleteCleared } from '../src/features/box/service.ts';
import { unzipped } from './unzip.ts';
import { uploader } from './upload.ts';

const server = await startServer();
const { ask, call, clock, db, refused, world } = server;
const { begin, send, place, add } = uploader(server);
afterAll(() => server.stop());

const { schoolId, classA, classB } = world;
const HOUR = 60 * 60 * 1000;
/** A classmate of 'student in', and somebody who joins later. */
const mateId = await server.enrol('leaver', 'student');
const joinerId = await server.enrol('joiner', 'student');
await db.insert(memberships).values({ schoolId, classId: classA, personId: mateId });

const inMs = (ms: number) => new Date(clock.now + ms).toISOString();
async function makeBox(more: object = {}): Promise<string> {
  const asked = { title: 'Soil log', text: 'Each week', classIds: [classA], ...more };
  return (await ask<{ ids: [string] }>('owner', 'POST', '/api/boxes', asked)).ids[0];
}
const own = async (who: Who, id: string) =>
  (await ask<Boxes>(who, 'GET', '/api/boxes')).own.find((one) => one.id === id);
const placeOf = async (who: Who, id: string) => (await own(who, id))!.placeId;
const see = (who: Who, id: string) => ask<Place>(who, 'GET', `/api/places/${id}`);
const rowsOf = (id: string) => ask<BoxPlaces>('owner', 'GET', `/api/boxes/${id}`);
const deskOf = async (who: Who) => (await ask<Desk>(who, 'POST', '/api/desk')).folderId;
const ofPlacement = (who: Who, placementId: string) =>
  call(who, 'GET', `/api/placements/${placementId}`);

describe('a hand-in box', () => {
  it('has a place for every student of its classes, also for who joins later; who leaves reads on', async () => {
    const asked = { title: 'Plot diary', classIds: [classA, classB] };
    const made = await ask<{ ids: string[]; students: number }>(
      'owner',
      'POST',
      '/api/boxes',
      asked,
    );
    expect(made.students).toBe(3);
    const [inA] = made.ids as [string];
    expect(await own('student out', inA)).toBeUndefined();
    expect(await own('joiner', inA)).toBeUndefined();
    const [joined] = await db
      .insert(memberships)
      .values({ schoolId, classId: classA, personId: joinerId })
      .returning();
    expect(await own('joiner', inA)).toMatchObject({ title: 'Plot diary', mayAdd: true, files: 0 });
    const placeId = await placeOf('joiner', inA);
    await add('joiner', placeId, 'week 1.txt', 'dry');
    await db
      .update(memberships)
      .set({ untilAt: new Date(clock.now) })
      .where(eq(memberships.id, joined!.id));
    expect(await own('joiner', inA)).toMatchObject({ mayAdd: false, files: 1 });
    expect((await see('joiner', placeId)).things).toHaveLength(1);
    await refused(await begin('joiner', placeId, 'week 2.txt', 3), 409, 'box-ended');
    expect((await rowsOf(inA)).places.find((p) => p.personId === joinerId)).toMatchObject({
      ...{ member: false, files: 1 },
    });
    // Whoever comes back goes on.
    await db.delete(memberships).where(eq(memberships.id, joined!.id));
    await db.insert(memberships).values({ schoolId, classId: classA, personId: joinerId });
    await add('joiner', placeId, 'week 2.txt', 'wet');
    await db.delete(memberships).where(eq(memberships.personId, joinerId));
  });

  it('shows a student when the work came, and when the teacher has seen it', async () => {
    const id = await makeBox();
    const placeId = await placeOf('student in', id);
    expect(await rowsOf(id)).toMatchObject({ box: { handedIn: 0, fresh: 0, students: 2 } });
    const { placementId } = await add('student in', placeId, 'log.txt', 'rain');
    expect(await own('student in', id)).toMatchObject({ files: 1, late: false, seenAt: null });
    const { box, places: rows } = await rowsOf(id);
    expect(box).toMatchObject({ handedIn: 1, fresh: 1 });
    expect(rows.find((row) => row.placeId === placeId)).toMatchObject({ files: 1, fresh: 1 });
    const [thing] = (await see('owner', placeId)).things;
    expect(thing).toMatchObject({ title: 'log', own: true, by: 'student in', opened: false });
    await ask('owner', 'PUT', `/api/placements/${placementId}/opened`);
    expect((await own('student in', id))!.seenAt).not.toBeNull();
    expect((await rowsOf(id)).box).toMatchObject({ handedIn: 1, fresh: 0 });
    // A newer version is new again, for both.
    await add('student in', placeId, 'log.txt', 'rain and sun');
    expect(await own('student in', id)).toMatchObject({ files: 1, seenAt: null });
    expect((await rowsOf(id)).box).toMatchObject({ handedIn: 1, fresh: 1 });
    // What one put there oneself is not new; what a teacher gives back is.
    const came = async () => (await ask<NewThings>('student in', 'GET', '/api/new')).things;
    expect((await came()).filter((one) => one.folder?.id === placeId)).toEqual([]);
    const back = await add('owner', placeId, 'log, marked.txt', 'rain, how much?');
    expect((await came()).map((one) => one.placementId)).toContain(back.placementId);
    expect((await own('student in', id))!.files).toBe(1);
    await refused(
      await call('student in', 'POST', '/api/bin', {
        things: [{ kind: 'placement', id: back.placementId }],
      }),
      403,
      'not-allowed',
    );
  });

  it('is nobody else’s to look into, by any id', async () => {
    const id = await makeBox();
    const placeId = await placeOf('student in', id);
    const { placementId } = await add('student in', placeId, 'private.txt', 'mine');
    const below = await ask<{ id: string }>('student in', 'POST', '/api/folders', {
      ...{ parentId: placeId, title: 'Drawings' },
    });
    for (const who of ['leaver', 'student out', 'colleague', 'office', 'other school'] as const) {
      for (const path of [
        `/api/places/${placeId}`,
        `/api/folders/${placeId}`,
        `/api/folders/${below.id}`,
        `/api/folders/${placeId}/contents`,
        `/api/folders/${placeId}/live`,
        `/api/folders/${placeId}/archive`,
        `/api/placements/${placementId}`,
        `/api/placements/${placementId}/content`,
        `/api/placements/${placementId}/small`,
        `/api/placements/${placementId}/shown`,
        `/api/boxes/${id}`,
      ])
        expect(`${who} ${path} ${(await call(who, 'GET', path)).status}`).toBe(
          `${who} ${path} 404`,
        );
      await refused(await begin(who, placeId, 'mine.txt', 3), 404, 'not-found');
    }
    // Nor does anybody who looks as the student would, or as the class.
    for (const as of [`person.${world.ids['student in']}`, `class.${classA}`])
      for (const who of ['owner', 'colleague'] as const)
        expect((await call(who, 'GET', `/api/as/${as}/now/folders/${placeId}`)).status).toBe(404);
    await ask('owner', 'GET', `/api/placements/${placementId}`);
    await ask('owner', 'GET', `/api/folders/${below.id}`);
  });

  it('lets nothing be handed out, timed, put elsewhere or opened to visitors', async () => {
    const id = await makeBox();
    const placeId = await placeOf('student in', id);
    const { placementId } = await add('student in', placeId, 'private.txt', 'mine too');
    const given = await add('owner', placeId, 'given back.txt', 'well done');
    const folder = { kind: 'folder', id: placeId };
    const mine = { kind: 'placement', id: placementId };
    const theirs = { kind: 'placement', id: given.placementId };
    const audiences = [{ kind: 'class', id: classA }];
    for (const who of ['owner', 'student in'] as const)
      for (const thing of [folder, mine, theirs]) {
        const status = async (method: string, path: string, body: unknown) =>
          (await call(who, method, path, body)).status;
        expect([403, 404, 409]).toContain(
          await status('POST', '/api/grants', { things: [thing], audiences, level: 'view' }),
        );
        expect([403, 404, 409]).toContain(
          await status('POST', '/api/doors', { thing, kind: 'public' }),
        );
        expect([403, 404, 409]).toContain(
          await status('PUT', '/api/releases', {
            things: [thing],
            release: { held: true, from: null, until: null },
          }),
        );
        expect([403, 404, 409]).toContain(
          await status('POST', '/api/entries', {
            ...{ title: 'Lesson', things: [thing], on: [{ classId: classA }] },
          }),
        );
      }
    expect((await db.select().from(grants).where(eq(grants.folderId, placeId))).length).toBe(3);
    expect(await db.select().from(doors).where(eq(doors.folderId, placeId))).toEqual([]);
    // Nor into another folder, whoever wants it: not the student's work, and not as one thing in two places.
    const library = await ask<{ id: string }>('owner', 'POST', '/api/folders', {
      ...{ parentId: null, title: 'Good examples' },
    });
    const mate = await placeOf('leaver', id);
    for (const to of [library.id, mate])
      expect(
        (await call('owner', 'POST', '/api/moves', { things: [mine], to, before: null })).status,
      ).toBe(422);
    await refused(
      await call('owner', 'POST', '/api/placements', {
        ...{ placements: [given.placementId], to: [library.id] },
      }),
      409,
      'place-private',
    );
    const desk = await deskOf('student in');
    await refused(
      await call('student in', 'POST', '/api/placements', {
        ...{ placements: [placementId], to: [desk] },
      }),
      409,
      'place-private',
    );
    // What the tables would be told beside the application, they refuse.
    await expect(
      db.insert(grants).values({
        ...{ schoolId, folderId: placeId, audienceKind: 'school', createdBy: world.ids.owner },
      }),
    ).rejects.toThrow();
    // Where a class has what is handed out to it, and a teacher what is theirs, there is nothing of it.
    for (const path of [
      `/api/class-pages/${classA}/edited`,
      ...['board', 'today', 'library/tree', 'library/top', 'staff-room', 'find?words=given'].map(
        (name) => `/api/${name}`,
      ),
    ]) {
      const told = await (await call('owner', 'GET', path)).text();
      expect(`${path} ${told.includes(placeId) || told.includes(placementId!)}`).toBe(
        `${path} false`,
      );
    }
    // A place follows its box.
    await refused(
      await call('owner', 'PATCH', `/api/folders/${placeId}`, { title: 'Other' }),
      403,
      'not-allowed',
    );
    await refused(
      await call('owner', 'POST', '/api/bin', { things: [folder] }),
      403,
      'not-allowed',
    );
    expect((await call('owner', 'GET', `/api/folders/${placeId}/audience`)).status).toBe(403);
  });
});

describe('handing in', () => {
  it('moves work from the desk, folders whole, with the time of the handing in; and back until the end', async () => {
    const id = await makeBox({ endsAt: inMs(HOUR), takesLate: false });
    const placeId = await placeOf('student in', id);
    const desk = await deskOf('student in');
    const folder = await ask<{ id: string }>('student in', 'POST', '/api/folders', {
      ...{ parentId: desk, title: 'Plot 7' },
    });
    const deep = await ask<{ id: string }>('student in', 'POST', '/api/folders', {
      ...{ parentId: folder.id, title: 'Pictures' },
    });
    await add('student in', deep.id, 'plot.txt', 'a picture');
    const single = await add('student in', desk, 'notes.txt', 'some notes');
    clock.now += 60_000;
    const things = [
      { kind: 'folder', id: folder.id },
      { kind: 'placement', id: single.placementId },
    ];
    const moved = await ask<Moved>('student in', 'POST', '/api/moves', {
      ...{ things, to: placeId, before: null },
    });
    const there = await see('owner', placeId);
    expect(there.things.map(({ title, path }) => [title, path])).toEqual([
      ['notes', []],
      ['plot', ['Plot 7', 'Pictures']],
    ]);
    for (const { changedAt } of there.things) expect(Date.parse(changedAt)).toBe(clock.now);
    expect((await ask<FolderView>('student in', 'GET', `/api/folders/${deep.id}`)).right).toBe(
      'add',
    );
    // Withdrawn.
    await ask('student in', 'POST', '/api/moves/back', moved);
    expect((await see('owner', placeId)).things).toEqual([]);
    expect((await ofPlacement('owner', single.placementId!)).status).toBe(404);
    expect((await ask<FolderView>('student in', 'GET', `/api/folders/${deep.id}`)).right).toBe(
      'own',
    );
    await ask('student in', 'POST', '/api/moves', { things, to: placeId, before: null });
    clock.now += HOUR;
    // After the end it stays as it is.
    await refused(await call('student in', 'POST', '/api/moves/back', moved), 409, 'box-ended');
    expect(await own('student in', id)).toMatchObject({ state: 'ended', mayAdd: false, files: 2 });
    const copied = await ask<Copied>('student in', 'POST', '/api/copies', { things });
    expect(copied.count).toBe(2);
    clock.now -= HOUR + 60_000;
  });

  it('takes copies, and the same content again', async () => {
    const id = await makeBox();
    const placeId = await placeOf('student in', id);
    const desk = await deskOf('student in');
    const kept = await add('student in', desk, 'essay.txt', 'my essay');
    const things = [{ kind: 'placement', id: kept.placementId }];
    await ask('student in', 'POST', '/api/copies', { things, to: placeId });
    expect((await see('owner', placeId)).things).toMatchObject([{ title: 'essay', own: true }]);
    // The one on the desk is the student's alone.
    expect((await ofPlacement('owner', kept.placementId!)).status).toBe(404);
    await add('student in', desk, 'draft.txt', 'my draft');
    await add('student in', placeId, 'draft.txt', 'my draft');
    expect((await see('owner', placeId)).things).toHaveLength(2);
    // Nobody copies into what is not theirs.
    const mate = await placeOf('leaver', id);
    expect((await call('student in', 'POST', '/api/copies', { things, to: mate })).status).toBe(
      404,
    );
  });

  it('marks what is late, or refuses it; a file on its way when the box ends is not lost', async () => {
    const late = await makeBox({ endsAt: inMs(HOUR) });
    const strict = await makeBox({ title: 'Quiz', endsAt: inMs(HOUR), takesLate: false });
    const inLate = await placeOf('student in', late);
    const inStrict = await placeOf('student in', strict);
    await add('student in', inLate, 'early.txt', 'early');
    const onItsWay = await send('student in', inStrict, 'late.txt', 'late', 4);
    clock.now += HOUR;
    expect(await own('student in', late)).toMatchObject({ state: 'late', late: false });
    await add('student in', inLate, 'late.txt', 'late');
    expect(await own('student in', late)).toMatchObject({ late: true, files: 2 });
    expect((await see('student in', inLate)).things.map((x) => [x.title, x.late])).toEqual([
      ['early', false],
      ['late', true],
    ]);
    await refused(await place('student in', inStrict, onItsWay), 409, 'box-ended');
    expect((await see('student in', inStrict)).mayAdd).toBe(false);
    // The teacher gives more time.
    await ask('owner', 'PATCH', `/api/boxes/${strict}`, { endsAt: inMs(HOUR) });
    expect((await place('student in', inStrict, onItsWay)).status).toBe(200);
    clock.now -= HOUR;
  });

  it('ends when the box is closed or its class removed, and goes on when that is undone', async () => {
    const id = await makeBox();
    const placeId = await placeOf('student in', id);
    await add('student in', placeId, 'one.txt', 'one');
    const adds = async () => (await begin('student in', placeId, 'two.txt', 3)).status;
    await ask('owner', 'PATCH', `/api/boxes/${id}`, { closed: true });
    expect(await adds()).toBe(409);
    expect(await own('student in', id)).toMatchObject({ state: 'closed', files: 1 });
    await ask('owner', 'PATCH', `/api/boxes/${id}`, { closed: false, title: 'Soil diary' });
    expect(await adds()).toBe(201);
    expect((await ask<FolderView>('student in', 'GET', `/api/folders/${placeId}`)).title).toBe(
      'Soil diary',
    );
    await ask('owner', 'DELETE', `/api/classes/${classA}`);
    expect(await adds()).toBe(409);
    expect((await see('student in', placeId)).things).toHaveLength(1);
    expect((await call('owner', 'GET', `/api/places/${placeId}`)).status).toBe(404);
    await ask('owner', 'POST', `/api/classes/${classA}/restore`);
    expect(await adds()).toBe(201);
    await ask('owner', 'GET', `/api/places/${placeId}`);
  });

  it('ends with its year; students and teachers read on', async () => {
    const id = await makeBox();
    const placeId = await placeOf('student in', id);
    await add('student in', placeId, 'one.txt', 'of this year');
    const close = (closedAt: Date | null) =>
      db.update(years).set({ closedAt }).where(eq(years.id, world.yearId));
    await close(new Date(clock.now));
    await refused(await begin('student in', placeId, 'two.txt', 3), 409, 'box-ended');
    expect((await see('student in', placeId)).things).toHaveLength(1);
    expect((await see('owner', placeId)).things).toHaveLength(1);
    expect((await rowsOf(id)).box.handedIn).toBe(1);
    expect(await own('student in', id)).toBeUndefined();
    expect((await call('owner', 'PATCH', `/api/boxes/${id}`, { text: 'More' })).status).toBe(404);
    await close(null);
    expect((await begin('student in', placeId, 'two.txt', 3)).status).toBe(201);
  });

  it('is taken along by the student, each box a folder; and by the teacher, each student one', async () => {
    const id = await makeBox({ title: 'Take along' });
    const placeId = await placeOf('student in', id);
    await add('student in', placeId, 'mine.txt', 'to take along');
    const names = async (who: Who, query = '') => {
      const reply = await call(who, 'GET', `/api/box-archive${query}`);
      expect(reply.status).toBe(200);
      return [...(await unzipped(Buffer.from(await reply.arrayBuffer()))).keys()];
    };
    const own = await names('student in');
    const { box } = await rowsOf(id);
    expect(own).toContain(`${box.code} Take along/mine.txt`);
    expect(own.some((name) => /mate|leaver/u.test(name))).toBe(false);
    expect(await names('owner', `?boxes=${id}`)).toContain(`${box.code}/in, student/mine.txt`);
    const { classY } = await server.scene();
    const empty = await makeBox({ title: 'Nobody yet', classIds: [classY] });
    expect((await names('owner', `?boxes=${id},${empty}`)).length).toBeGreaterThan(1);
    for (const who of ['owner', 'colleague', 'office'] as const)
      await refused(await call(who, 'GET', '/api/box-archive'), 404, 'not-found');
    await refused(
      await call('student in', 'GET', `/api/box-archive?boxes=${id}`),
      404,
      'not-found',
    );
  });

  it('clears the places of closed boxes in one step: for good after 30 days, until then it can be taken along and kept after all', async () => {
    const id = await makeBox({ title: 'Last year' });
    const empty = await makeBox({ title: 'Never used' });
    const placeId = await placeOf('student in', id);
    await add('student in', placeId, 'mine.txt', 'only in this place');
    const given = await add('owner', placeId, 'marked.txt', 'given back by the teacher');
    const remark = { body: 'Well observed', point: null, replyTo: null };
    await ask('owner', 'POST', `/api/placements/${given.placementId}/remarks`, remark);
    const clearing = (boxes: string[], clear = true, who: Who = 'owner') =>
      call(who, 'POST', '/api/boxes/clear', { boxes, clear });
    await refused(await clearing([id, empty]), 409, 'box-open');
    for (const box of [id, empty])
      await ask('owner', 'PATCH', `/api/boxes/${box}`, { closed: true });
    for (const who of ['student in', 'colleague', 'office'] as const)
      await refused(await clearing([id], true, who), 404, 'not-found');
    expect((await clearing([id, empty])).status).toBe(204);
    const ended = async (who: Who) => ask<Boxes>(who, 'GET', '/api/boxes?ended=true');
    const goesAt = new Date(clock.now + 30 * 24 * HOUR).toISOString();
    expect((await ended('student in')).own.find((one) => one.id === id)).toMatchObject({ goesAt });
    expect((await ended('owner')).taught.find((one) => one.id === id)).toMatchObject({ goesAt });
    expect((await see('student in', placeId)).things).toHaveLength(2);
    const job = () => deleteCleared(server.app.services);
    clock.now += 29 * 24 * HOUR;
    await job();
    expect((await see('student in', placeId)).things).toHaveLength(2);
    // Clearing again sets no new date; keeping after all does away with it.
    await clearing([id]);
    expect((await own('student in', id))!.goesAt).toBe(goesAt);
    await clearing([id], false);
    clock.now += 2 * 24 * HOUR;
    await job();
    expect((await see('student in', placeId)).things).toHaveLength(2);
    expect(await own('student in', empty)).toBeUndefined();
    // What takes something again is kept.
    await clearing([id]);
    await ask('owner', 'PATCH', `/api/boxes/${id}`, { closed: false });
    expect((await own('student in', id))!.goesAt).toBeNull();
    await ask('owner', 'PATCH', `/api/boxes/${id}`, { closed: true });
    await clearing([id]);
    clock.now += 31 * 24 * HOUR;
    await job();
    expect(await own('student in', id)).toBeUndefined();
    expect((await call('student in', 'GET', `/api/places/${placeId}`)).status).toBe(404);
    expect((await call('owner', 'GET', `/api/boxes/${id}`)).status).toBe(404);
    expect(await db.select().from(places).where(eq(places.folderId, placeId))).toEqual([]);
    // What the teacher had given goes to the teacher’s own Bin.
    const bin = await ask<{ things: { title: string }[] }>('owner', 'GET', '/api/bin');
    expect(bin.things.map(({ title }) => title)).toContain('Last year');
    await job();
  });

  it('keeps a box with work from being removed, and lets an empty one come back', async () => {
    const id = await makeBox();
    const placeId = await placeOf('student in', id);
    await ask('owner', 'DELETE', `/api/boxes/${id}`);
    expect((await call('student in', 'GET', `/api/places/${placeId}`)).status).toBe(404);
    expect((await call('owner', 'GET', `/api/boxes/${id}`)).status).toBe(404);
    await ask('owner', 'POST', `/api/boxes/${id}/back`);
    await add('student in', placeId, 'one.txt', 'one and only');
    await refused(await call('owner', 'DELETE', `/api/boxes/${id}`), 409, 'box-not-empty');
    expect((await see('student in', placeId)).things).toHaveLength(1);
    // A teacher who takes something away gives it back to whose it is: in the student's Bin.
    const [thing] = (await see('owner', placeId)).things;
    const things = [{ kind: 'placement', id: thing!.placementId }];
    await ask('owner', 'POST', '/api/bin', { things });
    expect((await call('student in', 'POST', '/api/bin/restore', { things })).status).toBe(200);
    expect((await see('student in', placeId)).things).toHaveLength(1);
  });

  it('lets a folder that was withdrawn come back until the end, and then go for good, with nothing of the teacher’s', async () => {
    const id = await makeBox();
    const placeId = await placeOf('student in', id);
    const folder = await ask<{ id: string }>('student in', 'POST', '/api/folders', {
      ...{ parentId: placeId, title: 'Plot 9' },
    });
    await add('student in', folder.id, 'nine.txt', 'the ninth plot');
    const things = [{ kind: 'folder', id: folder.id }];
    // What a student has put into a folder a teacher does not take away with it.
    await refused(await call('owner', 'POST', '/api/bin', { things }), 403, 'not-allowed');
    await ask('student in', 'POST', '/api/bin', { things });
    expect((await see('owner', placeId)).things).toEqual([]);
    const bin = () => ask<{ things: { id: string }[] }>('student in', 'GET', '/api/bin');
    expect((await bin()).things.map((one) => one.id)).toContain(folder.id);
    await ask('student in', 'POST', '/api/bin/restore', { things });
    expect((await see('owner', placeId)).things).toHaveLength(1);
    await ask('student in', 'POST', '/api/bin', { things });
    await ask('student in', 'POST', '/api/bin/empty', { things });
    expect((await bin()).things.map((one) => one.id)).not.toContain(folder.id);
  });

  it('is limited by the room of the student', async () => {
    const id = await makeBox();
    const placeId = await placeOf('student in', id);
    await refused(await begin('student in', placeId, 'film.txt', 2_000_000), 413, 'quota-full');
  });

  it('gives a student in two classes with boxes of one name two places', async () => {
    await db
      .insert(memberships)
      .values({ schoolId, classId: classB, personId: world.ids['student in'] });
    const { ids } = await ask<{ ids: [string, string] }>('owner', 'POST', '/api/boxes', {
      ...{ title: 'Twins', classIds: [classA, classB] },
    });
    const inBoth = await Promise.all(ids.map((id) => placeOf('student in', id)));
    await add('student in', inBoth[0]!, 'for A.txt', 'for A');
    expect((await see('student in', inBoth[1]!)).things).toEqual([]);
    expect((await see('student in', inBoth[0]!)).things).toHaveLength(1);
  });

  it('is for those who teach the class, and no others', async () => {
    const id = await makeBox();
    const placeId = await placeOf('student in', id);
    await refused(await call('colleague', 'GET', `/api/places/${placeId}`), 404, 'not-found');
    await db.execute(
      sql`insert into course_teachers (school_id, course_id, person_id) values (${schoolId}, ${world.courseId}, ${world.ids.colleague})`,
    );
    await ask('colleague', 'GET', `/api/places/${placeId}`);
    expect((await ask<Placed>('colleague', 'GET', `/api/boxes/${id}`)) !== null).toBe(true);
    await db.execute(
      sql`delete from course_teachers where course_id = ${world.courseId} and person_id = ${world.ids.colleague}`,
    );
    await refused(await call('colleague', 'GET', `/api/places/${placeId}`), 404, 'not-found');
  });

  it('makes a box for 2,000 students at once', async () => {
    const [big] = await db
      .insert(classes)
      .values({
        ...{ schoolId, yearId: world.yearId, courseId: world.courseId },
        ...{ code: 'BIG', colour: 'moss' as const },
      })
      .returning();
    const students = await db
      .insert(people)
      .values(
        Array.from({ length: 2000 }, (_, n) => ({
          ...{ schoolId, kind: 'student' as const, name: `Student ${n}`, signInName: `big${n}` },
        })),
      )
      .returning({ id: people.id });
    await db
      .insert(memberships)
      .values(students.map(({ id }) => ({ schoolId, classId: big!.id, personId: id })));
    const id = await makeBox({ classIds: [big!.id] });
    expect(await db.$count(places, eq(places.boxId, id))).toBe(2000);
    const { places: rows } = await rowsOf(id);
    expect(rows).toHaveLength(2000);
    expect(rows[2]!.name).toBe('Student 2');
  });
});

describe('a copy for each', () => {
  const giveTo = async (boxId: string, placement: string, pattern?: string) =>
    ask<{ id: string; given: number }>('owner', 'POST', `/api/boxes/${boxId}/copies`, {
      ...{ placement, ...(pattern && { pattern }) },
    });

  it('is in every place, also of who joins later, named by pattern, and stored once', async () => {
    const { placement } = await server.scene();
    const id = await makeBox({ title: 'Worksheets' });
    const files = () => db.$count(blobs);
    const before = await files();
    const { given } = await giveTo(id, placement, '{title}, {student}');
    const students = (await rowsOf(id)).box.students;
    expect(given).toBe(students);
    expect(await files()).toBe(before);
    const placeId = await placeOf('student in', id);
    expect((await see('student in', placeId)).things).toMatchObject([
      { title: 'Böden 土壌, student in', own: false, by: 'owner', extension: 'txt' },
    ]);
    // Nothing has been handed in by that; it is new to the student.
    expect(await own('student in', id)).toMatchObject({ files: 0 });
    const [joined] = await db
      .insert(memberships)
      .values({ schoolId, classId: classA, personId: joinerId })
      .returning();
    const later = await see('joiner', await placeOf('joiner', id));
    expect(later.things).toMatchObject([{ title: 'Böden 土壌, joiner' }]);
    await db.delete(memberships).where(eq(memberships.id, joined!.id));
    // Nobody gets it twice.
    await refused(
      await call('owner', 'POST', `/api/boxes/${id}/copies`, { placement }),
      409,
      'already-here',
    );
    await refused(
      await call('owner', 'POST', `/api/boxes/${id}/copies`, { placement, pattern: 'a/b' }),
      422,
      'name-not-allowed',
    );
  });

  it('is the student’s to work on: the next version is handed in; the master stays as it is', async () => {
    const { placement, itemId } = await server.scene();
    const id = await makeBox({ title: 'Sheets' });
    await giveTo(id, placement);
    const placeId = await placeOf('student in', id);
    await add('student in', placeId, 'Böden 土壌.txt', 'filled in');
    const [thing] = (await see('owner', placeId)).things;
    expect(thing).toMatchObject({ title: 'Böden 土壌', version: 2, own: true });
    expect(await own('student in', id)).toMatchObject({ files: 1 });
    const mates = await see('leaver', await placeOf('leaver', id));
    expect(mates.things).toMatchObject([{ title: 'Böden 土壌', version: 1, own: false }]);
    expect(await db.$count(versions, eq(versions.itemId, itemId))).toBe(1);
  });

  it('is taken back where nobody has opened it', async () => {
    const { placement } = await server.scene();
    const id = await makeBox({ title: 'Quiz sheets' });
    const made = await giveTo(id, placement);
    const placeId = await placeOf('student in', id);
    const [thing] = (await see('student in', placeId)).things;
    await ask('student in', 'PUT', `/api/placements/${thing!.placementId}/opened`);
    const list = () =>
      ask<{ copies: { given: number; opened: number }[] }>(
        'owner',
        'GET',
        `/api/boxes/${id}/copies`,
      );
    expect(await list()).toMatchObject({ copies: [{ given: made.given, opened: 1 }] });
    expect(await ask('owner', 'DELETE', `/api/copies/${made.id}`)).toEqual({ kept: 1 });
    expect((await see('student in', placeId)).things).toHaveLength(1);
    expect((await see('leaver', await placeOf('leaver', id))).things).toEqual([]);
    expect(await list()).toEqual({ copies: [] });
  });

  it('is of what the teacher sees, in boxes of their classes', async () => {
    const { placement } = await server.scene();
    const id = await makeBox();
    for (const who of ['colleague', 'student in', 'office'] as const)
      await refused(
        await call(who, 'POST', `/api/boxes/${id}/copies`, { placement }),
        404,
        'not-found',
      );
    const foreign = await ask<{ id: string }>('colleague', 'POST', '/api/folders', {
      ...{ parentId: null, title: 'Not yours' },
    });
    const secret = await add('colleague', foreign.id, 'secret.txt', 'not for you');
    await refused(
      await call('owner', 'POST', `/api/boxes/${id}/copies`, { placement: secret.placementId }),
      404,
      'not-found',
    );
  });
});
