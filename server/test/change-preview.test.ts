import type {
  Change,
  ClassList,
  Consequences,
  HandedOut,
  ListPreview,
  ImportedList,
} from '@sammlung/contract';
import { afterAll, describe, expect, it } from 'vitest';
import { startServer, type Scene, type Who } from './harness.ts';
import { uploader } from './upload.ts';

const server = await startServer();
const { world, ask, call, refused } = server;
const { add } = uploader(server);
afterAll(() => server.stop());

const WATCHED: Who[] = ['student in', 'student out', 'colleague'];
const folder = (id: string) => ({ kind: 'folder' as const, id });
const placement = (id: string) => ({ kind: 'placement' as const, id });
const toB = { kind: 'class' as const, id: world.classB };

/** What each of the watched people, and a visitor with the door, sees of a scene: asked of the real routes. */
async function sight(scene: Scene, things: Record<'folder' | 'placement', string[]>) {
  const seen: Record<string, string[]> = {};
  const look = async (name: string, who: Who, base: string) => {
    const found: string[] = [];
    for (const [kind, path] of [
      ['folder', 'folders'],
      ['placement', 'placements'],
    ] as const)
      for (const id of things[kind])
        if ((await call(who, 'GET', `${base}/${path}/${id}`)).status === 200) found.push(id);
    seen[name] = found;
  };
  for (const who of WATCHED) await look(who, who, '/api');
  await look('door', 'visitor without', `/api/open/${scene.token}`);
  return seen;
}

/** How many folders and items the people of an audience gain or lose by a preview. */
function changeFor(consequences: Consequences, label: string) {
  const line = consequences.audiences.find((a) => a.label === label || a.kind === label);
  const count = (effect: { items: number; folders: number } | null | undefined) =>
    (effect?.items ?? 0) + (effect?.folders ?? 0);
  return { gains: count(line?.change.gains), loses: count(line?.change.loses) };
}

/** Previews a change, makes it, and holds the one against the other for the people of the scene. */
async function compare(
  scene: Scene,
  things: Record<'folder' | 'placement', string[]>,
  preview: Consequences,
  make: () => Promise<unknown>,
) {
  const before = await sight(scene, things);
  await make();
  const after = await sight(scene, things);
  const difference = (name: string) => ({
    gains: after[name]!.filter((id) => !before[name]!.includes(id)).length,
    loses: before[name]!.filter((id) => !after[name]!.includes(id)).length,
  });
  expect({
    A: changeFor(preview, 'A'),
    B: changeFor(preview, 'B'),
    staff: changeFor(preview, 'staff'),
    public: changeFor(preview, 'public'),
  }).toEqual({
    A: difference('student in'),
    B: difference('student out'),
    staff: difference('colleague'),
    public: difference('door'),
  });
  return { before, after };
}

/** A scene with one more file in the inner folder and an own folder beside it, and what there is to see. */
async function scenery() {
  const scene = await server.scene();
  const { placementId } = await add(
    'owner',
    scene.inner,
    `Second of ${scene.inner.slice(0, 6)}.txt`,
    scene.inner,
  );
  const { id: own } = await ask<{ id: string }>('owner', 'POST', '/api/folders', {
    parentId: scene.secret,
    title: 'Own',
  });
  const things = {
    folder: [scene.secret, scene.handed, scene.inner, own],
    placement: [scene.placement, placementId!],
  };
  return { scene, things, own, second: placementId! };
}
const previewChange = (change: Partial<Change> & { do: Change['do'] }) =>
  ask<Consequences>('owner', 'POST', '/api/consequences', change);

