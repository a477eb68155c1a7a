import type { Space } from '@sammlung/contract';
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { eq } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import { openings, placements, versions } from '../src/db/schema/index.ts';
import { startServer, type Who } from './harness.ts';
import { unzipped } from './unzip.ts';
import { uploader } from './upload.ts';

const server = await startServer();
const { ask, call, refused } = server;
const { add } = uploader(server);
afterAll(() => server.stop());

const make = async (title: string, parentId: string | null = null) =>
  (await ask<{ id: string }>('owner', 'POST', '/api/folders', { parentId, title })).id;

/** Names and texts in an archive. */
const unzip = async (bytes: Buffer): Promise<Record<string, string>> =>
  Object.fromEntries(
    [...(await unzipped(bytes))].map(([name, content]) => [name, content.toString()]),
  );

async function archive(who: Who, path: string) {
  const reply = await call(who, 'GET', path);
  expect(reply.status).toBe(200);
  const disposition = reply.headers.get('content-disposition') ?? '';
  const name =
    /filename\*=UTF-8''([^;]+)/u.exec(disposition) ?? /filename="([^"]+)"/u.exec(disposition);
  return {
    name: decodeURIComponent(name?.[1] ?? ''),
    files: await unzip(Buffer.from(await reply.arrayBuffer())),
  };
}

describe('taking along', () => {
  it('a folder with all below it, empty folders and links too, under names in UTF-8', async () => {
    const top = await make('Böden 土壌');
    const unit = await make('Unit', top);
    await make('Empty', top);
    await add('owner', top, 'Plan 🌱.txt', 'the plan');
    await add('owner', unit, 'Sheet.txt', 'the sheet');
    await ask('owner', 'POST', '/api/links', { folderId: top, url: 'https://a.example/map' });
    expect(await archive('owner', `/api/folders/${top}/archive`)).toEqual({
      name: 'Böden 土壌.zip',
      files: {
        'Böden 土壌/': '',
        'Böden 土壌/Empty/': '',
        'Böden 土壌/Unit/': '',
        'Böden 土壌/Plan 🌱.txt': 'the plan',
        'Böden 土壌/map.url': '[InternetShortcut]\r\nURL=https://a.example/map\r\n',
        'Böden 土壌/Unit/Sheet.txt': 'the sheet',
      },
    });
  });

  it('several things at once, each under a name of its own', async () => {
    const [a, b] = [await make('Plan'), await make('Other')];
    const below = await make('plan', b);
    await add('owner', below, 'In it.txt', 'in it');
    const one = await add('owner', a, 'Same.txt', 'same one');
    const two = await add('owner', b, 'SAME.txt', 'same two');
    const things = [
      `folder.${a}`,
      `folder.${below}`,
      `placement.${one.placementId}`,
      `placement.${two.placementId}`,
    ];
    const { files } = await archive('owner', `/api/archive?things=${things.join(',')}`);
    expect(files).toEqual({
      'Plan/': '',
      'plan 2/': '',
      'Plan/Same.txt': 'same one',
      'plan 2/In it.txt': 'in it',
      'SAME.txt': 'same two',
    });
  });

  it('holds only what the asker sees, and is refused as a whole where something is not seen', async () => {
    const scene = await server.scene();
    const held = await add('owner', scene.inner, 'Held.txt', 'held back');
    await server.db
      .update(placements)
      .set({ held: true })
      .where(eq(placements.id, held.placementId!));
    for (const [who, prefix] of [
      ['student in', '/api'],
      ['visitor with door', `/api/open/${scene.token}`],
    ] as const) {
      const { files } = await archive(who, `${prefix}/folders/${scene.handed}/archive`);
      expect(Object.keys(files)).toEqual([
        'Handed out/',
        'Handed out/Inner/',
        'Handed out/Inner/Böden 土壌.txt',
      ]);
      const both = `placement.${scene.placement},placement.${held.placementId}`;
      await refused(await call(who, 'GET', `${prefix}/archive?things=${both}`), 404, 'not-found');
      await refused(
        await call(who, 'GET', `${prefix}/folders/${scene.secret}/archive`),
        404,
        'not-found',
      );
    }
    const taken = await server.db
      .select()
      .from(openings)
      .where(eq(openings.placementId, scene.placement));
    expect(
      taken.map((o) => [
        o.kind,
        o.personId === server.world.ids['student in'],
        o.doorId === scene.door,
      ]),
    ).toEqual(
      expect.arrayContaining([
        ['downloaded', true, false],
        ['downloaded', false, true],
      ]),
    );
    await refused(await call('owner', 'GET', '/api/archive?things=folder.x'), 400, 'bad-request');
  });

  it('names what was deleted for good while it was made, and gives the rest', async () => {
    const folder = await make('Emptied');
    const gone = await add('owner', folder, 'Gone.txt', 'soon gone');
    await add('owner', folder, 'Stays.txt', 'stays');
    const [placement] = await server.db
      .select()
      .from(placements)
      .where(eq(placements.id, gone.placementId!));
    const [version] = await server.db
      .select()
      .from(versions)
      .where(eq(versions.itemId, placement!.itemId));
    const { schoolId, hash } = version!;
    rmSync(join(server.settings.data, 'files', schoolId, hash.slice(0, 2), hash));
    const { files } = await archive('owner', `/api/folders/${folder}/archive`);
    expect(files['Emptied/Stays.txt']).toBe('stays');
    expect(files['Not in this archive.txt']).toContain('Emptied/Gone.txt');
    expect(files).not.toHaveProperty('Emptied/Gone.txt');
  });

  it('goes on undisturbed while its folder is being emptied', async () => {
    const folder = await make('While emptied');
    for (let n = 0; n < 20; n += 1) await add('owner', folder, `${n}.txt`, `${n} `.repeat(50_000));
    const [taken] = await Promise.all([
      archive('owner', `/api/folders/${folder}/archive`),
      new Promise((resolve) => setTimeout(resolve, 20)).then(() =>
        ask('owner', 'POST', '/api/bin', { things: [{ kind: 'folder', id: folder }] }),
      ),
    ]);
    expect(Object.keys(taken.files)).toHaveLength(21);
  });
});

