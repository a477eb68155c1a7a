import type { FindFilters, Found } from '@sammlung/contract';
import { eq } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import { placements, previews } from '../src/db/schema/index.ts';
import { prepare } from '../src/features/preview/prepare.ts';
import { shownPage } from './pages.ts';
import { startServer, type Who } from './harness.ts';
import { uploader } from './upload.ts';

const server = await startServer();
const { ask, call, refused } = server;
const { add } = uploader(server);
afterAll(() => server.stop());

const find = (who: Who, query: Record<string, string>) =>
  ask<Found>(who, 'GET', `/api/find?${new URLSearchParams(query).toString()}`);
const titles = async (who: Who, query: Record<string, string>) =>
  (await find(who, query)).hits.map((hit) => hit.title);
async function prepareAll() {
  for (const { schoolId, hash } of await server.db.select().from(previews))
    await prepare(server.app.services, schoolId, hash);
}

const scene = await server.scene();
const lesson = await add(
  'owner',
  scene.inner,
  'Compost heap 2026-05-04.txt',
  'Worms turn the mulch over at night.',
);
const secret = await add(
  'owner',
  scene.secret,
  'Compost answers.txt',
  'The mulch answers nobody may see.',
);
const held = await add('owner', scene.inner, 'Compost held.txt', 'mulch held back');
await server.db.update(placements).set({ held: true }).where(eq(placements.id, held.placementId!));
await ask('owner', 'POST', '/api/links', {
  folderId: scene.inner,
  url: 'https://compost.example/heaps',
  title: 'Map of heaps',
});
await prepareAll();

