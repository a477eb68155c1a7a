import type {
  Answered,
  HandedOut,
  DoorState,
  Door,
  Doors,
  RequestView,
  ShortTo,
  Today,
  Wall,
} from '@sammlung/contract';
import { eq } from 'drizzle-orm';
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import {
  doors,
  folders,
  grants,
  items,
  mails,
  placements,
  rateLimits,
  requests,
} from '../src/db/schema/index.ts';
import { startServer, type Scene, type Who } from './harness.ts';

const server = await startServer();
const { world, clock, db, ask, call, refused } = server;
afterAll(() => server.stop());
beforeEach(async () => {
  await db.delete(rateLimits);
});

const change = ({ door }: Scene, body: object) =>
  ask<Door>('owner', 'PATCH', `/api/doors/${door}`, body);
const behind = (token: string, who: Who = 'visitor without') =>
  ask<DoorState>(who, 'GET', `/api/open/${token}`);
const tokenOf = ({ address }: Door) => address.split('/').at(-1)!;

describe('a sayable address', () => {
  it('leads to the door, in all the ways it may be typed', async () => {
    const scene = await server.scene();
    const { shortAddress } = await change(scene, { short: true });
    expect(shortAddress).toMatch(/\/at\/[a-z]+-[2-9]{5}$/u);
    // A word of which it is known what is one letter off and means no other.
    const short = 'heron-47293';
    await db.update(doors).set({ shortAddress: short }).where(eq(doors.id, scene.door));
    for (const typed of [
      short,
      'HERON-47293',
      'heron 47293',
      ' Heron47293 ',
      'hreon-47293',
      'heroon-4729e',
    ])
      expect(
        await ask<ShortTo>('visitor without', 'GET', `/api/at/${encodeURIComponent(typed)}`),
        typed,
      ).toEqual({ path: `/open/${scene.token}` });
    for (const typed of ['heron-47292', 'heron-4729', 'hern-472', 'robin-47293', 'heron'])
      await refused(
        await call('visitor without', 'GET', `/api/at/${encodeURIComponent(typed)}`),
        404,
        'no-such-address',
      );
    await change(scene, { short: false });
    await refused(await call('visitor without', 'GET', `/api/at/${short}`), 404, 'no-such-address');
  });

  it('guessed ten thousand times is refused after twenty, also where it would be right', async () => {
    const scene = await server.scene();
    const { shortAddress } = await change(scene, { short: true });
    const right = shortAddress!.split('/at/')[1]!;
    const counts = { 404: 0, 429: 0, 200: 0 };
    for (let start = 0; start < 10_000; start += 100)
      await Promise.all(
        Array.from({ length: 100 }, async (_, n) => {
          const typed = `acorn-${String(22_222 + ((start + n) % 7000)).replace(/[01]/gu, '2')}`;
          const { status } = await call('visitor without', 'GET', `/api/at/${typed}`);
          counts[status as 404] += 1;
        }),
      );
    expect(counts[200]).toBe(0);
    expect(counts).toEqual({ 404: 20, 429: 9_980, 200: 0 });
    const reply = await call('visitor without', 'GET', `/api/at/${right}`);
    expect(Number(reply.headers.get('retry-after'))).toBeGreaterThan(0);
    await refused(reply, 429, 'too-many-tries');
  });
});

describe('at a door', () => {
  it('of many wrong words at once no more pass than are allowed, and a class with the right one gets in', async () => {
    const scene = await server.scene();
    await change(scene, { word: 'meadow' });
    const give = async (word: string) =>
      (await call('visitor without', 'POST', `/api/open/${scene.token}/word`, { word })).status;
    const right = await Promise.all(Array.from({ length: 60 }, () => give('meadow')));
    expect(new Set(right)).toEqual(new Set([204]));
    const wrong = await Promise.all(Array.from({ length: 150 }, (_, n) => give(`wrong ${n}`)));
    expect(wrong.filter((status) => status === 403)).toHaveLength(10);
    expect(wrong.filter((status) => status === 429)).toHaveLength(140);
  });
});

