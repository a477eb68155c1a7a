import type { IntakeLimits } from '@sammlung/contract';
import { createHash } from 'node:crypto';
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { announced } from '../src/db/schema/index.ts';
import { DiskStorage } from '../src/platform/storage.ts';
import { startServer, type Who } from './harness.ts';
import { uploader } from './upload.ts';

const server = await startServer({ teacherQuota: 100 });
const { ask, call, refused, db } = server;
const { add, begin, send, place } = uploader(server);
afterAll(() => server.stop());
beforeEach(() => db.delete(announced));
const make = async (who: Who, title: string) =>
  (await ask<{ id: string }>(who, 'POST', '/api/folders', { parentId: null, title })).id;

describe('the quota', () => {
  const TUS = { 'tus-resumable': '1.0.0' };
  const roomOf = async () => {
    const { used, quota } = await ask<IntakeLimits>('owner', 'GET', '/api/intake');
    return quota - used;
  };
  const giveUp = (id: string) => call('owner', 'DELETE', `/api/uploads/${id}`, undefined, TUS);

  it('stops uploads before they start; what is announced takes room until it is placed or given up', async () => {
    const folder = await make('owner', 'Full');
    const room = await roomOf();
    await refused(await begin('owner', folder, 'Large.bin', room + 1), 413, 'quota-full');
    const waiting = await send('owner', folder, 'First.txt', '', room - 10);
    await refused(await begin('owner', folder, 'Second.txt', 20), 413, 'quota-full');
    expect((await giveUp(waiting)).status).toBe(204);
    await add('owner', folder, 'Second.txt', 'b'.repeat(20));
    expect(await roomOf()).toBe(room - 20);
    const rest = await send('owner', folder, 'Third.txt', 'c'.repeat(room - 20), room - 20);
    expect((await place('owner', folder, rest)).status).toBe(200);
    await refused(await begin('owner', folder, 'Fourth.txt', 1), 413, 'quota-full');
    // What lies in the library already needs no more room.
    const hash = createHash('sha256').update('b'.repeat(20)).digest('hex');
    const known = { name: 'Second.txt', hash };
    expect(
      await ask('owner', 'POST', `/api/folders/${await make('owner', 'Again')}/known`, known),
    ).toMatchObject({ outcome: 'placed' });
  });

  it('is never exceeded by announcements that come at once', async () => {
    const folder = await make('colleague', 'At once');
    const tries = Array.from({ length: 12 }, (_, n) =>
      begin('colleague', folder, `At once ${n}.bin`, 30),
    );
    const statuses = (await Promise.all(tries)).map((reply) => reply.status).sort();
    expect(statuses).toEqual([...Array(3).fill(201), ...Array(9).fill(413)]);
  });

  it('what nobody has gone on with for a day makes room for what is wanted now', async () => {
    const folder = await make('colleague', 'Left');
    await db.delete(announced);
    const idle = await send('colleague', folder, 'Left.bin', 'x'.repeat(60), 90);
    // What has arrived is noted once the request has been answered.
    await expect.poll(async () => (await db.select().from(announced))[0]!.received).toBe(60);
    await refused(await begin('colleague', folder, 'New.bin', 90), 413, 'quota-full');
    const dayAgo = new Date(Date.now() - 25 * 60 * 60 * 1000);
    await db.update(announced).set({ touchedAt: dayAgo });
    expect((await begin('colleague', folder, 'New.bin', 90)).status).toBe(201);
    const head = await call('colleague', 'HEAD', `/api/uploads/${idle}`, undefined, TUS);
    expect(head.status).toBe(404);
  });

  it('leaves the disk its reserve, whatever else has been announced', async () => {
    const free = await new DiskStorage(server.settings.data).free();
    const near = await startServer({
      diskReserve: Math.round(free * 0.5),
      uploadLimit: free,
      teacherQuota: free,
    });
    const { inner } = await near.scene();
    const { begin: announce } = uploader(near);
    const third = Math.round(free * 0.3);
    expect((await announce('owner', inner, 'First.bin', third)).status).toBe(201);
    await near.refused(await announce('owner', inner, 'Second.bin', third), 507, 'disk-full');
    const folder = (
      await near.ask<{ id: string }>('colleague', 'POST', '/api/folders', {
        parentId: null,
        title: 'Near',
      })
    ).id;
    await near.refused(await announce('colleague', folder, 'Third.bin', third), 507, 'disk-full');
    await near.stop();
  });
});
