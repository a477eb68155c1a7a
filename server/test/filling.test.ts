import type { Contents, LookedUp, PlacedUpload, PlacementView, Versions } from '@sammlung/contract';
import { createHash, randomUUID } from 'node:crypto';
import { afterAll, describe, expect, it } from 'vitest';
import { startServer } from './harness.ts';
import { uploader } from './upload.ts';

const server = await startServer({ teacherQuota: 5000 });
const { ask, call, refused } = server;
const { add, send, place: placed } = uploader(server);
afterAll(() => server.stop());

const make = async (title: string, parentId: string | null = null) =>
  (await ask<{ id: string }>('owner', 'POST', '/api/folders', { parentId, title })).id;
const hashOf = (text: string) => createHash('sha256').update(text).digest('hex');
const text = async (placement: string | null, query = '') =>
  (await call('owner', 'GET', `/api/placements/${placement}/content${query}`)).text();
const view = (placement: string | null) =>
  ask<PlacementView>('owner', 'GET', `/api/placements/${placement}`);
const place = async (folder: string, name: string, content: string, sameName: string) => {
  const uploadId = await send('owner', folder, name, content, Buffer.byteLength(content));
  return ask<PlacedUpload>('owner', 'POST', `/api/folders/${folder}/files`, { uploadId, sameName });
};

describe('the same content', () => {
  it('is placed rather than kept twice, and said where it lies', async () => {
    const [masters, unit] = [await make('Masters'), await make('Unit')];
    const master = await add('owner', masters, 'Quiz.txt', 'the quiz');
    const again = await add('owner', unit, 'Copy of quiz.txt', 'the quiz');
    expect(again).toMatchObject({
      outcome: 'placed',
      name: 'Quiz.txt',
      renamed: true,
      alsoIn: [{ id: masters, title: 'Masters' }],
    });
    expect((await view(again.placementId)).itemId).toBe((await view(master.placementId)).itemId);
    expect(await add('owner', unit, 'Third.txt', 'the quiz')).toMatchObject({
      outcome: 'unchanged',
      placementId: again.placementId,
    });
  });

  it('need not be sent when the library has it; of other libraries nothing is told', async () => {
    const [a, b] = [await make('Known A'), await make('Known B')];
    await add('owner', a, 'Known.txt', 'known content');
    const look = (who: 'owner' | 'colleague') =>
      ask<LookedUp>(who, 'POST', '/api/intake/look', { sizes: [13, 999] });
    expect(await look('owner')).toEqual({ known: [13] });
    expect(await look('colleague')).toEqual({ known: [] });
    const body = { name: 'Known.txt', hash: hashOf('known content') };
    expect(await ask('owner', 'POST', `/api/folders/${b}/known`, body)).toMatchObject({
      outcome: 'placed',
    });
    await refused(
      await call('owner', 'POST', `/api/folders/${b}/known`, { ...body, hash: hashOf('no') }),
      404,
      'not-found',
    );
    const theirs = await ask<{ id: string }>('colleague', 'POST', '/api/folders', {
      parentId: null,
      title: 'Theirs',
    });
    await refused(
      await call('colleague', 'POST', `/api/folders/${theirs.id}/known`, body),
      404,
      'not-found',
    );
  });
});