describe('a door', () => {
  it('asks for a word, tells nothing before it, and forgets it when it is another one', async () => {
    const scene = await server.scene();
    await change(scene, { word: 'Compost heap' });
    expect(await behind(scene.token)).toMatchObject({ state: 'wall', reason: 'word' });
    const inside = (cookie = '') =>
      call(
        'visitor without',
        'GET',
        `/api/open/${scene.token}/folders/${scene.handed}`,
        undefined,
        { cookie },
      );
    expect((await inside()).status).toBe(404);
    const give = (word: string) =>
      call('visitor without', 'POST', `/api/open/${scene.token}/word`, { word });
    await refused(await give('compost'), 403, 'wrong-word');
    const given = await give('  compost HEAP ');
    expect(given.status).toBe(204);
    const cookie = given.headers.get('set-cookie')!;
    expect(cookie).toMatch(/HttpOnly; SameSite=Lax/u);
    expect((await inside(cookie.split(';')[0])).status).toBe(200);
    const other = await server.scene();
    await change(other, { word: 'Compost heap' });
    expect(
      (
        await call(
          'visitor without',
          'GET',
          `/api/open/${other.token}/folders/${other.handed}`,
          undefined,
          { cookie: cookie.split(';')[0]! },
        )
      ).status,
    ).toBe(404);
    await change(scene, { word: 'other' });
    expect((await inside(cookie.split(';')[0])).status).toBe(404);
    for (let n = 0; n < 12; n += 1) await give('wrong');
    await refused(await give('other'), 429, 'too-many-tries');
  });

  it('ends to the minute, gets a new address at once, and has its code as a picture', async () => {
    const scene = await server.scene();
    const until = clock.now + 60_000;
    await change(scene, { until: new Date(until).toISOString(), short: true });
    expect(await behind(scene.token)).toMatchObject({ state: 'open' });
    clock.now = until;
    expect(await behind(scene.token)).toMatchObject({ state: 'wall', reason: 'ended' });
    const renewed = await change(scene, { until: null, renew: true });
    expect(renewed.shortAddress).toBeNull();
    expect(await behind(scene.token)).toMatchObject({ state: 'wall', reason: 'unknown' });
    expect(await behind(tokenOf(renewed))).toMatchObject({ state: 'open', folderId: scene.handed });
    const svg = await call('owner', 'GET', `/api/doors/${scene.door}/code.svg`);
    expect(svg.headers.get('content-type')).toContain('image/svg+xml');
    expect(await svg.text()).toMatch(/^<svg/u);
    const png = new Uint8Array(
      await (await call('owner', 'GET', `/api/doors/${scene.door}/code.png`)).arrayBuffer(),
    );
    expect([...png.subarray(1, 4)]).toEqual([...Buffer.from('PNG')]);
    const { doors } = await ask<Doors>('owner', 'GET', '/api/doors');
    expect(doors.find((d) => d.id === scene.door)).toMatchObject({
      title: 'Handed out',
      kind: 'public',
    });
    expect((await ask<Doors>('colleague', 'GET', '/api/doors')).doors).toEqual([]);
  });

  it('to a single item opens the item and nothing beside it', async () => {
    const scene = await server.scene();
    await ask('owner', 'DELETE', `/api/doors/${scene.door}`);
    const made = await ask<Door>('owner', 'POST', '/api/doors', {
      thing: { kind: 'placement', id: scene.placement },
      kind: 'public',
    });
    const token = tokenOf(made);
    expect(await behind(token)).toMatchObject({
      state: 'open',
      folderId: null,
      placementId: scene.placement,
    });
    const at = (path: string) => call('visitor without', 'GET', `/api/open/${token}/${path}`);
    expect((await at(`placements/${scene.placement}/content`)).status).toBe(200);
    expect((await at(`folders/${scene.inner}`)).status).toBe(404);
  });
});

