import type { Bin, Contents, Restored, Today } from '@sammlung/contract';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { eq } from 'drizzle-orm';
import { blobs, grants } from '../src/db/schema/index.ts';
import { KEPT_MS } from '../src/domain/bin.ts';
import { emptyOverdue } from '../src/features/bin/service.ts';
import { startServer, type Who } from './harness.ts';
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
    const note = { body: 'Read it' };
    await ask('owner', 'POST', `/api/placements/${scene.placement}/reach/notes`, note);
    await ask('owner', 'POST', `/api/grants/${scene.grant}/notes`, note);
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

describe('a colleague', () => {
  const inLibraryOf = async (who: Who, level: 'add' | 'manage', to: Who) => {
    const { id } = await ask<{ id: string }>(who, 'POST', '/api/folders', {
      parentId: null,
      title: `Of ${who} ${(counter += 1)}`,
    });
    await ask(who, 'POST', '/api/grants', {
      things: [folderThing(id)],
      audiences: [{ kind: 'person', id: server.world.ids[to as 'owner' | 'colleague'] }],
      level,
    });
    return id;
  };
  const topOf = (who: Who) =>
    ask<{ id: string }>(who, 'POST', '/api/folders', {
      parentId: null,
      title: `Top of ${who} ${(counter += 1)}`,
    }).then(({ id }) => id);
  const restoring = (who: Who, thing: object, to?: string | null) =>
    call(who, 'POST', '/api/bin/restore', { things: [thing], to });
  const binOf = async (who: Who) => (await ask<Bin>(who, 'GET', '/api/bin')).things;
  const takeBackAll = (folder: string) =>
    server.db
      .update(grants)
      .set({ takenBackAt: new Date(server.clock.now), takenBackBy: server.world.ids.owner })
      .where(eq(grants.folderId, folder));
  let counter = 0;

  it('who manages brings back what they removed, and takes none of it into a library of their own', async () => {
    const shared = await inLibraryOf('owner', 'manage', 'colleague');
    const own = await topOf('colleague');
    const { placementId } = await add('owner', shared, 'Theirs.txt', `theirs ${counter}`);
    const unit = (
      await ask<{ id: string }>('owner', 'POST', '/api/folders', {
        parentId: shared,
        title: 'Unit',
      })
    ).id;
    const beside = (
      await ask<{ id: string }>('owner', 'POST', '/api/folders', {
        parentId: shared,
        title: 'Beside',
      })
    ).id;
    for (const thing of [itemThing(placementId), folderThing(unit)]) {
      await ask('colleague', 'POST', '/api/bin', { things: [thing] });
      await refused(await restoring('colleague', thing, own), 422, 'other-library');
      await refused(
        await restoring('colleague', thing, null),
        thing.kind === 'folder' ? 403 : 422,
        thing.kind === 'folder' ? 'not-allowed' : 'no-items-on-top',
      );
      expect((await restoring('colleague', thing)).status).toBe(200);
      await ask('colleague', 'POST', '/api/bin', { things: [thing] });
      expect((await restoring('colleague', thing, beside)).status).toBe(200);
    }
    expect(await titles(beside)).toEqual(['Unit', 'Theirs']);
  });

  it('brings back the very folder that was handed to them, and nothing once it is taken back', async () => {
    const shared = await inLibraryOf('owner', 'manage', 'colleague');
    await ask('colleague', 'POST', '/api/bin', { things: [folderThing(shared)] });
    expect((await restoring('colleague', folderThing(shared))).status).toBe(200);
    await ask('colleague', 'POST', '/api/bin', { things: [folderThing(shared)] });
    await takeBackAll(shared);
    await refused(await restoring('colleague', folderThing(shared)), 404, 'not-found');
  });

  it('brings back nothing that the owner removed', async () => {
    const shared = await inLibraryOf('owner', 'manage', 'colleague');
    const { placementId } = await add('owner', shared, 'Removed.txt', `removed ${counter}`);
    await into(itemThing(placementId));
    await refused(await restoring('colleague', itemThing(placementId)), 404, 'not-found');
    await into(folderThing(shared));
    await refused(await restoring('colleague', folderThing(shared)), 404, 'not-found');
  });

  it('is asked for another place when they may no longer add to the one where it was', async () => {
    const shared = await inLibraryOf('owner', 'add', 'colleague');
    const { placementId } = await add('colleague', shared, 'Mine.txt', `mine ${counter}`);
    await ask('colleague', 'POST', '/api/bin', { things: [itemThing(placementId)] });
    const listed = async () => (await binOf('colleague')).find((x) => x.id === placementId);
    expect(await listed()).toMatchObject({ placeGone: false, where: [`Of owner ${counter}`] });
    await takeBackAll(shared);
    expect(await listed()).toMatchObject({ placeGone: true, where: [] });
    await refused(await restoring('colleague', itemThing(placementId)), 409, 'place-gone');
    expect(
      (await restoring('colleague', itemThing(placementId), await topOf('colleague'))).status,
    ).toBe(200);
    expect(await titles(shared)).toEqual([]);
  });

  it('reads in the Bin no name of what lies above a folder that was handed to them', async () => {
    const secret = await topOf('owner');
    const inner = (
      await ask<{ id: string }>('owner', 'POST', '/api/folders', {
        parentId: secret,
        title: 'Handed',
      })
    ).id;
    await ask('owner', 'POST', '/api/grants', {
      things: [folderThing(inner)],
      audiences: [{ kind: 'person', id: server.world.ids.colleague }],
      level: 'add',
    });
    const { placementId } = await add('colleague', inner, 'Below.txt', `below ${counter}`);
    await ask('colleague', 'POST', '/api/bin', { things: [itemThing(placementId)] });
    const listed = (await binOf('colleague')).find((x) => x.id === placementId);
    expect(listed).toMatchObject({ where: ['Handed'] });
  });

  it('gets back what they put into a folder that is deleted for good, and reads of it', async () => {
    const shared = await inLibraryOf('owner', 'add', 'colleague');
    const elsewhere = await topOf('colleague');
    const lost = await add('colleague', shared, 'Lost.txt', 'lost and found');
    const safe = await add('colleague', shared, 'Safe.txt', `safe ${counter}`);
    await ask('colleague', 'POST', '/api/placements', {
      placements: [safe.placementId],
      to: [elsewhere],
    });
    await add('owner', shared, 'Gone.txt', `gone ${counter}`);
    await into(folderThing(shared));
    await ask('owner', 'POST', '/api/bin/empty', { things: [folderThing(shared)] });
    const back = (await binOf('colleague')).filter((x) => x.title === `Of owner ${counter - 1}`);
    expect(back).toMatchObject([{ kind: 'folder', items: 1, placeGone: false }]);
    const { removed } = await ask<Today>('colleague', 'GET', '/api/today');
    expect(removed).toMatchObject([
      { title: `Of owner ${counter - 1}`, byName: 'owner', items: 1 },
    ]);
    expect((await restoring('colleague', folderThing(back[0]!.id))).status).toBe(200);
    const contents = await ask<Contents>(
      'colleague',
      'GET',
      `/api/folders/${back[0]!.id}/contents`,
    );
    expect(contents.items.map((row) => row.placementId)).toEqual([lost.placementId]);
    expect(
      await (await call('colleague', 'GET', `/api/placements/${lost.placementId}/content`)).text(),
    ).toBe('lost and found');
    expect(
      (await ask<Contents>('colleague', 'GET', `/api/folders/${elsewhere}/contents`)).items,
    ).toHaveLength(1);
  });

  it('changes and removes a folder they made, until others have put something into it', async () => {
    const shared = await inLibraryOf('owner', 'add', 'colleague');
    const make = (who: Who, title: string) =>
      ask<{ id: string }>(who, 'POST', '/api/folders', { parentId: shared, title });
    const [mine, theirs] = [await make('colleague', 'Mine'), await make('owner', 'Theirs')];
    const rename = (id: string) =>
      call('colleague', 'PATCH', `/api/folders/${id}`, { title: `Renamed ${id}`.slice(0, 50) });
    expect((await rename(mine.id)).status).toBe(204);
    await refused(await rename(theirs.id), 403, 'not-allowed');
    await add('colleague', mine.id, 'Own.txt', `own ${counter}`);
    const remove = (id: string) =>
      call('colleague', 'POST', '/api/bin', { things: [folderThing(id)] });
    expect((await remove(mine.id)).status).toBe(200);
    expect((await restoring('colleague', folderThing(mine.id))).status).toBe(200);
    await refused(await remove(theirs.id), 403, 'not-allowed');
    await add('owner', mine.id, 'Of the owner.txt', `of the owner ${counter}`);
    await refused(await remove(mine.id), 403, 'not-allowed');
    await refused(
      await call('colleague', 'POST', '/api/moves', {
        things: [folderThing(mine.id)],
        to: theirs.id,
        before: null,
      }),
      403,
      'not-allowed',
    );
  });
});

