import type { CameNews, Contents, Door, FolderNews, NewThings } from '@sammlung/contract';
import { eq, sql } from 'drizzle-orm';
import { afterAll, afterEach, describe, expect, it, vi } from 'vitest';
import fastify from 'fastify';
import { memberships, sessions } from '../src/db/schema/index.ts';
import { openStream } from '../src/platform/live/stream.ts';
import { startServer, type Who } from './harness.ts';

const server = await startServer();
const { ask, call, clock, db, world } = server;
const lines: { close(): void }[] = [];
afterEach(() => lines.splice(0).forEach((line) => line.close()));
afterAll(() => server.stop());

interface Heard {
  readonly event: string;
  readonly data: unknown;
}

/** An open page: the events it hears at an address, in order. */
async function line(who: Who, path: string, base = server.base) {
  const leave = new AbortController();
  const cookie = server.cookies.get(who);
  const reply = await fetch(`${base}${path}`, {
    headers: cookie ? { cookie } : {},
    signal: leave.signal,
  });
  const heard: Heard[] = [];
  const state = { ended: false };
  const reading = (async () => {
    let text = '';
    for await (const piece of reply.body!.pipeThrough(new TextDecoderStream())) {
      text += piece;
      const blocks = text.split('\n\n');
      text = blocks.pop()!;
      for (const block of blocks) {
        const [, event, data] = /^event: (.*)\ndata: (.*)$/u.exec(block) ?? [];
        if (event) heard.push({ event, data: JSON.parse(data!) as unknown });
      }
    }
  })()
    .catch((error: unknown) => {
      if (!leave.signal.aborted) throw error;
    })
    .finally(() => (state.ended = true));
  const made = {
    status: reply.status,
    type: reply.headers.get('content-type'),
    heard,
    state,
    /** The data of the next event of this name that has not been asked for. */
    async next<T>(event: string): Promise<T> {
      const found = await vi.waitUntil(() => heard.find((one) => one.event === event), {
        timeout: 5000,
        interval: 10,
      });
      heard.splice(0, heard.indexOf(found) + 1);
      return found.data as T;
    },
    close: () => leave.abort(),
    reading,
  };
  if (reply.ok) lines.push(made);
  return made;
}

async function openLine(who: Who, path: string, base?: string) {
  const opened = await line(who, path, base);
  expect(opened.status).toBe(200);
  await opened.next('here');
  return opened;
}

/** The first news of the folder with these titles; what was still on its way from before is passed over. */
async function newsWith(
  page: Awaited<ReturnType<typeof line>>,
  holds: (titles: string[]) => boolean,
) {
  for (;;) {
    const news = await page.next<FolderNews>('contents');
    if (holds(news.contents.items.map((row) => row.title))) return news;
  }
}

/** All that was changed so far has been told to those who were there: lines opened from now on hear nothing of it. */
async function allTold(scene: Awaited<ReturnType<typeof server.scene>>) {
  const open = await openLine('student in', `/api/folders/${scene.inner}/live`);
  await addLink(scene.inner, 'After all that');
  await newsWith(open, (titles) => titles.includes('After all that'));
}

const addLink = (folderId: string, title: string) =>
  ask<{ id: string }>('owner', 'POST', '/api/links', {
    folderId,
    title,
    url: 'https://example.org/',
  });
const HELD = { held: true, from: null, until: null };
const OUT = { held: false, from: null, until: null };
const release = (id: string, how: object) =>
  ask('owner', 'POST', '/api/releases', {
    things: [{ kind: 'placement', id }],
    rules: [{ classId: null, release: how }],
  });