describe('what a preview says is what then happens', () => {
  it('for handing out to a class and to staff, and for taking back', async () => {
    const { scene, things } = await scenery();
    const audiences = [toB, { kind: 'staff' as const, id: world.schoolId }];
    const body = { things: [folder(scene.secret)], audiences };
    let made: string[] = [];
    const given = await compare(
      scene,
      things,
      await previewChange({ do: 'hand-out', ...body }),
      async () => ({ made } = await ask<HandedOut>('owner', 'POST', '/api/grants', body)),
    );
    expect(given.after['student out']).toHaveLength(6);
    await compare(scene, things, await previewChange({ do: 'take-back', handings: made }), () =>
      ask('owner', 'POST', '/api/grants/take-back', { grants: made }),
    );
  });

  it('for other terms of what an audience has, in whatever way they are given', async () => {
    const { scene, things } = await scenery();
    const body = { things: [folder(scene.inner)], audiences: [toB] };
    const later = { from: '2099-01-01T00:00:00.000Z', until: null };
    const [grant] = (await ask<HandedOut>('owner', 'POST', '/api/grants', body)).made;
    const { after } = await compare(
      scene,
      things,
      await previewChange({ do: 'hand-out', ...body, ...later }),
      () => ask('owner', 'PUT', `/api/grants/${grant}`, { level: 'view', ...later }),
    );
    expect(after['student out']).toEqual([]);
    const again = await compare(
      scene,
      things,
      await previewChange({ do: 'hand-out', ...body }),
      () => ask('owner', 'POST', '/api/grants', body),
    );
    expect(again.after['student out']).not.toEqual([]);
  });

  it('for an item alone', async () => {
    const { scene, things, second } = await scenery();
    const body = { things: [placement(second)], audiences: [toB] };
    const { after } = await compare(
      scene,
      things,
      await previewChange({ do: 'hand-out', ...body }),
      () => ask('owner', 'POST', '/api/grants', body),
    );
    expect(after['student out']).toEqual([second]);
  });

  it('for holding a folder back, and for letting it out for one class', async () => {
    const { scene, things } = await scenery();
    await ask('owner', 'POST', '/api/grants', { things: [folder(scene.handed)], audiences: [toB] });
    const rule = (classId: string | null, held: boolean) => ({
      classId,
      release: { held, from: null, until: null },
    });
    // The last step holds it back for all but one class, which is told nothing: it loses nothing.
    for (const rules of [
      [rule(null, true)],
      [rule(world.classB, false)],
      [rule(null, false), { classId: world.classB, release: null }],
      [rule(null, true), rule(world.classB, false)],
    ]) {
      const change = { things: [folder(scene.inner)], rules };
      await compare(scene, things, await previewChange({ do: 'release', ...change }), () =>
        ask('owner', 'POST', '/api/releases', change),
      );
    }
  });

  it('for moving out of sight and back in, and for removing', async () => {
    const { scene, things, own, second } = await scenery();
    for (const to of [own, scene.handed]) {
      const moved = { things: [folder(scene.inner)], to };
      await compare(scene, things, await previewChange({ do: 'move', ...moved }), () =>
        ask('owner', 'POST', '/api/moves', { ...moved, before: null }),
      );
    }
    const removed = { things: [placement(second)] };
    const { before, after } = await compare(
      scene,
      things,
      await previewChange({ do: 'remove', ...removed }),
      () => ask('owner', 'POST', '/api/bin', removed),
    );
    expect(before.door!.length - after.door!.length).toBe(1);
  });

  it('for closing a door', async () => {
    const { scene, things } = await scenery();
    const { after } = await compare(
      scene,
      things,
      await previewChange({ do: 'take-back', handings: [scene.door] }),
      () => ask('owner', 'DELETE', `/api/doors/${scene.door}`),
    );
    expect(after.door).toEqual([]);
  });

  it('for a class list: who joins sees what the preview said', async () => {
    const { scene, things } = await scenery();
    await ask('owner', 'POST', '/api/grants', {
      things: [folder(scene.inner)],
      audiences: [{ kind: 'class', id: scene.classX }],
    });
    const reply = await call(
      'owner',
      'POST',
      `/api/classes/${scene.classX}/list/preview`,
      'student out;student.out@example.org',
      { 'content-type': 'application/octet-stream' },
    );
    const preview = (await reply.json()) as ListPreview;
    const line = preview.consequences.audiences.find((a) => a.label.startsWith('X'));
    const before = await sight(scene, things);
    const row = preview.rows[0]!;
    await ask<ImportedList>('owner', 'POST', `/api/classes/${scene.classX}/list`, {
      rows: [
        {
          name: row.name,
          email: row.email,
          signInName: null,
          externalId: null,
          from: null,
          until: null,
          personId: row.person!.id,
        },
      ],
    });
    const after = await sight(scene, things);
    expect(line?.change.gains).toEqual({ people: 1, items: 2, folders: 1 });
    expect(after['student out']!.length - before['student out']!.length).toBe(3);
    expect(after['student in']).toEqual(before['student in']);

    const { members } = await ask<ClassList>('owner', 'GET', `/api/classes/${scene.classX}`);
    const leaving = members.filter((m) => m.name === 'student out').map((m) => m.membershipId);
    const path = `/api/classes/${scene.classX}`;
    const previewMembers = async (change: object) => {
      const consequences = await ask<Consequences>('owner', 'POST', `${path}/members/preview`, {
        memberships: leaving,
        ...change,
      });
      return Object.fromEntries(consequences.audiences.map((a) => [a.label[0], a.change]));
    };
    const all = { people: 1, items: 2, folders: 1 };
    expect((await previewMembers({})).X?.loses).toEqual(all);
    expect((await previewMembers({ to: scene.classY })).X?.loses).toEqual(all);
    const later = await previewMembers({ days: { from: '2099-01-01', until: null } });
    expect(later.X?.loses).toEqual(all);
    expect(await previewMembers({ days: { from: '2020-01-01', until: null } })).toEqual({});
    await refused(
      await call('owner', 'POST', `${path}/members/preview`, {
        memberships: leaving,
        to: world.classA,
      }),
      422,
      'audience-unknown',
    );
    await ask('owner', 'POST', `${path}/list`, { rows: [], leaving });
    expect(await sight(scene, things)).toEqual(before);
  });
});
