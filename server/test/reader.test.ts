import type { Reader } from '@sammlung/contract';
import { afterAll, describe, expect, it } from 'vitest';
import { startServer, type Who } from './harness.ts';

const server = await startServer();
const { ask, refused, call } = server;
afterAll(() => server.stop());

const folder = async (parentId: string | null, title: string) =>
  (await ask<{ id: string }>('owner', 'POST', '/api/folders', { parentId, title })).id;
const page = async (folderId: string, title: string) => {
  const { id } = await ask<{ id: string }>('owner', 'POST', '/api/pages', { folderId, title });
  await ask('owner', 'POST', `/api/placements/${id}/shown`, {
    ...{ html: `<p>${title}</p>`, base: 0, after: null },
  });
  return id;
};
const read = (id: string, who: Who = 'student in') =>
  ask<Reader>(who, 'GET', `/api/folders/${id}/reader`);
const outline = ({ parts }: Reader) =>
  parts.map(({ title, depth, items }) => [depth, title, ...items.map((item) => item.title)]);

describe('a folder that is read as a whole', () => {
  it('has its parts in the order of the folders, and only what the reader sees', async () => {
    const scene = await server.scene();
    const top = await folder(scene.handed, 'Course reader');
    const log = await folder(top, 'Demonstrations');
    const held = await folder(top, 'Answers');
    const about = await folder(log, 'Below');
    await page(top, 'Foreword');
    await page(log, 'Two');
    await page(log, 'One');
    await page(held, 'Key');
    await page(about, 'Deep');
    await ask('owner', 'POST', '/api/pages', { folderId: log, title: 'Not shown' });
    await ask('owner', 'PATCH', `/api/folders/${log}`, { order: 'a_to_z' });
    await ask('owner', 'POST', '/api/releases', {
      things: [{ kind: 'folder', id: held }],
      rules: [{ classId: null, release: { held: true, from: null, until: null } }],
    });
    const seen = await read(top);
    expect(outline(seen)).toEqual([
      [0, 'Course reader', 'Foreword'],
      [1, 'Demonstrations', 'One', 'Two'],
      [2, 'Below', 'Deep'],
    ]);
    expect(seen.cut).toBe(false);
    expect(outline(await read(top, 'owner')).map(([, title]) => title)).toContain('Answers');
    await refused(await call('student out', 'GET', `/api/folders/${top}/reader`), 404, 'not-found');
  });

  it('says where there is more than it lists', async () => {
    const scene = await server.scene();
    const top = await folder(scene.handed, 'Many');
    for (let n = 0; n < 80; n += 1) await folder(top, `Part ${n}`);
    const seen = await read(top);
    expect(seen.cut).toBe(true);
    expect(seen.parts).toHaveLength(80);
  });
});