describe('finding', () => {
  it('by name, whole or in part or with a slip, best first', async () => {
    expect(await titles('owner', { words: 'compost' })).toEqual([
      'Compost answers',
      'Compost heap 2026-05-04',
      'Compost held',
      'Map of heaps',
    ]);
    expect((await titles('owner', { words: 'heap' }))[0]).toBe('Compost heap 2026-05-04');
    expect(await titles('owner', { words: 'compots' })).toContain('Compost heap 2026-05-04');
    expect(await titles('owner', { words: 'handed out' })).toContain('Handed out');
    expect(await titles('owner', { words: 'BO\u0308DEN' })).toContain('Böden 土壌');
    expect(await titles('owner', { words: 'xyzzy' })).toEqual([]);
    // Signs that stand for others in the database stand for themselves here.
    for (const words of ['%', '_', 'po%he', 'm_ost'])
      expect(await titles('owner', { words })).toEqual([]);
  });

  it('by what is written inside, with the words around it', async () => {
    const { hits } = await find('owner', { words: 'mulch worms' });
    expect(hits[0]).toMatchObject({
      title: 'Compost heap 2026-05-04',
      where: [{}, { title: 'Handed out' }, { title: 'Inner' }],
    });
    expect(hits[0]?.excerpt).toContain('«mulch»');
    expect(hits[0]?.tabs?.map((tab) => tab.label)).toContain('A');
    expect(await titles('owner', { words: 'wor' })).toContain('Compost heap 2026-05-04');
  });

  it('pages by what is written in them', async () => {
    await shownPage(server, scene.inner);
    for (const who of ['owner', 'student in'] as const) {
      const { hits } = await find(who, { words: 'zwetsch' });
      expect(hits).toMatchObject([{ title: 'Page', itemKind: 'page' }]);
      expect(hits[0]?.excerpt).toContain('«zwetschgen»');
    }
    expect(await titles('student out', { words: 'zwetsch' })).toEqual([]);
    expect(await titles('owner', { words: 'zwetsch', kind: 'page' })).toEqual(['Page']);
  });

  it('shows students and colleagues only what they see, and nothing above it', async () => {
    for (const words of ['compost', 'mulch']) {
      const { hits } = await find('student in', { words });
      expect(hits.map((hit) => hit.title)).toContain('Compost heap 2026-05-04');
      const told = JSON.stringify(hits);
      for (const hidden of ['answers', 'held', 'Secret', secret.placementId!, scene.secret])
        expect(told).not.toContain(hidden);
      expect(hits[0]?.ownerName).toBe('owner');
      expect(hits[0]).not.toHaveProperty('tabs');
      for (const who of ['student out', 'colleague', 'other school'] as const)
        expect((await find(who, { words })).hits).toEqual([]);
    }
    expect((await find('student in', { words: 'secret' })).hits).toEqual([]);
  });

  it('has an item that was handed out alone, and nothing out of the Bin, to whomever it was handed out', async () => {
    const other = await server.scene();
    await ask('owner', 'PATCH', `/api/placements/${other.placement}`, { title: 'Quince jelly' });
    await ask('owner', 'POST', '/api/grants', {
      things: [{ kind: 'placement', id: other.placement }],
      audiences: [{ kind: 'class', id: server.world.classB }],
    });
    const hit = { title: 'Quince jelly', where: [] };
    expect((await find('student out', { words: 'quince' })).hits).toMatchObject([hit]);
    await ask('owner', 'PATCH', `/api/folders/${other.handed}`, { title: 'Quinces of the staff' });
    await ask('owner', 'POST', '/api/grants', {
      things: [{ kind: 'folder', id: other.handed }],
      audiences: [{ kind: 'staff', id: server.world.schoolId }],
    });
    const both = ['Quince jelly', 'Quinces of the staff'];
    for (const who of ['owner', 'colleague'] as const)
      expect((await titles(who, { words: 'quince' })).sort()).toEqual(both);
    await ask('owner', 'POST', '/api/bin', { things: [{ kind: 'folder', id: other.handed }] });
    for (const who of ['owner', 'colleague', 'student out'] as const)
      expect(await titles(who, { words: 'quince' })).toEqual([]);
  });

  it('narrows by kind, class, year and date', async () => {
    const narrowed = (more: Record<string, string>) =>
      titles('owner', { words: 'compost', ...more });
    expect(await narrowed({ kind: 'link' })).toEqual(['Map of heaps']);
    expect(await narrowed({ kind: 'folder' })).toEqual([]);
    expect(await narrowed({ kind: 'text', from: '2026-05-01', until: '2026-05-31' })).toEqual([
      'Compost heap 2026-05-04',
    ]);
    expect(await narrowed({ class: server.world.classA })).not.toContain('Compost answers');
    expect(await narrowed({ class: server.world.classB })).toEqual([]);
    expect(await narrowed({ year: server.world.yearId })).not.toContain('Compost answers');
    const filters = await ask<FindFilters>('owner', 'GET', '/api/find/filters');
    expect(filters.classes.map((c) => c.code)).toEqual(expect.arrayContaining(['A', 'B']));
    expect(
      (await ask<FindFilters>('student in', 'GET', '/api/find/filters')).classes.map((c) => c.code),
    ).toEqual(['A']);
  });

  it('takes any signs as words, and forgets what is in the Bin', async () => {
    for (const words of ["'", '%', '\\', '"a b', '&|!', ':*', '()', 'a'.repeat(200), '土壌'])
      expect(
        (await call('owner', 'GET', `/api/find?${new URLSearchParams({ words })}`)).status,
      ).toBe(200);
    await refused(await call('owner', 'GET', '/api/find?words=%20'), 400, 'bad-request');
    await ask('owner', 'POST', '/api/bin', {
      things: [{ kind: 'placement', id: lesson.placementId }],
    });
    expect(await titles('owner', { words: 'worms' })).toEqual([]);
    await ask('owner', 'POST', '/api/bin/restore', {
      things: [{ kind: 'placement', id: lesson.placementId }],
    });
    await ask('owner', 'POST', '/api/bin', { things: [{ kind: 'folder', id: scene.handed }] });
    expect(await titles('owner', { words: 'worms' })).toEqual([]);
    expect((await find('student in', { words: 'worms' })).hits).toEqual([]);
  });
});
