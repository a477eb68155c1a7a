import type { FolderAudience, MyClasses, NewThings, Why } from '@sammlung/contract';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import * as s from '../src/db/schema/index.ts';
import { startServer, type Scene, type Who } from './harness.ts';
import { uploader } from './upload.ts';

/** What lies above a folder that was handed out, or beside it, is not named to whoever got the folder. */

const server = await startServer();
const { ask, call, db, world } = server;
const { add } = uploader(server);
afterAll(() => server.stop());

const folder = (id: string) => ({ kind: 'folder' as const, id });
const handOut = (id: string, audience: object, level = 'view') =>
  ask('owner', 'POST', '/api/grants', { things: [folder(id)], audiences: [audience], level });
const text = async (who: Who, method: string, path: string, body?: unknown) => {
  const reply = await call(who, method, path, body);
  expect([path, reply.status]).toEqual([path, 200]);
  return reply.text();
};

describe.each(['add', 'manage'] as const)('to a colleague who may %s', (level) => {
  let scene: Scene;
  /** A sheet of the colleague’s in the folder, and one of the owner’s that is public through a folder of theirs. */
  let own: string;
  let shared: string;
  beforeAll(async () => {
    scene = await server.scene();
    const make = (title: string, parentId: string | null) =>
      ask<{ id: string }>('owner', 'POST', '/api/folders', { parentId, title });
    const elsewhere = await make(`Secret elsewhere ${level}`, null);
    await handOut(scene.handed, { kind: 'person', id: world.ids.colleague }, level);
    await handOut(scene.secret, { kind: 'class', id: world.classB });
    await handOut(scene.secret, { kind: 'person', id: world.ids['student out'] });
    own = (await add('colleague', scene.handed, 'Own.txt', `own ${level}`)).placementId!;
    shared = (await add('owner', scene.handed, 'Sheet.txt', `sheet ${level}`)).placementId!;
    await ask('owner', 'POST', '/api/placements', { placements: [shared], to: [elsewhere.id] });
    await ask('owner', 'POST', '/api/doors', {
      thing: folder(elsewhere.id),
      kind: 'public',
      until: null,
    });
    await ask('owner', 'POST', '/api/releases', {
      things: [folder(scene.secret)],
      rules: [{ classId: null, release: { held: true, from: null, until: null } }],
    });
  });

  it('nothing above or elsewhere is named by any page of theirs', async () => {
    const as = [`class.${world.classB}`, `person.${world.ids['student out']}`, 'visitor'];
    const shown = [
      await text('colleague', 'GET', `/api/folders/${scene.handed}`),
      await text('colleague', 'GET', `/api/folders/${scene.handed}/contents`),
      await text('colleague', 'GET', `/api/folders/${scene.inner}`),
      await text('colleague', 'GET', `/api/placements/${own}`),
      await text('colleague', 'GET', `/api/placements/${shared}`),
      await text('colleague', 'GET', '/api/board'),
      await text('colleague', 'GET', '/api/today'),
      await text('colleague', 'GET', '/api/staff-room'),
      await text('colleague', 'GET', '/api/find?words=sh'),
      ...(await Promise.all(
        as.map((who) => text('colleague', 'GET', `/api/why?kind=placement&id=${own}&as=${who}`)),
      )),
      ...(level === 'manage'
        ? [
            await text('colleague', 'GET', `/api/folders/${scene.handed}/audience`),
            await text('colleague', 'GET', `/api/folders/${scene.inner}/audience`),
            ...(await Promise.all(
              as.map((who) =>
                text('colleague', 'GET', `/api/why?kind=folder&id=${scene.inner}&as=${who}`),
              ),
            )),
          ]
        : []),
    ];
    await ask('colleague', 'POST', '/api/bin', { things: [{ kind: 'placement', id: own }] });
    shown.push(await text('colleague', 'GET', '/api/bin'));
    await ask('colleague', 'POST', '/api/bin/restore', {
      things: [{ kind: 'placement', id: own }],
    });
    for (const one of shown) {
      expect(one).not.toContain('Secret');
      expect(one).not.toContain(scene.secret);
    }
  });

  it('the way is told all the same: that it comes from above, and is held there', async () => {
    const why = await ask<Why>(
      'colleague',
      'GET',
      `/api/why?kind=placement&id=${own}&as=class.${world.classB}`,
    );
    expect(why).toMatchObject({
      sees: false,
      reasons: [
        {
          audience: { label: 'B' },
          through: { id: null, title: null },
          obstacle: { kind: 'folder', state: 'held', folder: { id: null, title: null } },
        },
      ],
    });
    if (level === 'add') return;
    const panel = await ask<FolderAudience>(
      'colleague',
      'GET',
      `/api/folders/${scene.inner}/audience`,
    );
    const row = (label: string) => panel.rows.find((r) => r.label === label);
    expect(panel.closedBy).toEqual({ id: null, title: null });
    expect(row('B')!.above).toEqual([{ id: null, title: null }]);
    expect(row('A')!.above).toEqual([{ id: scene.handed, title: 'Handed out' }]);
    expect(
      (await ask<FolderAudience>('colleague', 'GET', `/api/folders/${scene.handed}/audience`))
        .publicElsewhere,
    ).toMatchObject([{ title: 'Sheet', folder: { id: null, title: null } }]);
  });
});

describe('seeing as a person', () => {
  it('names none of their classes but those one teaches or has handed to', async () => {
    const scene = await server.scene();
    await db
      .insert(s.memberships)
      .values([
        { schoolId: world.schoolId, classId: scene.classX, personId: world.ids['student in'] },
      ]);
    const as = `person.${world.ids['student in']}`;
    const codes = async (who: Who) => {
      const { classes } = await ask<MyClasses>(who, 'GET', `/api/as/${as}/now/classes`);
      const came = await ask<NewThings>(who, 'GET', `/api/as/${as}/now/new`);
      expect(came.classes.map((c) => c.code)).toEqual(classes.map((c) => c.code));
      expect(came).toMatchObject({ digest: null, joinRequests: 0, boxes: 0 });
      return classes.map((c) => c.code);
    };
    expect(await codes('owner')).toHaveLength(2);
    expect(await codes('colleague')).toEqual([]);
    const own = await ask<{ id: string }>('colleague', 'POST', '/api/folders', {
      parentId: null,
      title: 'For A',
    });
    await ask('colleague', 'POST', '/api/grants', {
      things: [folder(own.id)],
      audiences: [{ kind: 'class', id: world.classA }],
    });
    expect(await codes('colleague')).toEqual(['A']);
  });

  it('why makes no name of the id of a person', async () => {
    const scene = await server.scene();
    await handOut(scene.inner, { kind: 'person', id: world.ids['student out'] });
    const { reasons } = await ask<Why>(
      'owner',
      'GET',
      `/api/why?kind=folder&id=${scene.inner}&as=person.${world.ids['student out']}`,
    );
    expect(reasons.map((r) => r.audience)).toEqual([{ kind: 'person', label: '', colour: null }]);
  });
});
