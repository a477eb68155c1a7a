import type {
  AudienceRow,
  Contents,
  FolderAudience,
  HandedOut,
  MyClasses,
  NewThings,
} from '@sammlung/contract';
import { eq } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import { folders, placements } from '../src/db/schema/index.ts';
import { startServer, type Scene, type Who } from './harness.ts';
import { uploader } from './upload.ts';

const server = await startServer();
const { ask, call, clock, db, world } = server;
const { add } = uploader(server);
afterAll(() => server.stop());

const get = async <T>(who: Who, path: string) => (await (await call(who, 'GET', path)).json()) as T;
const panel = (folderId: string) =>
  get<FolderAudience>('owner', `/api/folders/${folderId}/audience`);
const rowOf = (audience: FolderAudience, label: string) =>
  audience.rows.find((r) => r.label === label || r.kind === label)!;
const hand = (folderId: string, row: AudienceRow) =>
  ask<HandedOut>('owner', 'POST', '/api/grants', {
    things: [{ kind: 'folder', id: folderId }],
    audiences: [{ kind: row.kind, id: row.id }],
  });
const sees = async (who: Who, { placement }: Scene) =>
  (await call(who, 'GET', `/api/placements/${placement}`)).status === 200;

describe('the audience panel', () => {
  it('tells whence an audience comes, and what handing out would do, before it is done', async () => {
    const scene = await server.scene();
    const inner = await panel(scene.inner);
    expect(inner).toMatchObject({ students: 1, classes: 1 });
    expect(rowOf(inner, 'A')).toMatchObject({
      state: 'out',
      here: null,
      above: [{ title: 'Handed out' }],
    });
    expect(rowOf(inner, 'public').above).toEqual([{ id: scene.handed, title: 'Handed out' }]);
    const b = rowOf(inner, 'B');
    expect(b).toMatchObject({ state: 'none', people: 1, here: null });
    expect(b.change).toEqual({
      gains: { people: 1, items: 1, folders: 1 },
      loses: null,
      gainsLater: null,
      losesLater: null,
      asks: false,
    });
    expect(await sees('student out', scene)).toBe(false);
    expect(await hand(scene.inner, b)).toMatchObject({ made: [expect.any(String)], already: 0 });
    expect(await sees('student out', scene)).toBe(true);
    expect(await hand(scene.inner, b)).toEqual({ made: [], changed: [], already: 1, noted: 0 });
  });

  it('brings back what has ended when it is handed out again, and gives others the new terms', async () => {
    const scene = await server.scene();
    const things = [
      { kind: 'folder', id: scene.inner },
      { kind: 'placement', id: scene.placement },
    ];
    const audiences = [
      { kind: 'class', id: world.classB },
      { kind: 'person', id: world.ids['student out'] },
    ];
    const give = (which: typeof audiences, terms: object) =>
      ask<HandedOut>('owner', 'POST', '/api/grants', { things, audiences: which, ...terms });
    const past = { from: '2020-01-01T00:00:00.000Z', until: '2020-02-01T00:00:00.000Z' };
    const first = await give(audiences.slice(0, 1), past);
    expect(first.made).toHaveLength(2);
    expect(await sees('student out', scene)).toBe(false);
    const again = await give(audiences, {});
    expect(again).toMatchObject({ made: { length: 2 }, changed: { length: 2 }, already: 0 });
    expect(again.changed.map(({ id }) => id).sort()).toEqual([...first.made].sort());
    expect(again.changed[0]!.before).toEqual({ level: 'view', ...past });
    expect(await sees('student out', scene)).toBe(true);
    expect(await give(audiences, {})).toMatchObject({ made: [], changed: [], already: 4 });
    await ask('owner', 'POST', '/api/grants/take-back', { grants: again.made });
    for (const { id, before } of again.changed)
      await ask('owner', 'PUT', `/api/grants/${id}`, before);
    expect(await sees('student out', scene)).toBe(false);
  });

  it('asks before something is taken from a class or opened to all, and undo restores it', async () => {
    const scene = await server.scene();
    const a = rowOf(await panel(scene.handed), 'A');
    expect(a.change).toMatchObject({ asks: true, loses: { people: 1, items: 1, folders: 2 } });
    expect(rowOf(await panel(scene.secret), 'public').change).toMatchObject({
      asks: true,
      gains: { people: null, items: 1, folders: 3 },
    });
    await ask('owner', 'POST', '/api/grants/take-back', { grants: [a.here!.id] });
    expect(await sees('student in', scene)).toBe(false);
    await ask('owner', 'POST', '/api/grants/restore', { grants: [a.here!.id] });
    expect(await sees('student in', scene)).toBe(true);
  });

  it('warns of an item that is public through another folder', async () => {
    const [open, closed] = [await server.scene(), await server.scene()];
    await call('owner', 'DELETE', `/api/doors/${closed.door}`);
    const { made } = (await (
      await call('owner', 'POST', '/api/placements', {
        placements: [open.placement],
        to: [closed.handed],
      })
    ).json()) as { made: string[] };
    expect((await panel(closed.handed)).publicElsewhere).toEqual([
      {
        placementId: made[0],
        title: 'Böden 土壌',
        folder: { id: open.handed, title: 'Handed out' },
      },
    ]);
  });

  it('says of a held folder what the rule says: seen by a colleague by name, and by the class that has it', async () => {
    const scene = await server.scene();
    await ask('owner', 'POST', '/api/grants', {
      things: [{ kind: 'folder', id: scene.inner }],
      audiences: [
        { kind: 'person', id: world.ids.colleague },
        { kind: 'person', id: world.ids['student out'] },
        { kind: 'course', id: world.courseId },
      ],
    });
    const out = { held: false, from: null, until: null };
    await ask('owner', 'POST', '/api/releases', {
      things: [{ kind: 'folder', id: scene.inner }],
      rules: [
        { classId: null, release: { ...out, held: true } },
        { classId: world.classB, release: out },
      ],
    });
    const panelNow = await panel(scene.inner);
    const state = (label: string) => panelNow.rows.find((r) => r.label === label)!.state;
    expect(['colleague', 'student out', 'Course'].map(state)).toEqual(['out', 'held', 'out']);
    const { folders: rows } = await get<Contents>('owner', `/api/folders/${scene.handed}/contents`);
    const tabs = rows.find((row) => row.id === scene.inner)!.tabs!;
    expect(tabs.find((tab) => tab.kind === 'course')).toMatchObject({ state: 'out' });
    for (const [who, status] of [
      ['colleague', 200],
      ['student out', 200],
      ['student in', 404],
    ] as const)
      expect((await call(who, 'GET', `/api/folders/${scene.inner}`)).status, who).toBe(status);
  });

  it('refuses audiences of another school and unknown ones', async () => {
    const { inner } = await server.scene();
    for (const audience of [
      { kind: 'staff', id: world.otherSchoolId },
      { kind: 'person', id: world.ids['other school'] },
      { kind: 'class', id: world.ids.owner },
    ])
      await server.refused(
        await call('owner', 'POST', '/api/grants', {
          things: [{ kind: 'folder', id: inner }],
          audiences: [audience],
        }),
        422,
        'audience-unknown',
      );
  });
});

