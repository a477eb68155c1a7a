import type { Boxes, BoxPlaces, Phrases, Place, Remark, Remarks } from '@sammlung/contract';
import { afterAll, describe, expect, it } from 'vitest';
import { memberships } from '../src/db/schema/index.ts';
import { startServer, type Who } from './harness.ts';
import { uploader } from './upload.ts';

const server = await startServer();
const { ask, call, clock, db, refused, world } = server;
const { add } = uploader(server);
afterAll(() => server.stop());

const mateId = await server.enrol('leaver', 'student');
await db
  .insert(memberships)
  .values({ schoolId: world.schoolId, classId: world.classA, personId: mateId });
const { ids } = await ask<{ ids: [string] }>('owner', 'POST', '/api/boxes', {
  ...{ title: 'Soil log', classIds: [world.classA] },
});
const own = async (who: Who) => (await ask<Boxes>(who, 'GET', '/api/boxes')).own[0]!;
const placeId = (await own('student in')).placeId;
let files = 0;
const handIn = async () => {
  files += 1;
  return (await add('student in', placeId, `log ${files}.txt`, `log ${files}`)).placementId!;
};
const write = async (who: Who, placementId: string, body: object) =>
  (await ask<{ id: string }>(who, 'POST', `/api/placements/${placementId}/remarks`, body)).id;
const read = async (who: Who, placementId: string): Promise<Remark[]> =>
  (await ask<Remarks>(who, 'GET', `/api/placements/${placementId}/remarks`)).remarks;