describe('a page that shows a folder', () => {
  it('is told what is added, renamed and moved away, as its reader would load it', async () => {
    const scene = await server.scene();
    const page = await openLine('student in', `/api/folders/${scene.inner}/live`);
    expect(page.type).toContain('text/event-stream');
    await addLink(scene.inner, 'Just added');
    const news = await newsWith(page, (titles) => titles.includes('Just added'));
    const loaded = await ask<Contents>(
      'student in',
      'GET',
      `/api/folders/${scene.inner}/contents?limit=100`,
    );
    expect(news.contents).toEqual(loaded);
    expect(JSON.stringify(news)).not.toContain('Secret');

    await ask('owner', 'PATCH', `/api/placements/${scene.placement}`, { title: 'Renamed' });
    await newsWith(page, (titles) => titles.includes('Renamed'));
    await ask('owner', 'PATCH', `/api/folders/${scene.inner}`, { title: 'Inner, renamed' });
    expect((await page.next<FolderNews>('contents')).folder.title).toBe('Inner, renamed');

    await ask('owner', 'POST', '/api/moves', {
      things: [{ kind: 'placement', id: scene.placement }],
      to: scene.secret,
      before: null,
    });
    await newsWith(page, (titles) => titles.join() === 'Just added');
  });

  it('is refused to whoever does not see the folder, without a word about it', async () => {
    const scene = await server.scene();
    for (const who of ['student out', 'other school'] as const)
      expect((await line(who, `/api/folders/${scene.inner}/live`)).status).toBe(404);
    expect((await line('visitor without', `/api/folders/${scene.inner}/live`)).status).toBe(401);
    expect((await line('student in', `/api/folders/${scene.secret}/live`)).status).toBe(404);
  });

  it('never hears of what is held back, but of its release, by hand and at its minute', async () => {
    const scene = await server.scene();
    const page = await openLine('student in', `/api/folders/${scene.inner}/live`);
    const other = await openLine('student in', `/api/folders/${scene.inner}/live?order=newest`);
    await release(scene.placement, HELD);
    await newsWith(page, (titles) => titles.length === 0);
    await ask('owner', 'PATCH', `/api/placements/${scene.placement}`, { title: 'Quiz of Friday' });
    await addLink(scene.inner, 'Seen');
    await newsWith(page, (titles) => titles.join() === 'Seen');
    expect(page.heard).toEqual([]);
    expect(JSON.stringify(other.heard)).not.toContain('Quiz of Friday');

    await release(scene.placement, OUT);
    await newsWith(page, (titles) => titles.includes('Quiz of Friday'));
    const from = clock.now + 60_000;
    await release(scene.placement, { ...OUT, from: new Date(from).toISOString() });
    await newsWith(page, (titles) => titles.join() === 'Seen');
    await server.app.services.live.tick();
    clock.now = from;
    await server.app.services.live.tick();
    await newsWith(page, (titles) => titles.includes('Quiz of Friday'));
  });

  it('is told to look again when it is taken back, and then there is nothing', async () => {
    const scene = await server.scene();
    const page = await openLine('student in', `/api/folders/${scene.inner}/live`);
    await ask('owner', 'POST', '/api/grants/take-back', { grants: [scene.grant] });
    await page.next('changed');
    expect((await call('student in', 'GET', `/api/folders/${scene.inner}`)).status).toBe(404);
    // And what comes back as it was is told again.
    await ask('owner', 'POST', '/api/grants/restore', { grants: [scene.grant] });
    await page.next('contents');
    await ask('owner', 'POST', '/api/grants/take-back', { grants: [scene.grant] });
    await page.next('changed');
    await ask('owner', 'POST', '/api/grants/restore', { grants: [scene.grant] });
    await page.next('contents');
  });

  it('is told of a change above it: a hold, a move', async () => {
    const scene = await server.scene();
    const page = await openLine('student in', `/api/folders/${scene.inner}/live`);
    const hold = (id: string, how: object) =>
      ask('owner', 'POST', '/api/releases', {
        things: [{ kind: 'folder', id }],
        rules: [{ classId: null, release: how }],
      });
    await hold(scene.secret, HELD);
    await page.next('changed');
    const elsewhere = await ask<{ id: string }>('owner', 'POST', '/api/folders', {
      parentId: null,
      title: `Elsewhere ${scene.handed}`,
    });
    await ask('owner', 'POST', '/api/moves', {
      things: [{ kind: 'folder', id: scene.handed }],
      to: elsewhere.id,
      before: null,
    });
    await page.next('contents');
    // From now on what is done there counts, and no more what is done where it was.
    await hold(scene.secret, OUT);
    await addLink(scene.inner, 'After the move');
    await newsWith(page, (titles) => titles.includes('After the move'));
    expect(page.heard).toEqual([]);
    await hold(elsewhere.id, HELD);
    await page.next('changed');
  });

  it('tells everybody what they see themselves: two classes, two releases', async () => {
    const scene = await server.scene();
    const toB = { kind: 'class', id: world.classB };
    await ask('owner', 'POST', '/api/grants', {
      things: [{ kind: 'folder', id: scene.handed }],
      audiences: [toB],
    });
    const [a, b] = [
      await openLine('student in', `/api/folders/${scene.inner}/live`),
      await openLine('student out', `/api/folders/${scene.inner}/live`),
    ];
    await ask('owner', 'POST', '/api/releases', {
      things: [{ kind: 'placement', id: scene.placement }],
      rules: [{ classId: world.classB, release: HELD }],
    });
    await newsWith(b, (titles) => titles.length === 0);
    await ask('owner', 'PATCH', `/api/placements/${scene.placement}`, { title: 'For A' });
    await newsWith(a, (titles) => titles.join() === 'For A');
    await addLink(scene.inner, 'For both');
    await newsWith(a, (titles) => titles.includes('For A') && titles.includes('For both'));
    await newsWith(b, (titles) => {
      expect(titles).not.toContain('For A');
      return titles.join() === 'For both';
    });
  });

  it('tells a student that they left a class, and that they joined one', async () => {
    const scene = await server.scene();
    const page = await openLine('student in', `/api/folders/${scene.inner}/live`);
    const came = await openLine('student in', '/api/new/live');
    const others = await openLine('student out', '/api/new/live');
    const membership = (untilAt: Date | null) =>
      db
        .update(memberships)
        .set({ untilAt })
        .where(eq(memberships.personId, world.ids['student in']));
    await membership(new Date(clock.now - 1));
    await page.next('changed');
    await came.next('changed');
    expect((await call('student in', 'GET', `/api/folders/${scene.inner}`)).status).toBe(404);
    await membership(null);
    await came.next('changed');
    expect((await call('student in', 'GET', `/api/folders/${scene.inner}`)).status).toBe(200);
    expect(others.heard).toEqual([]);
  });
});

