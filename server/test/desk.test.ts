import type { Contents, Copied, Desk, FolderView, Origins } from '@sammlung/contract';
import { eq } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import { items, versions } from '../src/db/schema/index.ts';
import { startServer, type Who } from './harness.ts';
import { uploader } from './upload.ts';

const server = await startServer({ studentQuota: 200 });
const { ask, call, refused, db, world } = server;
afterAll(() => server.stop());
const { add, begin } = uploader(server);

const STUDENT: Who = 'student in';
const desk = () => ask<Desk>(STUDENT, 'POST', '/api/desk');
const contents = (id: string, who: Who = STUDENT) =>
  ask<Contents>(who, 'GET', `/api/folders/${id}/contents`);
const copy = (things: object[], to: string | null = null) =>
  ask<Copied>(STUDENT, 'POST', '/api/copies', { things, to });
const origins = async (folderId: string) =>
  (await ask<Origins>(STUDENT, 'GET', `/api/folders/${folderId}/origins`)).origins;

describe('a desk', () => {
  it('is one folder of a student, made once', async () => {
    const [a, b] = await Promise.all([desk(), desk()]);
    expect(a.folderId).toBe(b.folderId);
    expect(a.quota).toBe(200);
    const view = await ask<FolderView>(STUDENT, 'GET', `/api/folders/${a.folderId}`);
    expect(view.right).toBe('own');
    expect((await call('owner', 'POST', '/api/desk')).status).toBe(404);
  });

  it('is seen by nobody else, and cannot be handed out', async () => {
    const { folderId } = await desk();
    for (const who of ['owner', 'colleague', 'student out', 'other school'] as const)
      expect((await call(who, 'GET', `/api/folders/${folderId}`)).status, who).toBe(404);
    const things = [{ kind: 'folder', id: folderId }];
    const grant = { things, audiences: [{ kind: 'class', id: world.classA }] };
    await refused(await call(STUDENT, 'POST', '/api/grants', grant), 403, 'not-allowed');
    const door = { kind: 'public', thing: things[0] };
    await refused(await call(STUDENT, 'POST', '/api/doors', door), 403, 'not-allowed');
    await refused(
      await call(STUDENT, 'POST', '/api/releases', {
        things,
        rules: [{ classId: null, release: { held: true, from: null, until: null } }],
      }),
      403,
      'not-allowed',
    );
  });

  it('takes folders of its own, and nothing beside it', async () => {
    const { folderId } = await desk();
    const { id } = await ask<{ id: string }>(STUDENT, 'POST', '/api/folders', {
      parentId: folderId,
      title: 'Homework',
    });
    await refused(
      await call(STUDENT, 'POST', '/api/folders', { parentId: null, title: 'Beside' }),
      403,
      'not-allowed',
    );
    await refused(
      await call(STUDENT, 'POST', '/api/moves', {
        things: [{ kind: 'folder', id }],
        to: null,
        before: null,
      }),
      403,
      'not-allowed',
    );
  });
});