describe('the wall', () => {
  it('says for whom it is and takes one request; the owner answers once, with Undo', async () => {
    const scene = await server.scene();
    const at = `/api/folders/${scene.inner}/wall`;
    expect(await ask<Wall>('student out', 'GET', at)).toEqual({
      schoolName: 'First',
      ownerName: 'owner',
      forWhom: ['A'],
      later: false,
      ask: 'may',
    });
    const thing = { kind: 'folder', id: scene.inner };
    await ask('student out', 'POST', '/api/requests', { thing, message: 'I was ill.' });
    await ask('student out', 'POST', '/api/requests', { thing, message: 'Again' });
    expect(await ask<Wall>('student out', 'GET', at)).toMatchObject({ ask: 'asked' });
    const waiting = async () =>
      (await ask<Today>('owner', 'GET', '/api/today')).requests.filter(
        (r) => r.thing.id === scene.inner,
      );
    const [request] = (await waiting()) as [RequestView];
    expect(request).toMatchObject({
      person: { name: 'student out', kind: 'student' },
      classes: [{ code: 'B' }],
      title: 'Inner',
      message: 'I was ill.',
    });
    const answer = `/api/requests/${request.id}/answer`;
    await refused(await call('colleague', 'POST', answer, { answer: 'person' }), 404, 'not-found');
    await refused(
      await call('owner', 'POST', answer, { answer: 'class', classId: world.classA }),
      422,
      'audience-unknown',
    );
    // That class had it once; an answer brings it back instead of finding it there already.
    const old = await ask<HandedOut>('owner', 'POST', '/api/grants', {
      things: [thing],
      audiences: [{ kind: 'class', id: world.classB }],
      from: '2020-01-01T00:00:00Z',
      until: '2020-02-01T00:00:00Z',
    });
    const { changed } = await ask<Answered>('owner', 'POST', answer, {
      answer: 'class',
      classId: world.classB,
    });
    expect((await call('student out', 'GET', `/api/folders/${scene.inner}`)).status).toBe(200);
    expect(await waiting()).toEqual([]);
    await refused(await call('owner', 'POST', answer, { answer: 'no' }), 409, 'answered-already');
    expect(changed.map(({ id }) => id)).toEqual(old.made);
    await ask('owner', 'PUT', `/api/grants/${changed[0]!.id}`, changed[0]!.before);
    expect((await call('student out', 'GET', `/api/folders/${scene.inner}`)).status).toBe(404);
    await ask('owner', 'POST', `/api/requests/${request.id}/reopen`);
    expect(await waiting()).toHaveLength(1);
    await ask('owner', 'POST', answer, { answer: 'no' });
    expect((await call('student out', 'GET', `/api/folders/${scene.inner}`)).status).toBe(404);
  });

  it('knows who only has to wait, and lets nobody ask for everything', async () => {
    const scene = await server.scene();
    await db.update(placements).set({ held: true }).where(eq(placements.id, scene.placement));
    const wall = await ask<Wall>('student in', 'GET', `/api/placements/${scene.placement}/wall`);
    expect(wall.later).toBe(true);
    expect(JSON.stringify(wall)).not.toContain('Böden');
    await db.delete(requests);
    for (let n = 0; n < 10; n += 1) {
      const { inner } = await server.scene();
      await ask('student out', 'POST', '/api/requests', { thing: { kind: 'folder', id: inner } });
    }
    const thing = { kind: 'folder', id: scene.inner };
    await refused(
      await call('student out', 'POST', '/api/requests', { thing }),
      429,
      'asked-enough',
    );
    await db.update(folders).set({ binnedAt: new Date() }).where(eq(folders.id, scene.secret));
    expect((await call('student out', 'GET', `/api/folders/${scene.inner}/wall`)).status).toBe(404);
  });
});