describe('what students get', () => {
  it('is there at the minute it goes out and not before', async () => {
    const scene = await server.scene();
    const later = new Date(clock.now + 60_000);
    await db.update(placements).set({ fromAt: later }).where(eq(placements.id, scene.placement));
    expect(await sees('student in', scene)).toBe(false);
    clock.now += 60_000;
    expect(await sees('student in', scene)).toBe(true);
    const { things } = await get<NewThings>('student in', '/api/new');
    const thing = things.find((x) => x.placementId === scene.placement);
    expect(thing).toMatchObject({
      cameAt: later.toISOString(),
      opened: false,
      classes: [{ code: 'A' }],
    });
    await call('student in', 'PUT', `/api/placements/${scene.placement}/opened`);
    const after = await get<NewThings>('student in', '/api/new');
    expect(after.things.find((x) => x.placementId === scene.placement)?.opened).toBe(true);
    expect(after.unopened).toBe(after.things.filter((x) => !x.opened).length);
  });

  it('came when it went out to their class, whatever is said for the others', async () => {
    const scene = await server.scene();
    const later = new Date(clock.now + 86_400_000);
    await db.update(placements).set({ fromAt: later }).where(eq(placements.id, scene.placement));
    await ask('owner', 'POST', '/api/releases', {
      things: [{ kind: 'placement', id: scene.placement }],
      rules: [{ classId: world.classA, release: { held: false, from: null, until: null } }],
    });
    const { things } = await get<NewThings>('student in', '/api/new');
    const came = things.find((x) => x.placementId === scene.placement)!.cameAt;
    expect(Date.parse(came)).toBeLessThan(later.getTime());
  });

  it('stands by folder and from A to Z, numbers as such, where it came at the same moment', async () => {
    clock.now += 60_000;
    const made: string[] = [];
    for (const [folder, titles] of [
      ['Week 10', ['Sheet 1']],
      ['Week 9', ['Sheet 10', 'Sheet 9']],
    ] as const) {
      const { id } = await ask<{ id: string }>('owner', 'POST', '/api/folders', {
        parentId: null,
        title: folder,
      });
      made.push(id);
      for (const title of titles)
        await ask('owner', 'POST', '/api/links', { folderId: id, title, url: 'https://a.example' });
    }
    await ask('owner', 'POST', '/api/grants', {
      things: made.map((id) => ({ kind: 'folder', id })),
      audiences: [{ kind: 'class', id: world.classA }],
    });
    const { things } = await get<NewThings>('student in', '/api/new');
    expect(things.slice(0, 3).map((x) => `${x.folder?.title}, ${x.title}`)).toEqual([
      'Week 9, Sheet 9',
      'Week 9, Sheet 10',
      'Week 10, Sheet 1',
    ]);
  });

  it('stands under the class with the folders in it, and not while a folder above is held', async () => {
    const scene = await server.scene();
    const mine = async () => {
      const { classes } = await get<MyClasses>('student in', '/api/classes');
      return classes.find((c) => c.code === 'A')?.folders.find((f) => f.id === scene.handed);
    };
    expect(await mine()).toMatchObject({
      items: 1,
      unopened: 1,
      folders: [{ title: 'Inner', items: 1 }],
    });
    await db.update(folders).set({ held: true }).where(eq(folders.id, scene.secret));
    expect(await mine()).toBeUndefined();
    expect(await get<MyClasses>('student out', '/api/classes')).toMatchObject({
      classes: [{ code: 'B' }],
      forMe: [],
    });
  });

  it('comes page by page in the order of the folder', async () => {
    const { inner } = await server.scene();
    for (const n of [10, 9, 2, 1]) await add('owner', inner, `Sheet ${n}.txt`, `sheet ${n}`);
    for (const [order, titles] of [
      ['a_to_z', ['Böden 土壌', 'Sheet 1', 'Sheet 2', 'Sheet 9', 'Sheet 10']],
      ['hand', ['Böden 土壌', 'Sheet 10', 'Sheet 9', 'Sheet 2', 'Sheet 1']],
    ] as const) {
      await db.update(folders).set({ order }).where(eq(folders.id, inner));
      for (const who of ['owner', 'student in'] as const) {
        const found: string[] = [];
        for (let after: string | null = ''; after !== null;) {
          const page: Contents = await get<Contents>(
            who,
            `/api/folders/${inner}/contents?limit=2${after && `&after=${after}`}`,
          );
          found.push(...page.items.map((i) => i.title));
          after = page.next;
        }
        expect(found, `${order} for ${who}`).toEqual(titles);
      }
    }
    await db.update(folders).set({ order: 'newest' }).where(eq(folders.id, inner));
    const { items } = await get<Contents>('owner', `/api/folders/${inner}/contents?limit=2`);
    expect(items).toHaveLength(2);
  });
});

