import type {
  Board,
  Consequences,
  HandedOut,
  Released,
  StaffRoom,
  Timing,
  Why,
} from '@sammlung/contract';
import { eq } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import { courseTeachers, grants, items } from '../src/db/schema/index.ts';
import { startServer, type Scene, type Who } from './harness.ts';

const server = await startServer();
const { world, clock, db, ask, call, refused } = server;
afterAll(() => server.stop());

const HOUR = 3_600_000;
const iso = (t: number) => new Date(t).toISOString();
const folder = (id: string) => ({ kind: 'folder' as const, id });
const placement = (id: string) => ({ kind: 'placement' as const, id });
const toB = { kind: 'class', id: world.classB };
const handOut = (body: object, who: Who = 'owner') =>
  ask<HandedOut>(who, 'POST', '/api/grants', body);
const sees = async (who: Who, { placement: id }: Scene) =>
  (await call(who, 'GET', `/api/placements/${id}`)).status === 200;

describe('handing out', () => {
  it('reaches several audiences at once, from a moment and until another, by the clock', async () => {
    const scene = await server.scene();
    const [from, until] = [clock.now + HOUR, clock.now + 2 * HOUR];
    const audiences = [toB, { kind: 'person', id: world.ids.colleague }];
    const body = { things: [folder(scene.inner)], audiences, from: iso(from), until: iso(until) };
    const preview = await ask<Consequences>('owner', 'POST', '/api/consequences', {
      do: 'hand-out',
      ...body,
    });
    expect(preview.audiences.map((a) => [a.kind, a.label, a.change.gains])).toEqual([
      ['class', 'B', null],
      ['person', 'colleague', null],
    ]);
    expect(preview.audiences[0]!.change.gainsLater).toMatchObject({ people: 1, from: iso(from) });
    const { made } = await handOut(body);
    expect(made).toHaveLength(2);
    for (const [t, seen] of [
      [from - 1, false],
      [from, true],
      [until - 1, true],
      [until, false],
    ] as const) {
      clock.now = t;
      expect(await sees('student out', scene), iso(t)).toBe(seen);
      expect(await sees('colleague', scene), iso(t)).toBe(seen);
    }
    await refused(
      await call('owner', 'POST', '/api/grants', { ...body, from: iso(until), until: iso(from) }),
      422,
      'ends-before-start',
    );
  });

  it('changes its dates and level, tells how they were, and all is taken back in one step', async () => {
    const scene = await server.scene();
    const staff = { kind: 'staff', id: world.schoolId };
    const { made } = await handOut({ things: [folder(scene.handed)], audiences: [staff, toB] });
    const grantOf = async (kind: 'staff' | 'class') =>
      (await db.select().from(grants).where(eq(grants.folderId, scene.handed))).find(
        (g) => g.audienceKind === kind && made.includes(g.id),
      )!;
    const terms = { level: 'manage', from: null, until: null };
    const before = await ask('owner', 'PUT', `/api/grants/${(await grantOf('staff')).id}`, terms);
    expect(before).toEqual({ level: 'view', from: null, until: null });
    expect(await ask('colleague', 'GET', `/api/folders/${scene.inner}`)).toMatchObject({
      right: 'manage',
    });
    await refused(
      await call('owner', 'PUT', `/api/grants/${(await grantOf('class')).id}`, terms),
      422,
      'level-not-possible',
    );
    await ask('owner', 'POST', '/api/grants/take-back', { grants: made });
    expect(await sees('student out', scene)).toBe(false);
    await ask('owner', 'POST', '/api/grants/restore', { grants: made });
    expect(await sees('student out', scene)).toBe(true);
    await ask('owner', 'POST', '/api/grants/take-back', { grants: made });
  });

  it('of a single item shows the item and not the folder it lies in', async () => {
    const scene = await server.scene();
    await handOut({ things: [placement(scene.placement)], audiences: [toB] });
    expect(await sees('student out', scene)).toBe(true);
    expect((await call('student out', 'GET', `/api/folders/${scene.inner}`)).status).toBe(404);
    await refused(
      await call('owner', 'POST', '/api/grants', {
        things: [placement(scene.placement)],
        audiences: [{ kind: 'staff', id: world.schoolId }],
        level: 'add',
      }),
      422,
      'level-not-possible',
    );
  });

  it('flags what looks confidential when it would be open to many, and not to a class', async () => {
    const scene = await server.scene();
    await db.update(items).set({ title: 'Marks of spring' }).where(eq(items.id, scene.itemId));
    const told = (audience: object) =>
      ask<Consequences>('owner', 'POST', '/api/consequences', {
        do: 'hand-out',
        things: [folder(scene.secret)],
        audiences: [audience],
      });
    const open = await told({ kind: 'public', id: world.schoolId });
    expect(open).toMatchObject({
      asks: true,
      confidential: [{ title: 'Marks of spring', word: 'marks' }],
    });
    expect(open.audiences.map((a) => a.kind)).toEqual(['public']);
    expect((await told({ kind: 'school-door', id: world.schoolId })).confidential).toHaveLength(1);
    expect((await told({ kind: 'school', id: world.schoolId })).asks).toBe(true);
    expect((await told(toB)).confidential).toEqual([]);
  });
});