describe('a visitor without an account', () => {
  const visitor = { name: 'Ada Fernley', email: 'ada@outside.example', language: 'de' };
  const closedScene = async () => {
    const scene = await server.scene();
    await db
      .update(doors)
      .set({ closedAt: new Date(1) })
      .where(eq(doors.id, scene.door));
    return scene;
  };
  const askAt = (token: string, body: object = { visitor, message: 'My son was ill.' }) =>
    call('visitor without', 'POST', `/api/open/${token}/requests`, body);
  const waiting = async () =>
    (await ask<Today>('owner', 'GET', '/api/today')).requests.filter((r) => r.email !== null);

  it('asks at a closed door, once; the owner answers by a link, with Undo, or no', async () => {
    await db.delete(requests);
    const { token } = await closedScene();
    const behind = await ask<DoorState>('visitor without', 'GET', `/api/open/${token}`);
    expect(behind).toMatchObject({ state: 'wall', reason: 'closed', ask: 'visitor' });
    expect((await askAt(token)).status).toBe(204);
    expect(
      (await askAt(token, { visitor: { ...visitor, email: 'ADA@outside.example' } })).status,
    ).toBe(204);
    const [request, ...others] = (await waiting()) as [RequestView];
    expect(others).toEqual([]);
    expect(request).toMatchObject({
      person: { name: 'Ada Fernley', kind: 'visitor' },
      ...{ email: 'ada@outside.example', classes: [], message: 'My son was ill.' },
    });
    const answer = `/api/requests/${request.id}/answer`;
    await refused(await call('colleague', 'POST', answer, { answer: 'link' }), 404, 'not-found');
    await refused(
      await call('owner', 'POST', answer, { answer: 'person' }),
      422,
      'audience-unknown',
    );
    const { doorId } = await ask<Answered>('owner', 'POST', answer, { answer: 'link' });
    const mailed = () => db.select().from(mails).where(eq(mails.toEmail, 'ada@outside.example'));
    const [mail] = await mailed();
    expect(mail).toMatchObject({ toName: 'Ada Fernley', subject: 'Deine Bitte an owner' });
    const opened = await ask<DoorState>('visitor without', 'GET', `/api${mail!.path}`);
    expect(opened).toMatchObject({ state: 'open' });
    // Undo closes the door again; the second answer is no.
    await ask('owner', 'DELETE', `/api/doors/${doorId}`);
    await ask('owner', 'POST', `/api/requests/${request.id}/reopen`);
    expect(await ask<DoorState>('visitor without', 'GET', `/api${mail!.path}`)).toMatchObject({
      reason: 'closed',
    });
    await ask('owner', 'POST', answer, { answer: 'no' });
    expect((await mailed()).map(({ path }) => path)).toContain(null);
  });

  it('cannot ask where nothing is, for a password, in the name of people of the school, or without end', async () => {
    await db.delete(requests);
    await db.delete(rateLimits);
    const open = await server.scene();
    await refused(await askAt(open.token), 404, 'not-found');
    await refused(await askAt('no-such-token-at-all'), 404, 'not-found');
    await refused(await askAt(open.token, { message: 'Please' }), 401, 'sign-in-needed');
    const { token } = await closedScene();
    await refused(
      await askAt(token, { visitor: { ...visitor, email: 'nowhere' } }),
      400,
      'bad-request',
    );
    // Who has signed in asks as themselves.
    const path = `/api/open/${token}/requests`;
    expect((await call('student out', 'POST', path, { visitor })).status).toBe(204);
    expect(await waiting()).toEqual([]);
    const replies = await Promise.all(
      Array.from({ length: 12 }, (_, n) =>
        askAt(token, { visitor: { ...visitor, email: `ada${n}@outside.example` } }),
      ),
    );
    expect(replies.filter(({ status }) => status === 204)).toHaveLength(3);
    expect(replies.filter(({ status }) => status === 429)).toHaveLength(9);
    await db.delete(rateLimits);
    for (let n = 0; n < 5; n += 1) {
      const { token: another } = await closedScene();
      expect((await askAt(another)).status).toBe(204);
    }
    await db.delete(rateLimits);
    const { token: last } = await closedScene();
    await refused(await askAt(last), 429, 'asked-enough');
  });
});

describe('today', () => {
  it('tells what goes out and ends, what may want a look, and what came last', async () => {
    const scene = await server.scene();
    const [out, ends] = [clock.now + 86_400_000, clock.now + 3 * 86_400_000];
    const iso = (t: number) => new Date(t).toISOString();
    await ask('owner', 'POST', '/api/releases', {
      things: [{ kind: 'placement', id: scene.placement }],
      rules: [{ classId: world.classA, release: { held: false, from: iso(out), until: null } }],
    });
    await db
      .update(grants)
      .set({ untilAt: new Date(ends) })
      .where(eq(grants.id, scene.grant));
    await db.update(items).set({ title: 'Answer key' }).where(eq(items.id, scene.itemId));
    await ask('owner', 'POST', '/api/doors', {
      thing: { kind: 'placement', id: scene.placement },
      kind: 'public',
    });
    await ask('owner', 'POST', '/api/grants', {
      things: [{ kind: 'folder', id: scene.secret }],
      audiences: [{ kind: 'class', id: scene.classY }],
    });
    await ask('owner', 'POST', '/api/releases', {
      things: [{ kind: 'folder', id: scene.handed }],
      rules: [{ classId: null, release: { held: true, from: null, until: null } }],
    });
    const { scheduled, flags, added } = await ask<Today>('owner', 'GET', '/api/today');
    expect(
      scheduled.filter((x) => [scene.placement, scene.handed].includes(x.thing.id)),
    ).toMatchObject([
      { what: 'out', at: iso(out), title: 'Answer key', place: 'Inner', for: [{ label: 'A' }] },
      { what: 'ends', at: iso(ends), title: 'Handed out', for: [{ label: 'A' }] },
    ]);
    const things: string[] = [scene.placement, scene.secret, scene.handed];
    const mine = flags.filter((f) => things.includes(f.thing?.id ?? ''));
    expect(mine.map((f) => [f.kind, f.title, f.word])).toEqual(
      expect.arrayContaining([
        ['public', 'Answer key', 'key'],
        ['nobody', expect.stringContaining('Secret'), null],
        ['shut', 'Handed out', null],
      ]),
    );
    expect(flags.some((f) => f.kind === 'empty-class' && f.title.startsWith('X'))).toBe(true);
    expect(added[0]).toMatchObject({
      title: 'Answer key',
      folder: { title: 'Inner' },
      byName: null,
    });
  });
});