describe('doors', () => {
  it('lead to the wall once closed, and to the same folder again after Undo', async () => {
    const scene = await server.scene();
    const at = `/api/open/${scene.token}`;
    expect(await get('visitor without', at)).toMatchObject({
      state: 'open',
      folderId: scene.handed,
    });
    await call('owner', 'DELETE', `/api/doors/${scene.door}`);
    expect(await get('visitor without', at)).toEqual({
      state: 'wall',
      reason: 'closed',
      schoolName: 'First',
      from: null,
      ask: 'visitor',
    });
    for (const path of [
      `folders/${scene.handed}`,
      `folders/${scene.handed}/contents`,
      `placements/${scene.placement}/content`,
    ])
      expect((await call('visitor without', 'GET', `${at}/${path}`)).status).toBe(404);
    await call('owner', 'POST', `/api/doors/${scene.door}/reopen`);
    expect(await get('visitor without', at)).toMatchObject({ state: 'open' });
  });

  it('of the school ask strangers to sign in, let its people in and nobody of another school', async () => {
    const { inner, placement } = await server.scene();
    const made = await call('owner', 'POST', '/api/doors', {
      thing: { kind: 'folder', id: inner },
      kind: 'school',
    });
    const { address } = (await made.json()) as { address: string };
    const at = `/api/open/${address.split('/').at(-1)}`;
    expect(await get('visitor without', at)).toMatchObject({ state: 'wall', reason: 'sign-in' });
    expect(await get('other school', at)).toMatchObject({ state: 'wall', reason: 'other-school' });
    expect(await get('student out', at)).toMatchObject({ state: 'open', folderId: inner });
    expect((await call('student out', 'GET', `${at}/placements/${placement}`)).status).toBe(200);
    expect((await call('other school', 'GET', `${at}/placements/${placement}`)).status).toBe(404);
  });

  it('that never were say so, and a held folder behind one says only that', async () => {
    const scene = await server.scene();
    expect(await get('visitor without', '/api/open/nonsense')).toMatchObject({
      state: 'wall',
      reason: 'unknown',
    });
    await db.update(folders).set({ held: true }).where(eq(folders.id, scene.handed));
    expect(await get('visitor without', `/api/open/${scene.token}`)).toMatchObject({
      state: 'wall',
      reason: 'held',
    });
  });
});
