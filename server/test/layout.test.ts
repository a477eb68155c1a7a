import type { Contents, LayoutStart, MadeLayout, Tree } from '@sammlung/contract';
import { afterAll, describe, expect, it } from 'vitest';
import * as s from '../src/db/schema/index.ts';
import { startServer } from './harness.ts';

const server = await startServer();
const { ask, call, refused, world } = server;
afterAll(() => server.stop());

const WANTED = {
  pattern: '{year2} {class} {kind}',
  purpose: 'Handouts',
  outline: '{unit:2} Soil\n  Worksheets\n  Answer keys\n{unit:2} Water',
  parentId: null,
  handOut: true,
};
const lay = (more: object = {}) =>
  ask<MadeLayout>('owner', 'POST', '/api/layout', { ...WANTED, classIds: [world.classA], ...more });

describe('Lay out', () => {
  it('makes the same structure for each class, hands it out, and keeps pattern and outline', async () => {
    const [b] = await server.db
      .insert(s.classes)
      .values({
        schoolId: world.schoolId,
        yearId: world.yearId,
        courseId: world.courseId,
        code: 'C',
        colour: 'plum',
      })
      .returning();
    const made = await lay({ classIds: [world.classA, b!.id] });
    expect(made).toMatchObject({ count: 10, made: { length: 2 }, grants: { length: 2 } });
    expect(made.folders.map((f) => f.title)).toEqual(['26-27 A Handouts', '26-27 C Handouts']);
    const { folders } = await ask<Contents>(
      'student in',
      'GET',
      `/api/folders/${made.folders[0]!.folderId}/contents`,
    );
    expect(folders.map((f) => f.title)).toEqual(['01 Soil', '02 Water']);
    await refused(
      await call('student in', 'GET', `/api/folders/${made.folders[1]!.folderId}`),
      404,
      'not-found',
    );
    const start = await ask<LayoutStart>('owner', 'GET', '/api/layout');
    expect(start).toMatchObject({ settings: { pattern: WANTED.pattern, outline: WANTED.outline } });
    expect(start.classes.map((c) => [c.code, c.year, c.students])).toEqual([
      ['A', 2026, 1],
      ['B', 2026, 1],
      ['C', 2026, 0],
    ]);
  });

  it('run again adds only what is missing, and takes nothing back', async () => {
    const before = await ask<Tree>('owner', 'GET', '/api/library/tree');
    expect(await lay()).toMatchObject({ count: 0, made: [], grants: [] });
    const after = await lay({ outline: `${WANTED.outline}\n  Rubrics\nExtra` });
    expect(after).toMatchObject({ count: 2, made: { length: 2 }, grants: [] });
    const tree = await ask<Tree>('owner', 'GET', '/api/library/tree');
    expect(tree.folders.length).toBe(before.folders.length + 2);
  });

  it('refuses names that cannot be used, naming each, and makes nothing', async () => {
    const before = await ask<Tree>('owner', 'GET', '/api/library/tree');
    const reply = await call('owner', 'POST', '/api/layout', {
      ...WANTED,
      classIds: [world.classA],
      outline: 'a/b\nFine\nfine\n{klass}',
    });
    expect((await refused(reply, 422, 'layout-faults')).faults).toEqual([
      { field: 'a/b', fault: 'forbidden-sign' },
      { field: 'fine', fault: 'taken' },
      { field: '{klass}', fault: 'pattern' },
    ]);
    expect(await ask<Tree>('owner', 'GET', '/api/library/tree')).toEqual(before);
  });
});