describe('the staff room', () => {
  it('lets colleagues add, and takes away only what they added themselves', async () => {
    const scene = await server.scene();
    await handOut({
      things: [folder(scene.handed)],
      audiences: [{ kind: 'staff', id: world.schoolId }],
      level: 'add',
    });
    const room = await ask<StaffRoom>('colleague', 'GET', '/api/staff-room');
    expect(room.folders.find((f) => f.id === scene.handed)).toMatchObject({
      ownerName: 'owner',
      right: 'add',
      folders: 1,
    });
    const url = 'https://a.example/';
    const { id } = await ask<{ id: string }>('colleague', 'POST', '/api/links', {
      folderId: scene.inner,
      url,
    });
    const bin = (what: string) => ({ things: [placement(what)] });
    await refused(
      await call('colleague', 'POST', '/api/bin', bin(scene.placement)),
      403,
      'not-allowed',
    );
    await ask('colleague', 'POST', '/api/bin', bin(id));
    await ask('colleague', 'POST', '/api/bin/restore', bin(id));
    await ask('owner', 'POST', '/api/bin', bin(id));
    expect((await ask<StaffRoom>('student in', 'GET', '/api/staff-room')).folders).toEqual([]);
  });
});

describe('timing', () => {
  const held = { held: true, from: null, until: null };
  const out = { held: false, from: null, until: null };

  it('holds back, lets out for one class, and goes back as it was', async () => {
    const scene = await server.scene();
    await handOut({ things: [folder(scene.handed)], audiences: [toB] });
    const set = (classId: string | null, release: object | null) =>
      ask<Released>('owner', 'POST', '/api/releases', {
        things: [placement(scene.placement)],
        rules: [{ classId, release }],
      });
    await set(null, held);
    expect([await sees('student in', scene), await sees('student out', scene)]).toEqual([
      false,
      false,
    ]);
    const { before } = await set(world.classB, out);
    expect(before).toEqual([
      { ...placement(scene.placement), classId: world.classB, release: null },
    ]);
    expect([await sees('student in', scene), await sees('student out', scene)]).toEqual([
      false,
      true,
    ]);
    const timing = await ask<Timing>('owner', 'GET', `/api/placements/${scene.placement}/timing`);
    expect(timing.general).toEqual(held);
    expect(timing.classes.map((c) => [c.code, c.release])).toEqual([
      ['A', null],
      ['B', out],
    ]);
    await ask('owner', 'POST', '/api/releases/back', { before });
    expect(await sees('student out', scene)).toBe(false);
  });

  it('of a folder closes all below it, and ends to the minute', async () => {
    const scene = await server.scene();
    const until = clock.now + HOUR;
    const release = { ...out, until: iso(until) };
    const asked = { things: [folder(scene.handed)], rules: [{ classId: null, release }] };
    const told = await ask<Consequences>('owner', 'POST', '/api/consequences', {
      do: 'release',
      ...asked,
    });
    expect(told.asks).toBe(true);
    expect(told.audiences.find((a) => a.label === 'A')?.change.losesLater).toMatchObject({
      people: 1,
      from: iso(until),
    });
    await ask('owner', 'POST', '/api/releases', asked);
    clock.now = until - 1;
    expect(await sees('student in', scene)).toBe(true);
    clock.now = until;
    expect(await sees('student in', scene)).toBe(false);
    await refused(
      await call('owner', 'POST', '/api/releases', {
        ...asked,
        rules: [{ classId: null, release: { held: false, from: iso(until), until: iso(until) } }],
      }),
      422,
      'ends-before-start',
    );
    await refused(
      await call('owner', 'POST', '/api/releases', {
        ...asked,
        rules: [{ classId: world.ids.owner, release: held }],
      }),
      422,
      'audience-unknown',
    );
  });
});