describe('space', () => {
  it('counts each content once, by kind, course and year, with the Bin', async () => {
    const before = await ask<Space>('owner', 'GET', '/api/space');
    const scene = await server.scene();
    await add('owner', scene.inner, 'Counted.txt', 'x'.repeat(700_000));
    await add('owner', scene.inner, 'Counted.txt', 'y'.repeat(300_000));
    const loose = await add('owner', scene.secret, 'Loose.txt', 'z'.repeat(5_000_000));
    await ask('owner', 'POST', '/api/bin', {
      things: [{ kind: 'placement', id: loose.placementId }],
    });
    const after = await ask<Space>('owner', 'GET', '/api/space');
    const grew = (pick: (space: Space) => number) => pick(after) - pick(before);
    expect(grew((s) => s.used)).toBe(6_000_000);
    expect(grew((s) => s.kinds.find((k) => k.kind === 'text')?.size ?? 0)).toBe(6_000_000);
    expect(grew((s) => s.courses.find((c) => c.title === 'Course')?.size ?? 0)).toBe(1_000_000);
    expect(grew((s) => s.years.find((y) => y.label === '2026/27')?.size ?? 0)).toBe(1_000_000);
    expect(grew((s) => s.unplaced.size)).toBe(5_000_000);
    expect(after.largest.find((f) => f.title === 'Counted')).toMatchObject({
      size: 1_000_000,
      versions: 2,
      folder: { id: scene.inner },
    });
    expect(after.largest.find((f) => f.title === 'Loose')).toMatchObject({ folder: null });
  });
});
