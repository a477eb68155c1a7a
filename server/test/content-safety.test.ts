import {
  mkdtempSync,
  readFileSync,
  readdirSync,
  rmSync,
  truncateSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';

import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { sql } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import { examine } from '../src/domain/doctor.ts';
import { DiskStorage } from '../src/platform/storage.ts';
import { startServer } from './harness.ts';
import { uploader } from './upload.ts';

const server = await startServer();
const { ask, call, refused, db, world, settings } = server;
const { add, send } = uploader(server);
afterAll(() => server.stop());

const storage = new DiskStorage(settings.data);
const stored = async (from: DiskStorage = storage) => {
  const found: string[] = [];
  for await (const { hash } of from.contents()) found.push(hash);
  return found;
};
const make = async (title: string) =>
  (await ask<{ id: string }>('owner', 'POST', '/api/folders', { parentId: null, title })).id;
const sound = () => examine({ db, storage }, server.clock.now, { deep: true });

describe('a refused upload', () => {
  it('leaves no content behind, whether it is refused before or after it was kept', async () => {
    const folder = await make('Refusals');
    await add('owner', folder, 'Plan.txt', 'of the owner');
    await ask('owner', 'POST', '/api/grants', {
      things: [{ kind: 'folder', id: folder }],
      audiences: [{ kind: 'person', id: world.ids.colleague }],
      level: 'add',
    });
    const before = (await stored()).sort();
    const twin = await send('colleague', folder, 'Plan.txt', 'of the colleague', 16);
    const path = `/api/folders/${folder}/files`;
    await refused(await call('colleague', 'POST', path, { uploadId: twin }), 409, 'name-taken');
    expect((await stored()).sort()).toEqual(before);
    // The last statement of the transaction fails: the content has been kept by then.
    await db.execute(
      sql`alter table uploads add constraint no_fate check (given_name <> 'Fate.txt') not valid`,
    );
    const late = await send('owner', folder, 'Fate.txt', 'fate', 4);
    expect((await call('owner', 'POST', path, { uploadId: late })).status).toBe(500);
    expect((await stored()).sort()).toEqual(before);
    await db.execute(sql`alter table uploads drop constraint no_fate`);
    // It is still there to be placed.
    expect((await call('owner', 'POST', path, { uploadId: late })).status).toBe(200);
    expect(await sound()).toMatchObject({ removed: 0, damaged: [] });
  });

  it('leaves a content that somebody else has alone', async () => {
    const [folder, other] = [await make('Shared content'), await make('Other')];
    await add('owner', other, 'Same.txt', 'the same content');
    await ask('owner', 'POST', '/api/grants', {
      things: [{ kind: 'folder', id: folder }],
      audiences: [{ kind: 'person', id: world.ids.colleague }],
      level: 'add',
    });
    await add('owner', folder, 'Plan.txt', 'a plan');
    const twin = await send('colleague', folder, 'Plan.txt', 'the same content', 16);
    await refused(
      await call('colleague', 'POST', `/api/folders/${folder}/files`, { uploadId: twin }),
      409,
      'name-taken',
    );
    expect(await sound()).toMatchObject({ removed: 0, damaged: [] });
  });
});

describe('storage', () => {
  const data = mkdtempSync(join(tmpdir(), 'sammlung-storage-'));
  const disk = new DiskStorage(data);
  afterAll(() => rmSync(data, { recursive: true }));
  const pathOf = (hash: string) => join(data, 'files', 'school', hash.slice(0, 2), hash);
  const content = new TextEncoder().encode('a content of some length');

  it('believes no content that is not whole, by either way in', async () => {
    const { hash } = await disk.put('school', content);
    for (const bring of [
      () => disk.put('school', content),
      async () => {
        writeFileSync(join(data, 'uploads', 'sent'), content);
        await disk.takeOver('sent', 'school', hash);
      },
    ]) {
      truncateSync(pathOf(hash), 5);
      await bring();
      expect(readFileSync(pathOf(hash))).toEqual(Buffer.from(content));
    }
    expect(readdirSync(dirname(pathOf(hash)))).toEqual([hash]);
  });

  it('clears away what writes that were cut short have left, and nothing that is being written', async () => {
    const { hash } = await disk.put('school', content);
    const old = join(dirname(pathOf(hash)), `.${hash}.old`);
    const young = join(dirname(pathOf(hash)), `.${hash}.young`);
    for (const path of [old, young]) writeFileSync(path, 'half');
    utimesSync(old, 1, 1);
    expect(await disk.tidy(Date.now() - 1000)).toBe(1);
    expect(readdirSync(dirname(pathOf(hash))).sort()).toEqual([`.${hash}.young`, hash]);
    expect(await stored(disk)).toEqual([hash]);
  });
});

describe('the doctor', () => {
  it('removes contents without a record, and tells records whose content is missing, cut or changed', async () => {
    const folder = await make('Examined');
    const names = ['Missing', 'Cut', 'Changed', 'Whole'];
    for (const name of names) await add('owner', folder, `${name}.txt`, `content of ${name}`);
    const { hash: orphan } = await storage.put(world.schoolId, Buffer.from('nobody speaks of it'));
    const pathOf = async (name: string) => {
      const { hash } = await storage.put('elsewhere', Buffer.from(`content of ${name}`));
      return server.fileOf(hash);
    };
    const [missing, cut, changed] = [
      await pathOf('Missing'),
      await pathOf('Cut'),
      await pathOf('Changed'),
    ];
    rmSync(join(settings.data, 'files', 'elsewhere'), { recursive: true });
    rmSync(missing);
    truncateSync(cut, 3);
    writeFileSync(changed, 'content of CHANGED');
    const shallow = await examine({ db, storage }, server.clock.now);
    expect(shallow.removed).toBe(1);
    expect(await stored()).not.toContain(orphan);
    const told = ({ damaged }: Awaited<ReturnType<typeof sound>>) =>
      damaged.map(({ fault, titles }) => [fault, ...titles]).sort();
    expect(told(shallow)).toEqual([
      ['missing', 'Missing'],
      ['wrong-size', 'Cut'],
    ]);
    expect(told(await sound())).toEqual([
      ['changed', 'Changed'],
      ['missing', 'Missing'],
      ['wrong-size', 'Cut'],
    ]);
  });
});