describe('the board', () => {
  it('has every folder against every audience, here, from above and as of another day', async () => {
    const scene = await server.scene();
    const monday = clock.now + 48 * HOUR;
    await handOut({ things: [folder(scene.inner)], audiences: [toB], from: iso(monday) });
    const squares = async (at = '') => {
      const board = await ask<Board>('owner', 'GET', `/api/board${at}`);
      const of = (id: string) => {
        const found = board.folders.find((f) => f.id === id)!;
        return Object.fromEntries(
          found.squares.map((s) => {
            const { kind, label } = board.audiences[s.audience]!;
            return [label || kind, `${s.state}${s.here ? ' here' : ''}`];
          }),
        );
      };
      return [of(scene.secret), of(scene.handed), of(scene.inner)];
    };
    expect(await squares()).toEqual([
      {},
      { A: 'out here', public: 'out here' },
      { A: 'out', public: 'out', B: 'later here' },
    ]);
    expect((await squares(`?at=${iso(monday)}`))[2]).toEqual({
      A: 'out',
      public: 'out',
      B: 'out here',
    });
    expect((await ask<Board>('colleague', 'GET', '/api/board')).folders).toEqual([]);
  });

  it('shows the folders of others that somebody manages, and no others', async () => {
    const scene = await server.scene();
    await handOut({
      things: [folder(scene.inner)],
      audiences: [{ kind: 'person', id: world.ids.colleague }],
      level: 'manage',
    });
    const { folders, audiences } = await ask<Board>('colleague', 'GET', '/api/board');
    expect(folders.map((f) => [f.title, f.depth, f.ownerName])).toEqual([['Inner', 0, 'owner']]);
    // The class that has it from above stands there; nothing says what lies above.
    expect(audiences.map((a) => a.label)).toContain('A');
    expect(JSON.stringify(folders)).not.toContain('Handed out');
  });
});

describe('why', () => {
  const why = (scene: Scene, as: string, at = '') =>
    ask<Why>('owner', 'GET', `/api/why?kind=placement&id=${scene.placement}&as=${as}${at}`);

  it('names the handing out, the way and the hold, for a class, a person and a visitor', async () => {
    const scene = await server.scene();
    expect(await why(scene, `class.${world.classA}`)).toEqual({
      sees: true,
      owns: false,
      reasons: [
        {
          audience: { kind: 'class', label: 'A', colour: 'leaf' },
          through: { id: scene.handed, title: 'Handed out' },
          obstacle: null,
        },
      ],
      formerClasses: [],
    });
    const release = { held: true, from: null, until: null };
    await ask('owner', 'POST', '/api/releases', {
      things: [folder(scene.inner)],
      rules: [{ classId: null, release }],
    });
    const held = { kind: 'folder', folder: { title: 'Inner' }, state: 'held' };
    expect(await why(scene, `person.${world.ids['student in']}`)).toMatchObject({
      sees: false,
      reasons: [{ obstacle: held }],
    });
    expect(await why(scene, 'visitor')).toMatchObject({ sees: false });
    expect(await why(scene, `class.${world.classB}`)).toMatchObject({ sees: false, reasons: [] });
    for (const as of [`person.${world.ids['other school']}`, `class.${world.ids.owner}`])
      await refused(
        await call('owner', 'GET', `/api/why?kind=folder&id=${scene.inner}&as=${as}`),
        404,
        'not-found',
      );
    for (const as of ['class.', `person.${'-'.repeat(36)}`, `staff.${world.schoolId}`, 'me'])
      await refused(
        await call('owner', 'GET', `/api/why?kind=folder&id=${scene.inner}&as=${as}`),
        400,
        'bad-request',
      );
  });
});

describe('seeing as somebody else', () => {
  it('shows their screens, at their time, with the own things only, and leaves no trace', async () => {
    const scene = await server.scene();
    const theirs = await server.scene();
    // The second scene becomes the colleague's: the same class has it, but it is not the owner's to look at.
    await db.insert(courseTeachers).values({
      schoolId: world.schoolId,
      courseId: world.courseId,
      personId: world.ids.colleague,
    });
    await db.execute(
      `alter table folders disable trigger all; update folders set owner_id = '${world.ids.colleague}'
        where path && array['${theirs.secret}']::uuid[]; alter table folders enable trigger all`,
    );
    const base = `/api/as/class.${world.classA}/now`;
    const { things } = await ask<{ things: { placementId: string }[] }>(
      'owner',
      'GET',
      `${base}/new`,
    );
    expect(things.map((x) => x.placementId)).toContain(scene.placement);
    expect(things.map((x) => x.placementId)).not.toContain(theirs.placement);
    expect((await call('owner', 'GET', `${base}/folders/${theirs.inner}`)).status).toBe(404);
    expect((await call('owner', 'GET', `${base}/folders/${scene.secret}`)).status).toBe(404);

    const later = clock.now + 24 * HOUR;
    await handOut({ things: [folder(scene.inner)], audiences: [toB], from: iso(later) });
    const asB = (at: string | number) =>
      call('owner', 'GET', `/api/as/class.${world.classB}/${at}/folders/${scene.inner}`);
    expect((await asB('now')).status).toBe(404);
    expect((await asB(later)).status).toBe(200);

    const opened = () => db.execute('select count(*)::int as n from openings');
    const before = (await opened()).rows;
    const as = `/api/as/person.${world.ids['student in']}/now/placements/${scene.placement}`;
    expect((await call('owner', 'GET', `${as}/content?as=attachment`)).status).toBe(200);
    expect((await opened()).rows).toEqual(before);
    expect((await call('owner', 'PUT', `${as}/opened`)).status).toBe(404);
    expect((await call('owner', 'GET', `/api/as/visitor/now/folders/${scene.handed}`)).status).toBe(
      200,
    );
  });
});