describe('a page at a door', () => {
  it('is told of changes, and loses its line when the door is closed', async () => {
    const scene = await server.scene();
    await allTold(scene);
    const at = `/api/open/${scene.token}/folders/${scene.inner}/live`;
    const page = await openLine('visitor with door', at);
    await addLink(scene.inner, 'For everybody');
    await newsWith(page, (titles) => titles.includes('For everybody'));
    await ask('owner', 'DELETE', `/api/doors/${scene.door}`);
    await page.next('changed');
    await vi.waitUntil(() => page.state.ended);
    expect((await line('visitor with door', at)).status).toBe(404);
  });
});

describe('a page on the website of a class', () => {
  it('is told of changes, and comes again where what it shows is no longer open by the website', async () => {
    const scene = await server.scene();
    const at = `/api/class-pages/${scene.classX}/website`;
    const website = { headings: [], loose: true, texts: [], tells: 'nothing' };
    const thing = { kind: 'folder', id: scene.inner };
    await ask('owner', 'POST', '/api/entries', {
      ...{ title: 'Lesson', things: [thing], on: [{ classId: scene.classX }] },
    });
    const { door } = await ask<{ door: Door }>('owner', 'PUT', at, { ...website, open: [thing] });
    await allTold(scene);
    const token = door.address.split('/').at(-1)!;
    const [page, folder] = [
      await openLine('visitor without', `/api/open/${token}/website/live`),
      await openLine('visitor without', `/api/open/${token}/folders/${scene.inner}/live`),
    ];
    await addLink(scene.inner, 'For whoever comes');
    await newsWith(folder, (titles) => titles.includes('For whoever comes'));
    await ask('owner', 'PUT', at, { ...website, loose: false });
    for (const one of [page, folder]) {
      await one.next('changed');
      await vi.waitUntil(() => one.state.ended);
    }
    const again = `/api/open/${token}/folders/${scene.inner}/live`;
    expect((await line('visitor without', again)).status).toBe(404);
  });
});

