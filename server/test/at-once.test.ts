import type { Bin, Contents, PlacedUpload, Tree } from '@sammlung/contract';
import { eq, inArray, sql } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import { folders, placements } from '../src/db/schema/index.ts';
import { examine } from '../src/domain/doctor.ts';
import { startServer } from './harness.ts';
import { uploader } from './upload.ts';

const server = await startServer();
const { ask, call, db } = server;
const { add, send, place } = uploader(server);
afterAll(() => server.stop());

const ROUNDS = 12;
const rounds = Array.from({ length: ROUNDS }, (_, n) => n);
const make = async (title: string, parentId: string | null = null) =>
  (await ask<{ id: string }>('owner', 'POST', '/api/folders', { parentId, title })).id;
const folder = (id: string) => ({ kind: 'folder' as const, id });
const placement = (id: string) => ({ kind: 'placement' as const, id });
const move = (things: object[], to: string | null) =>
  call('owner', 'POST', '/api/moves', { things, to, before: null });
const statuses = (replies: readonly Response[]) => replies.map((reply) => reply.status);

describe('changes that come at once', () => {
  it('a file is placed in a folder that is deleted for good: it lies there, or nothing of it is left', async () => {
    const counts = { placed: 0, refused: 0 };
    for (const n of rounds) {
      const id = await make(`Going ${n}`);
      await add('owner', id, 'Old.txt', `old ${n}`);
      const uploadId = await send('owner', id, 'New.txt', `new ${n}`, `new ${n}`.length);
      const [placed, binned] = await Promise.all([
        place('owner', id, uploadId),
        call('owner', 'POST', '/api/bin', { things: [folder(id)] }).then((reply) =>
          reply.ok ? call('owner', 'POST', '/api/bin/empty', { things: [folder(id)] }) : reply,
        ),
      ]);
      expect([200, 404, 409]).toContain(placed.status);
      expect([204, 409]).toContain(binned.status);
      if (placed.status === 200) counts.placed += 1;
      else counts.refused += 1;
    }
    const { damaged } = await examine(server.app.services, Date.now());
    expect(damaged).toEqual([]);
    expect(counts.placed + counts.refused).toBe(ROUNDS);
  });

  it('two folders are moved into each other: one goes, and the tree stays a tree', async () => {
    for (const n of rounds) {
      const [a, b] = [await make(`A ${n}`), await make(`B ${n}`)];
      const below = await make('Below', a);
      const both = await Promise.all([move([folder(a)], b), move([folder(b)], a)]);
      expect(statuses(both).sort()).toEqual([200, 422]);
      const { folders: tree } = await ask<Tree>('owner', 'GET', '/api/library/tree');
      const parentOf = new Map(tree.map((f) => [f.id, f.parentId]));
      expect([parentOf.get(a) === b, parentOf.get(b) === a].sort()).toEqual([false, true]);
      const [deep] = await db.select().from(folders).where(eq(folders.id, below));
      const path = [];
      for (let id: string | null = below; id !== null; id = parentOf.get(id) ?? null)
        path.unshift(id);
      expect(deep!.path).toEqual(path);
    }
  });

  it('things are moved to two places: all of them lie in one, and nothing twice', async () => {
    const from = await make('From');
    const targets = [await make('To one'), await make('To two')];
    const files: PlacedUpload[] = [];
    for (const n of [1, 2, 3, 4, 5])
      files.push(await add('owner', from, `File ${n}.txt`, `f ${n}`));
    const ids = files.map((file) => file.placementId!);
    const things = ids.map(placement);
    for (const _ of rounds) {
      const replies = await Promise.all(targets.map((to) => move(things, to)));
      for (const status of statuses(replies)) expect([200, 409]).toContain(status);
      const lying = await db.select().from(placements).where(inArray(placements.id, ids));
      expect(new Set(lying.map((p) => p.folderId)).size).toBe(1);
      const shown = [];
      for (const to of targets) {
        const { items } = await ask<Contents>('owner', 'GET', `/api/folders/${to}/contents`);
        shown.push(...items.map((item) => item.placementId));
      }
      expect(shown.sort()).toEqual([...ids].sort());
    }
  });

  it('the same thing is placed in one folder many times: it lies there once', async () => {
    const from = await make('Placed from');
    const to = await make('Placed to');
    for (const n of rounds) {
      const { placementId } = await add('owner', from, `Once ${n}.txt`, `once ${n}`);
      const body = { placements: [placementId], to: [to] };
      const replies = await Promise.all(
        [1, 2, 3, 4, 5, 6].map(() => call('owner', 'POST', '/api/placements', body)),
      );
      for (const status of statuses(replies)) expect([200, 409]).toContain(status);
      const { items } = await ask<Contents>('owner', 'GET', `/api/folders/${to}/contents`);
      expect(items).toHaveLength(n + 1);
    }
  });

  it('two folders of one name are made: one of them is refused', async () => {
    for (const n of rounds) {
      const parentId = await make(`Names ${n}`);
      const replies = await Promise.all(
        ['Unit', 'unit', 'UNIT'].map((title) =>
          call('owner', 'POST', '/api/folders', { parentId, title }),
        ),
      );
      expect(statuses(replies).sort()).toEqual([201, 409, 409]);
    }
  });

  it('a folder is removed and moved: it ends in one of the two places, with all below it', async () => {
    const to = await make('Moved to');
    for (const n of rounds) {
      const id = await make(`Both ${n}`);
      await make('Below', id);
      const [binned, moved] = await Promise.all([
        call('owner', 'POST', '/api/bin', { things: [folder(id)] }),
        move([folder(id)], to),
      ]);
      for (const status of [binned.status, moved.status]) expect([200, 404, 409]).toContain(status);
      const { things } = await ask<Bin>('owner', 'GET', '/api/bin');
      const { folders: tree } = await ask<Tree>('owner', 'GET', '/api/library/tree');
      const inBin = things.some((x) => x.id === id);
      expect(tree.some((f) => f.id === id)).toBe(!inBin);
      const [row] = (
        await db.execute(
          sql`select count(*)::int as n from folders f where f.path @> array[${id}::uuid]`,
        )
      ).rows;
      expect(row).toEqual({ n: 2 });
    }
  });
});