describe('taking a copy', () => {
  it('makes the item one’s own; the master stays as it is by every route', async () => {
    const scene = await server.scene();
    const { things, folderId, count } = await copy([{ kind: 'placement', id: scene.placement }]);
    expect(count).toBe(1);
    const mine = things[0]!.id;
    await ask(STUDENT, 'PATCH', `/api/placements/${mine}`, { title: 'My own work' });
    const text = await call(STUDENT, 'GET', `/api/placements/${mine}/content`);
    expect(await text.text()).toBe('content of the file');
    const placed = await add(STUDENT, folderId, 'My own work.txt', 'worked on');
    expect(placed).toMatchObject({ outcome: 'version', placementId: mine, version: 2 });

    const master = await ask<{ title: string; version: number; mayChange: boolean }>(
      STUDENT,
      'GET',
      `/api/placements/${scene.placement}`,
    );
    expect(master).toMatchObject({ title: 'Böden 土壌', version: 1, mayChange: false });
    for (const [method, path, body] of [
      ['PATCH', `/api/placements/${scene.placement}`, { title: 'Spoiled' }],
      ['PATCH', `/api/folders/${scene.inner}`, { title: 'Spoiled' }],
      ['POST', '/api/bin', { things: [{ kind: 'placement', id: scene.placement }] }],
      [
        'POST',
        '/api/moves',
        { things: [{ kind: 'placement', id: scene.placement }], to: folderId, before: null },
      ],
      ['POST', '/api/placements', { placements: [scene.placement], to: [folderId] }],
      ['POST', '/api/placements', { placements: [mine], to: [scene.inner] }],
      ['POST', `/api/placements/${scene.placement}/versions`, { versionId: scene.version }],
      ['POST', `/api/placements/${scene.placement}/renew`, undefined],
    ] as const)
      expect((await call(STUDENT, method, path, body)).status, `${method} ${path}`).toBe(403);
    expect((await begin(STUDENT, scene.inner, 'Böden 土壌.txt', 7)).status).toBe(403);
  });

  it('copies several things and folders with what is seen in them, under names that are free', async () => {
    const scene = await server.scene();
    const things = [
      { kind: 'folder', id: scene.handed },
      { kind: 'placement', id: scene.placement },
    ];
    const first = await copy(things);
    const again = await copy(things);
    const { folderId } = await desk();
    const { folders, items: rows } = await contents(folderId);
    expect(folders.map((f) => f.title)).toEqual(
      expect.arrayContaining(['Handed out', 'Handed out 2']),
    );
    expect(rows.filter((row) => row.title.startsWith('Böden')).length).toBeGreaterThan(1);
    const copied = folders.find((f) => f.id === first.things.find((x) => x.kind === 'folder')!.id)!;
    const inside = (await contents(copied.id)).folders;
    expect(inside.map((f) => f.title)).toEqual(['Inner']);
    expect((await contents(inside[0]!.id)).items.map((row) => row.title)).toEqual(['Böden 土壌']);
    await ask(STUDENT, 'POST', '/api/bin', { things: again.things });
  });

  it('takes nothing that is not seen, or all or nothing', async () => {
    const scene = await server.scene();
    await ask('owner', 'POST', '/api/releases', {
      things: [{ kind: 'placement', id: scene.placement }],
      rules: [{ classId: null, release: { held: true, from: null, until: null } }],
    });
    const things = [
      { kind: 'folder', id: scene.handed },
      { kind: 'placement', id: scene.placement },
    ];
    const before = (await contents((await desk()).folderId)).items.length;
    await refused(
      await call(STUDENT, 'POST', '/api/copies', { things, to: null }),
      404,
      'not-found',
    );
    const { count } = await copy([things[0]!]);
    expect(count).toBe(0);
    expect((await contents((await desk()).folderId)).items.length).toBe(before);
    expect(
      (await call('student out', 'POST', '/api/copies', { things: [things[0]], to: null })).status,
    ).toBe(404);
  });

  it('works at a door for whoever has signed in', async () => {
    const scene = await server.scene();
    const at = `/api/open/${scene.token}/copies`;
    const body = { things: [{ kind: 'placement', id: scene.placement }], to: null };
    const reply = await call('student out', 'POST', at, body);
    expect(reply.status).toBe(200);
    expect((await call('visitor with door', 'POST', at, body)).status).toBe(401);
  });

  it('knows its origin, and takes the newer version beside what was worked on', async () => {
    const scene = await server.scene();
    const { folderId } = await desk();
    const { id: own } = await ask<{ id: string }>(STUDENT, 'POST', '/api/folders', {
      parentId: folderId,
      title: 'Origins',
    });
    const { things } = await copy([{ kind: 'placement', id: scene.placement }], own);
    const mine = things[0]!.id;
    expect(await origins(own)).toEqual([
      { placementId: mine, state: 'same', originalId: scene.placement, ownerName: 'owner' },
    ]);
    await add('owner', scene.inner, 'Böden 土壌.txt', 'the second state');
    expect((await origins(own))[0]!.state).toBe('newer');
    await ask(STUDENT, 'POST', `/api/placements/${mine}/renew`);
    expect((await origins(own))[0]!.state).toBe('same');
    const text = await call(STUDENT, 'GET', `/api/placements/${mine}/content`);
    expect(await text.text()).toBe('the second state');
    const { versions: kept } = await ask<{ versions: unknown[] }>(
      STUDENT,
      'GET',
      `/api/placements/${mine}/versions`,
    );
    expect(kept).toHaveLength(2);

    await ask('owner', 'POST', '/api/grants/take-back', { grants: [scene.grant] });
    await add('owner', scene.inner, 'Böden 土壌.txt', 'the third state');
    expect(await origins(own)).toEqual([
      { placementId: mine, state: 'gone', originalId: null, ownerName: null },
    ]);
    expect((await call(STUDENT, 'POST', `/api/placements/${mine}/renew`)).status).toBe(404);
    expect((await call(STUDENT, 'GET', `/api/placements/${mine}/content`)).status).toBe(200);
  });

  it('stops at the student’s quota, and content held already takes no room', async () => {
    const scene = await server.scene();
    const { folderId } = await desk();
    const { placementId } = await add('owner', scene.inner, 'large.txt', 'x'.repeat(190));
    const used = (await desk()).used;
    await refused(
      await call(STUDENT, 'POST', '/api/copies', {
        things: [{ kind: 'placement', id: placementId }],
        to: null,
      }),
      413,
      'quota-full',
    );
    expect((await begin(STUDENT, folderId, 'own.txt', 190)).status).toBe(413);
    await copy([{ kind: 'placement', id: scene.placement }]);
    expect((await desk()).used).toBe(used);
  });

  it('outlives its original', async () => {
    const scene = await server.scene();
    const { things } = await copy([{ kind: 'placement', id: scene.placement }]);
    const thing = { kind: 'placement', id: scene.placement };
    await ask('owner', 'POST', '/api/bin', { things: [thing] });
    await ask('owner', 'POST', '/api/bin/empty', { things: [thing] });
    const rest = await db.select().from(versions).where(eq(versions.itemId, scene.itemId));
    expect(rest).toEqual([]);
    const reply = await call(STUDENT, 'GET', `/api/placements/${things[0]!.id}/content`);
    expect(await reply.text()).toBe('content of the file');
    const copies = await db.select().from(items).where(eq(items.copyOfItemId, scene.itemId));
    expect(copies).toEqual([]);
  });
});