describe('the same name', () => {
  it('becomes a version, a file beside it, or nothing, as wanted', async () => {
    const folder = await make('Same name');
    const first = await place(folder, 'Plan.txt', 'one', 'version');
    expect(await place(folder, 'plan.TXT', 'two', 'skip')).toMatchObject({
      outcome: 'skipped',
      placementId: null,
    });
    expect(await text(first.placementId)).toBe('one');
    const both = await place(folder, 'Plan.txt', 'three', 'both');
    expect(both).toMatchObject({ outcome: 'new', name: 'Plan 2.txt', version: 1 });
    expect(await place(folder, 'Plan.txt', 'four', 'version')).toMatchObject({
      outcome: 'version',
      version: 2,
    });
    expect(await text(both.placementId)).toBe('three');
  });

  it('can be decided otherwise afterwards, as long as nothing newer has come', async () => {
    const folder = await make('Otherwise');
    const first = await add('owner', folder, 'Plan.txt', 'otherwise one');
    const second = await add('owner', folder, 'Plan.txt', 'otherwise two');
    const decide = (uploadId: string, choice: string) =>
      call('owner', 'POST', `/api/placed/${uploadId}`, { choice });
    await refused(await decide(first.uploadId, 'both'), 409, 'changed-since');
    expect(await (await decide(second.uploadId, 'both')).json()).toMatchObject({
      outcome: 'new',
      name: 'Plan 2.txt',
    });
    expect(await text(first.placementId)).toBe('otherwise one');

    const third = await add('owner', folder, 'Plan.txt', 'otherwise three');
    expect(await (await decide(third.uploadId, 'skip')).json()).toMatchObject({
      outcome: 'skipped',
    });
    expect(await text(first.placementId)).toBe('otherwise one');
    await refused(await decide(third.uploadId, 'skip'), 409, 'changed-since');

    const fourth = await add('owner', folder, 'Plan.txt', 'otherwise four');
    await add('owner', folder, 'Plan.txt', 'otherwise five');
    await refused(await decide(fourth.uploadId, 'skip'), 409, 'changed-since');
    await refused(
      await call('colleague', 'POST', `/api/placed/${fourth.uploadId}`, { choice: 'skip' }),
      404,
      'not-found',
    );
  });
});

describe('versions', () => {
  it('are listed with who and when, can be had one by one, and come back as the newest', async () => {
    const folder = await make('Versions');
    const { placementId } = await add('owner', folder, 'Plan.txt', 'version one');
    await add('owner', folder, 'Plan.txt', 'version two');
    const list = () => ask<Versions>('owner', 'GET', `/api/placements/${placementId}/versions`);
    const [two, one] = (await list()).versions;
    expect([two, one]).toMatchObject([
      { number: 2, createdBy: 'owner', size: 11 },
      { number: 1, originalName: 'Plan.txt' },
    ]);
    expect(await text(placementId, `?version=${one!.id}`)).toBe('version one');
    await ask('owner', 'POST', `/api/placements/${placementId}/versions`, { versionId: one!.id });
    expect(await text(placementId)).toBe('version one');
    expect((await list()).versions.map((v) => v.number)).toEqual([3, 2, 1]);
    const other = await add('owner', folder, 'Other.txt', 'other');
    await refused(
      await call('owner', 'GET', `/api/placements/${other.placementId}/content?version=${one!.id}`),
      404,
      'not-found',
    );
    await refused(
      await call('student in', 'GET', `/api/placements/${placementId}/content?version=${one!.id}`),
      404,
      'not-found',
    );
  });
});

describe('one upload, placed eight times at once', () => {
  it('lies in the folder once, and every reply says so', async () => {
    const folder = await make('Eight');
    for (let round = 0; round < 5; round += 1) {
      const content = `placed eight times ${round}`;
      const id = await send('owner', folder, `Once ${round}.txt`, content, content.length);
      const replies = await Promise.all(
        Array.from({ length: 8 }, () => placed('owner', folder, id)),
      );
      expect(replies.map((r) => r.status)).toEqual(Array(8).fill(200));
      const bodies = await Promise.all(replies.map((r) => r.json()));
      for (const body of bodies) expect(body).toEqual(bodies[0]);
      expect(await text((bodies[0] as { placementId: string }).placementId)).toBe(content);
    }
  });
});

describe('files that are added together', () => {
  it('follow each other by name, however they arrive, after what was there', async () => {
    const folder = await make('In order');
    await add('owner', folder, 'Was here.txt', 'was here');
    const place = async (name: string, batch: string) => {
      const uploadId = await send('owner', folder, name, name, name.length);
      return ask('owner', 'POST', `/api/folders/${folder}/files`, { uploadId, batch });
    };
    const [first, second] = [randomUUID(), randomUUID()];
    for (const name of ['Sheet 10.txt', 'Sheet 2.txt', 'Answers.txt', 'Sheet 9.txt'])
      await place(name, first);
    for (const name of ['B.txt', 'A.txt']) await place(name, second);
    const { items } = await ask<Contents>('owner', 'GET', `/api/folders/${folder}/contents`);
    expect(items.map(({ title }) => title)).toEqual([
      'Was here',
      ...['Answers', 'Sheet 2', 'Sheet 9', 'Sheet 10'],
      ...['A', 'B'],
    ]);
  });
});