describe('remarks', () => {
  it('go back and forth between the teacher and the student, on a point or about the whole', async () => {
    const placementId = await handIn();
    const point = { page: 2, x: 0.25, y: 0.75 };
    const first = await write('owner', placementId, { body: ' Which day was the rain? ', point });
    clock.now += 1000;
    const answer = await write('student in', placementId, { body: 'Tuesday', replyTo: first });
    clock.now += 1000;
    // An answer to an answer stands with it, and has no point of its own.
    const again = await write('owner', placementId, { body: 'Thanks.', replyTo: answer, point });
    expect(await read('student in', placementId)).toMatchObject([
      { id: first, body: 'Which day was the rain?', point, replyTo: null, version: 1, fresh: true },
      { id: answer, body: 'Tuesday', point: null, replyTo: first, fresh: false },
      { id: again, body: 'Thanks.', point: null, replyTo: first, fresh: true },
    ]);
    await add('student in', placeId, `log ${files}.txt`, 'with the day');
    clock.now += 1000;
    await write('owner', placementId, { body: 'Better' });
    expect((await read('owner', placementId)).map((one) => one.version)).toEqual([1, 1, 1, 2]);
  });

  it('are announced to the student until they have been read, and to the teacher', async () => {
    const placementId = await handIn();
    const before = (await own('student in')).remarks;
    clock.now += 1000;
    const mine = await write('owner', placementId, { body: 'Well measured.' });
    expect((await own('student in')).remarks).toBe(before + 1);
    const thing = async (who: Who) =>
      (await ask<Place>(who, 'GET', `/api/places/${placeId}`)).things.find(
        (one) => one.placementId === placementId,
      )!.remarks;
    expect(await thing('student in')).toEqual({ count: 1, fresh: 1 });
    expect(await thing('owner')).toEqual({ count: 1, fresh: 0 });
    await ask('student in', 'PUT', `/api/placements/${placementId}/remarks/read`);
    expect(await thing('student in')).toEqual({ count: 1, fresh: 0 });
    const fresh = async () =>
      (await ask<BoxPlaces>('owner', 'GET', `/api/boxes/${ids[0]}`)).places.find(
        (row) => row.placeId === placeId,
      )!.fresh;
    const unseen = await fresh();
    clock.now += 1000;
    await write('student in', placementId, { body: 'With the new thermometer', replyTo: mine });
    expect(await fresh()).toBe(unseen + 1);
    await ask('owner', 'PUT', `/api/placements/${placementId}/remarks/read`);
    expect(await fresh()).toBe(unseen);
  });

  it('are changed and removed by their writers alone, and come back as they were', async () => {
    const placementId = await handIn();
    const id = await write('owner', placementId, { body: 'The unit is missing.' });
    await refused(
      await call('student in', 'PATCH', `/api/remarks/${id}`, { body: 'Nothing is missing.' }),
      403,
      'not-allowed',
    );
    await ask('owner', 'PATCH', `/api/remarks/${id}`, { body: 'The unit is missing here.' });
    expect(await read('owner', placementId)).toMatchObject([
      { body: 'The unit is missing here.', edited: true },
    ]);
    await ask('owner', 'DELETE', `/api/remarks/${id}`);
    expect(await read('student in', placementId)).toEqual([]);
    await refused(await call('owner', 'DELETE', `/api/remarks/${id}`), 404, 'not-found');
    await refused(await call('student in', 'POST', `/api/remarks/${id}/back`), 404, 'not-found');
    await refused(
      await call('owner', 'POST', `/api/placements/${placementId}/remarks`, {
        ...{ body: 'More', replyTo: id },
      }),
      404,
      'not-found',
    );
    await ask('owner', 'POST', `/api/remarks/${id}/back`);
    expect(await read('student in', placementId)).toHaveLength(1);
  });

  it('are text, at most 5,000 characters of it', async () => {
    const placementId = await handIn();
    const markup = '<img src=x onerror=alert(1)> **bold** \u202Etxet';
    await write('owner', placementId, { body: markup });
    expect(await read('student in', placementId)).toMatchObject([{ body: markup }]);
    const path = `/api/placements/${placementId}/remarks`;
    for (const body of ['x'.repeat(5001), 'x'.repeat(100_000), '', '   '])
      await refused(await call('owner', 'POST', path, { body }), 400, 'bad-request');
    for (const point of [
      { page: 0, x: 0, y: 0 },
      { page: 1, x: 1.2, y: 0 },
      { page: 1, x: -1, y: 0 },
    ])
      await refused(await call('owner', 'POST', path, { body: 'here', point }), 400, 'bad-request');
  });

  it('are about what is in a place, and by those who see it', async () => {
    const placementId = await handIn();
    const id = await write('owner', placementId, { body: 'For you' });
    for (const who of ['leaver', 'student out', 'colleague', 'office', 'other school'] as const) {
      const path = `/api/placements/${placementId}/remarks`;
      await refused(await call(who, 'GET', path), 404, 'not-found');
      await refused(await call(who, 'POST', path, { body: 'me too' }), 404, 'not-found');
      await refused(await call(who, 'PUT', `${path}/read`), 404, 'not-found');
      await refused(
        await call(who, 'PATCH', `/api/remarks/${id}`, { body: 'mine' }),
        404,
        'not-found',
      );
      await refused(await call(who, 'DELETE', `/api/remarks/${id}`), 404, 'not-found');
    }
    const { inner, placement } = await server.scene();
    expect(inner).toBeTruthy();
    await refused(
      await call('owner', 'GET', `/api/placements/${placement}/remarks`),
      404,
      'not-found',
    );
    // A remark about another thing answers nothing here.
    const other = await handIn();
    await refused(
      await call('owner', 'POST', `/api/placements/${other}/remarks`, {
        ...{ body: 'More', replyTo: id },
      }),
      404,
      'not-found',
    );
    // Withdrawn, it is the student’s alone, with what was said about it; handed in again, that is there.
    const desk = (await ask<{ folderId: string }>('student in', 'POST', '/api/desk')).folderId;
    const things = [{ kind: 'placement', id: placementId }];
    await ask('student in', 'POST', '/api/moves', { things, to: desk, before: null });
    await refused(
      await call('owner', 'GET', `/api/placements/${placementId}/remarks`),
      404,
      'not-found',
    );
    await ask('student in', 'POST', '/api/moves', { things, to: placeId, before: null });
    expect(await read('owner', placementId)).toHaveLength(1);
  });

  it('are begun from what a teacher often writes', async () => {
    const phrases = ['The unit is missing.', 'Show how you got there.'];
    await ask('owner', 'PUT', '/api/phrases', { phrases });
    expect((await ask<Phrases>('owner', 'GET', '/api/phrases')).phrases).toEqual(phrases);
    expect((await ask<Phrases>('colleague', 'GET', '/api/phrases')).phrases).toEqual([]);
    await refused(
      await call('owner', 'PUT', '/api/phrases', { phrases: Array(21).fill('Again.') }),
      400,
      'bad-request',
    );
  });
});