describe('a page on which things come in', () => {
  it('is told what came, and of nothing that came to others', async () => {
    const scene = await server.scene();
    const mine = await openLine('student in', '/api/new/live');
    const others = await openLine('student out', '/api/new/live');
    await addLink(scene.inner, 'Came in');
    const news = await mine.next<CameNews>('came');
    const loaded = await ask<NewThings>('student in', 'GET', '/api/new');
    const thing = news.things.find((x) => x.title === 'Came in');
    expect(thing).toEqual(loaded.things.find((x) => x.title === 'Came in'));
    expect(news.folderIds).toEqual([scene.inner]);
    await mine.next('counts');
    await ask('owner', 'POST', '/api/grants/take-back', { grants: [scene.grant] });
    await mine.next('changed');
    expect(others.heard).toEqual([]);
  });

  it('is told when something is handed out on a folder of the school’s, only where it shows', async () => {
    const scene = await server.scene();
    const page = await openLine('student out', '/api/new/live');
    const school = await openLine('other school', '/api/new/live');
    const unconcerned = await openLine('office', '/api/new/live');
    await ask('owner', 'POST', '/api/grants', {
      things: [{ kind: 'folder', id: scene.inner }],
      audiences: [{ kind: 'class', id: world.classB }],
    });
    await page.next('changed');
    expect([...school.heard, ...unconcerned.heard]).toEqual([]);
  });
});

describe('the line', () => {
  it('reaches across server processes', async () => {
    const scene = await server.scene();
    const second = await server.process();
    const page = await openLine(
      'student in',
      `/api/folders/${scene.inner}/live`,
      second.listeningOrigin,
    );
    await addLink(scene.inner, 'By the other process');
    await newsWith(page, (titles) => titles.includes('By the other process'));
    await second.close();
    await vi.waitUntil(() => page.state.ended);
  });

  it('ends with the session', async () => {
    const scene = await server.scene();
    const before = server.cookies.get('student in')!;
    server.cookies.set('student in', await server.signIn('student in'));
    const page = await openLine('student in', `/api/folders/${scene.inner}/live`);
    const [newest] = await db
      .select()
      .from(sessions)
      .where(eq(sessions.userId, world.ids['student in']))
      .orderBy(sql`created_at desc`)
      .limit(1);
    await db.delete(sessions).where(eq(sessions.id, newest!.id));
    server.cookies.set('student in', before);
    await addLink(scene.inner, 'After signing out');
    await vi.waitUntil(() => page.state.ended);
    // It may have heard of how the scene came to be, but of nothing since.
    expect(JSON.stringify(page.heard)).not.toContain('After signing out');
  });

  it('outlives the loss of the database connection that listens', async () => {
    const scene = await server.scene();
    const page = await openLine('student in', `/api/folders/${scene.inner}/live`);
    await db.execute(sql`select pg_terminate_backend(pid) from pg_stat_activity
      where datname = current_database() and query like 'listen%'`);
    await page.next('changed');
    await addLink(scene.inner, 'After the loss');
    await newsWith(page, (titles) => titles.includes('After the loss'));
  });

  it('says when something has changed while the page was loading', async () => {
    const scene = await server.scene();
    const first = await openLine('student in', `/api/folders/${scene.inner}/live`);
    await addLink(scene.inner, 'Meanwhile');
    await first.next('contents');
    const late = await line('student in', `/api/folders/${scene.inner}/live`);
    expect(await late.next('here')).toEqual({ stale: true });
  });
});

describe('a line', () => {
  it('takes nothing more once it has been ended, whoever still tells it something', async () => {
    const app = fastify();
    const ends: Promise<void>[] = [];
    app.get('/line', (_request, reply) => {
      const stream = openStream(reply);
      stream.send('first', '{}');
      stream.end();
      stream.send('late', '{}');
      ends.push(stream.ended);
    });
    const address = await app.listen({ port: 0, host: '127.0.0.1' });
    // What is written after the end would end the whole process a moment later.
    expect(await (await fetch(`${address}/line`)).text()).toBe(
      'retry: 2000\n\nevent: first\ndata: {}\n\n',
    );
    await Promise.all(ends);
    await app.close();
  });
});