describe('at once', () => {
  it('emptying and bringing back: each thing is either gone or back, and both replies say so', async () => {
    const ids: string[] = [];
    for (let n = 0; n < 40; n += 1) ids.push(await make(`Race ${n}`));
    const files = await Promise.all(
      ids.map((id, n) => add('owner', id, `Race ${n}.txt`, `race content ${n}`)),
    );
    const race = async (things: { kind: 'folder' | 'placement'; id: string }[]) => {
      await into(...things);
      const replies = await Promise.all(
        things.flatMap((thing) => [
          call('owner', 'POST', '/api/bin/empty', { things: [thing] }),
          call('owner', 'POST', '/api/bin/restore', { things: [thing] }),
        ]),
      );
      const statuses = replies.map((reply) => reply.status);
      for (let n = 0; n < things.length; n += 1) {
        const { kind, id } = things[n]!;
        const [emptied, restored] = [statuses[2 * n], statuses[2 * n + 1]];
        const path = kind === 'folder' ? 'folders' : 'placements';
        const there = (await call('owner', 'GET', `/api/${path}/${id}`)).status === 200;
        expect({ emptied, restored, there }).toEqual(
          emptied === 204
            ? { emptied: 204, restored: 404, there: false }
            : { emptied: 404, restored: 200, there: true },
        );
      }
      return statuses;
    };
    await race(files.map(({ placementId }) => itemThing(placementId)));
    await race(ids.map((id) => folderThing(id)));
    expect(await stored()).not.toContain(false);
  });

  it('the nightly deletion and bringing back', async () => {
    const ids: string[] = [];
    for (let n = 0; n < 20; n += 1) ids.push(await make(`Night ${n}`));
    await into(...ids.map((id) => folderThing(id)));
    server.clock.now += KEPT_MS + 1000;
    const [, ...restored] = await Promise.all([
      emptyOverdue(server.app.services),
      ...ids.map((id) => call('owner', 'POST', '/api/bin/restore', { things: [folderThing(id)] })),
    ]);
    for (const [n, reply] of restored.entries()) {
      const there = (await call('owner', 'GET', `/api/folders/${ids[n]}`)).status;
      expect([reply.status, there]).toEqual(reply.status === 200 ? [200, 200] : [404, 404]);
    }
  });
});
