import type { Bin, Contents, Restored } from '@sammlung/contract';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { blobs } from '../src/db/schema/index.ts';
import { emptyOverdue, KEPT_MS } from '../src/features/bin/service.ts';
import { startServer } from './harness.ts';
import { uploader } from './upload.ts';

const server = await startServer();
const { ask, call, refused } = server;
const { add } = uploader(server);
afterAll(() => server.stop());

const folderThing = (id: string) => ({ kind: 'folder' as const, id });
const itemThing = (id: string | null) => ({ kind: 'placement' as const, id: id! });
const make = async (title: string, parentId: string | null = null) =>
  (await ask<{ id: string }>('owner', 'POST', '/api/folders', { parentId, title })).id;
const binned = async () => (await ask<Bin>('owner', 'GET', '/api/bin')).things;
const into = (...things: object[]) =>
  ask<{ lastPlaces: number }>('owner', 'POST', '/api/bin', { things });
const outOf = (things: object[], to?: string | null) =>
  ask<Restored>('owner', 'POST', '/api/bin/restore', { things, to });
const titles = async (folder: string) => {
  const { folders, items } = await ask<Contents>('owner', 'GET', `/api/folders/${folder}/contents`);
  return [...folders, ...items].map((row) => row.title);
};
const stored = async () =>
  (await server.db.select().from(blobs)).map(({ schoolId, hash }) =>
    existsSync(join(server.settings.data, 'files', schoolId, hash.slice(0, 2), hash)),
  );

describe('the Bin', () => {
  it('holds what has left its last place, and gives it back to where it was', async () => {
    const [a, b] = [await make('First place'), await make('Second place')];
    const { placementId } = await add('owner', a, 'Sheet.txt', 'sheet');
    const { made } = await ask<{ made: string[] }>('owner', 'POST', '/api/placements', {
      placements: [placementId],
      to: [b],
    });
    expect(await into(itemThing(placementId))).toEqual({ lastPlaces: 0 });
    expect(await binned()).toEqual([]);
    server.clock.now += 1000;
    expect(await into(itemThing(made[0]!))).toEqual({ lastPlaces: 1 });
    expect(await binned()).toMatchObject([
      {
        kind: 'placement',
        id: made[0],
        title: 'Sheet',
        extension: 'txt',
        where: ['Second place'],
        placeGone: false,
      },
    ]);
    await outOf([itemThing(made[0]!)]);
    expect(await titles(b)).toEqual(['Sheet']);
    expect(await titles(a)).toEqual([]);
  });

  it('asks where, when the place lies in the Bin too, and gives a number to a name that is taken', async () => {
    const top = await make('Gone place');
    const unit = await make('Unit', top);
    const { placementId } = await add('owner', unit, 'Sheet.txt', 'sheet two');
    await into(itemThing(placementId));
    await into(folderThing(unit));
    await into(folderThing(top));
    const restore = (thing: object) =>
      call('owner', 'POST', '/api/bin/restore', { things: [thing] });
    await refused(await restore(folderThing(unit)), 409, 'place-gone');
    await refused(await restore(itemThing(placementId)), 409, 'place-gone');
    const elsewhere = await make('Elsewhere');
    await make('UNIT', elsewhere);
    await add('owner', elsewhere, 'SHEET.txt', 'another sheet');
    expect((await outOf([folderThing(unit), itemThing(placementId)], elsewhere)).renamed).toEqual([
      'Unit 2',
      'Sheet 2',
    ]);
    expect(await titles(elsewhere)).toEqual(['UNIT', 'Unit 2', 'SHEET', 'Sheet 2']);
    await refused(
      await call('owner', 'POST', '/api/bin/restore', {
        things: [itemThing(placementId)],
        to: null,
      }),
      422,
      'no-items-on-top',
    );
  });

  it('shows nobody the Bin of another, and gives nothing of it back to them', async () => {
    const top = await make('Private');
    await into(folderThing(top));
    expect((await ask<Bin>('colleague', 'GET', '/api/bin')).things).toEqual([]);
    for (const path of ['restore', 'empty'])
      await refused(
        await call('colleague', 'POST', `/api/bin/${path}`, { things: [folderThing(top)] }),
        404,
        'not-found',
      );
  });

  it('deletes for good with everything that speaks of it, and the contents that nobody else has', async () => {
    const scene = await server.scene();
    await ask('student in', 'PUT', `/api/placements/${scene.placement}/opened`);
    const kept = await make('Kept');
    const shared = await add('owner', scene.inner, 'Shared.txt', 'lies in two folders');
    await ask('owner', 'POST', '/api/placements', { placements: [shared.placementId], to: [kept] });
    await add('owner', scene.inner, 'Alone.txt', 'only here');
    await add('owner', scene.inner, 'Alone.txt', 'only here, newer');
    const before = (await stored()).length;
    await into(folderThing(scene.handed));
    await ask('owner', 'POST', '/api/bin/empty', { things: [folderThing(scene.handed)] });
    expect(await titles(kept)).toEqual(['Shared']);
    expect((await binned()).some((x) => x.id === scene.handed)).toBe(false);
    const after = await stored();
    // Two states of “Alone” and the file of the scene; what lies in two folders stays.
    expect(after.length).toBe(before - 3);
    expect(after).not.toContain(false);
    await refused(
      await call('owner', 'POST', '/api/bin/restore', { things: [folderThing(scene.handed)] }),
      404,
      'not-found',
    );
    await refused(
      await call('owner', 'POST', '/api/bin/empty', { things: [folderThing(kept)] }),
      404,
      'not-found',
    );
  });

  it('is emptied of what has lain there for 30 days, and of nothing else', async () => {
    const [old, young] = [await make('Old'), await make('Young')];
    await add('owner', old, 'Old.txt', 'old content');
    const { placementId } = await add('owner', young, 'Taken out.txt', 'taken out');
    await into(folderThing(old), itemThing(placementId));
    server.clock.now += KEPT_MS - 1000;
    await into(folderThing(young));
    await emptyOverdue(server.app.services);
    expect((await binned()).map((x) => x.title)).toContain('Old');
    server.clock.now += 2000;
    await emptyOverdue(server.app.services);
    const left = (await binned()).map((x) => x.title);
    expect(left).toContain('Young');
    expect(left).not.toContain('Old');
    expect(left).not.toContain('Taken out');
    expect(await stored()).not.toContain(false);
  });
});
