import type { Kept } from '@sammlung/contract';
import { and, eq } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import { memberships } from '../src/db/schema/index.ts';
import { startServer, type Who } from './harness.ts';

const server = await startServer();
const { ask, call, clock, refused } = server;
afterAll(() => server.stop());

const keep = (body: object) => ask<{ id: string }>('student in', 'POST', '/api/kept', body);
const atDoor = ({ token }: { token: string }) => `/api/open/${token}/kept`;
const kept = async (who: Who = 'student in') => (await ask<Kept>(who, 'GET', '/api/kept')).things;
const letAllGo = async (who: Who = 'student in') => {
  for (const { id } of await kept(who)) await ask(who, 'DELETE', `/api/kept/${id}`);
};

describe('what is kept', () => {
  it('stands in the student’s own order, the newest first until then', async () => {
    const scene = await server.scene();
    const folder = await keep({ kind: 'folder', id: scene.handed });
    const item = await keep({ kind: 'placement', id: scene.placement });
    expect(await keep({ kind: 'folder', id: scene.handed })).toEqual(folder);
    expect((await kept()).map((thing) => [thing.kind, thing.title])).toEqual([
      ['file', 'Böden 土壌'],
      ['folder', 'Handed out'],
    ]);
    expect((await kept())[1]).toMatchObject({
      folderId: scene.handed,
      ownerName: 'owner',
      classes: [{ code: 'A' }],
    });
    await ask('student in', 'PUT', '/api/kept/order', { ids: [folder.id, item.id] });
    expect((await kept()).map(({ id }) => id)).toEqual([folder.id, item.id]);
    await letAllGo();
    expect(await kept()).toEqual([]);
    for (let round = 0; round < 3; round += 1) {
      const atOnce = await Promise.all(
        Array.from({ length: 8 }, () => keep({ kind: 'folder', id: scene.handed })),
      );
      expect(new Set(atOnce.map(({ id }) => id)).size).toBe(1);
      await letAllGo();
    }
  });

  it('shows that it was taken back, learns no new name, and can be let go', async () => {
    const scene = await server.scene();
    await keep({ kind: 'folder', id: scene.handed });
    await ask('owner', 'PATCH', `/api/folders/${scene.handed}`, { title: 'Seen once more' });
    expect((await kept())[0]!.title).toBe('Seen once more');
    await ask('owner', 'POST', '/api/grants/take-back', { grants: [scene.grant] });
    await ask('owner', 'PATCH', `/api/folders/${scene.handed}`, { title: 'For others now' });
    const [thing] = await kept();
    expect(thing).toMatchObject({
      title: 'Seen once more',
      folderId: null,
      placementId: null,
      ownerName: null,
      classes: [],
    });
    expect(JSON.stringify(thing)).not.toContain('For others now');
    expect(JSON.stringify(thing)).not.toContain(scene.handed);
    await letAllGo();
  });

  it('holds a folder from a door with its address, until the door is closed', async () => {
    const scene = await server.scene();
    await ask('student out', 'POST', atDoor(scene), { kind: 'folder', id: scene.handed });
    expect((await kept('student out'))[0]).toMatchObject({
      folderId: scene.handed,
      token: scene.token,
    });
    await ask('owner', 'DELETE', `/api/doors/${scene.door}`);
    expect((await kept('student out'))[0]).toMatchObject({ folderId: null, token: null });
    clock.now += 1;
    await ask('owner', 'POST', `/api/doors/${scene.door}/reopen`);
    expect((await kept('student out'))[0]).toMatchObject({ token: scene.token });
    await letAllGo('student out');
  });

  it('at a door tells nothing behind a new password until that is given, nor a new address', async () => {
    const scene = await server.scene();
    const change = (body: object) => ask('owner', 'PATCH', `/api/doors/${scene.door}`, body);
    await change({ word: 'first' });
    const give = async (word: string) => {
      const reply = await call('student out', 'POST', `/api/open/${scene.token}/word`, { word });
      return reply.headers.getSetCookie()[0]!;
    };
    const [given, ...attributes] = (await give('first')).split('; ');
    // Browsers send it to what is below this path, and nowhere else.
    expect(attributes).toContain(`Path=/api/open/${scene.token}`);
    const session = server.cookies.get('student out')!;
    const keeping = await call(
      'student out',
      'POST',
      atDoor(scene),
      { kind: 'folder', id: scene.handed },
      { cookie: `${session}; ${given}` },
    );
    expect(keeping.status).toBe(200);
    expect((await kept('student out'))[0]).toMatchObject({ folderId: scene.handed });

    await change({ word: 'second' });
    await ask('owner', 'PATCH', `/api/folders/${scene.handed}`, { title: 'Behind', mark: '🔒' });
    const locked = (await kept('student out'))[0]!;
    expect(locked).toMatchObject({
      title: 'Handed out',
      mark: null,
      folderId: null,
      token: scene.token,
      ownerName: null,
    });
    await give('second');
    expect((await kept('student out'))[0]).toMatchObject({
      title: 'Behind',
      folderId: scene.handed,
    });

    await change({ renew: true });
    await ask('owner', 'PATCH', `/api/folders/${scene.handed}`, { title: 'Renewed' });
    expect((await kept('student out'))[0]).toMatchObject({
      title: 'Behind',
      folderId: null,
      token: null,
    });
    await letAllGo('student out');
  });

  it('is only what is seen, and only one’s own', async () => {
    const scene = await server.scene();
    for (const [who, path, id] of [
      ['student out', '/api/kept', scene.handed],
      ['student in', '/api/kept', scene.secret],
      ['student out', atDoor(scene), scene.secret],
      ['other school', atDoor(scene), scene.handed],
    ] as const)
      expect((await call(who, 'POST', path, { kind: 'folder', id })).status, who).toBe(404);
    const { id } = await keep({ kind: 'folder', id: scene.handed });
    const { id: second } = await keep({ kind: 'placement', id: scene.placement });
    await ask('student in', 'PUT', '/api/kept/order', { ids: [id, second] });
    expect((await call('student out', 'DELETE', `/api/kept/${id}`)).status).toBe(404);
    await ask('student out', 'PUT', '/api/kept/order', { ids: [second, id] });
    expect((await kept()).map((thing) => thing.id)).toEqual([id, second]);
    await letAllGo();
  });

  it('may be the page of a class, for as long as one belongs to it', async () => {
    const { world, db } = server;
    const id = world.classA;
    const { id: made } = await keep({ kind: 'class', id });
    expect(await keep({ kind: 'class', id })).toEqual({ id: made });
    expect(await kept()).toMatchObject([
      { kind: 'class', classId: id, folderId: null, placementId: null, classes: [{ id }] },
    ]);
    await refused(
      await call('student out', 'POST', '/api/kept', { kind: 'class', id }),
      404,
      'not-found',
    );
    const scene = await server.scene();
    await refused(
      await call('student in', 'POST', atDoor(scene), { kind: 'class', id }),
      404,
      'not-found',
    );
    const mine = and(
      eq(memberships.classId, id),
      eq(memberships.personId, world.ids['student in']),
    );
    const title = (await kept())[0]!.title;
    await db
      .update(memberships)
      .set({ untilAt: new Date(clock.now) })
      .where(mine);
    expect(await kept()).toMatchObject([{ title, classId: null, classes: [] }]);
    await db.update(memberships).set({ untilAt: null }).where(mine);
    await letAllGo();
  });
});
