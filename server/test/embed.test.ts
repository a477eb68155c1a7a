import type { Door, PostRoom } from '@sammlung/contract';
import { afterAll, describe, expect, it } from 'vitest';
import { mails, schools } from '../src/db/schema/index.ts';
import { startClassWebsite } from '../src/standin/class-website.ts';
import { mail, startServer } from './harness.ts';
import { makeWeb } from './web.ts';

const web = makeWeb();
const server = await startServer({ web: web.folder, postRoom: true, smtp: 'smtp://127.0.0.1:1' });
const { ask, base, db } = server;
afterAll(async () => {
  await server.stop();
  web.remove();
});

const frames = async (path: string) => {
  const reply = await fetch(`${base}${path}`);
  expect(reply.status).toBe(200);
  expect(reply.headers.get('content-type')).toContain('text/html');
  const policy = reply.headers.get('content-security-policy') ?? '';
  return {
    ancestors: /frame-ancestors ([^;]+)/u.exec(policy)?.[1],
    options: reply.headers.get('x-frame-options'),
    scripts: /default-src ([^;]+)/u.exec(policy)?.[1],
  };
};
const NOWHERE = { ancestors: "'none'", options: 'SAMEORIGIN', scripts: "'self'" };
const ANYWHERE = { ancestors: '*', options: null, scripts: "'self'" };

describe('pages of ours in frames of other websites', () => {
  it('are allowed for the embed of a public door alone, with all below it, and for nothing else', async () => {
    const scene = await server.scene();
    const { address } = await ask<Door>('owner', 'POST', '/api/doors', {
      thing: { kind: 'folder', id: scene.inner },
      kind: 'school',
    });
    const school = address.split('/').at(-1)!;
    expect(await frames(`/embed/${scene.token}`)).toEqual(ANYWHERE);
    expect(await frames(`/embed/${scene.token}/folder/${scene.inner}`)).toEqual(ANYWHERE);
    for (const path of [
      '/',
      '/library',
      '/sign-in',
      '/post-room',
      `/open/${scene.token}`,
      `/embed/${school}`,
      '/embed/no-such-token-was-ever-made',
      `/embed/${scene.token}x`,
    ])
      expect(await frames(path), path).toEqual(NOWHERE);
  });

  it('stay allowed for a closed one, which shows nothing but that it is closed', async () => {
    const scene = await server.scene();
    await ask('owner', 'DELETE', `/api/doors/${scene.door}`);
    expect(await frames(`/embed/${scene.token}`)).toEqual(ANYWHERE);
    const reply = await fetch(`${base}/api/open/${scene.token}/folders/${scene.handed}`);
    expect(reply.status).toBe(404);
    expect(reply.headers.get('content-security-policy')).toContain("frame-ancestors 'none'");
  });
});

describe('the class website that stands in', () => {
  it('shows the website of a class and the oldest public folder of the sample school, knowing their addresses alone', async () => {
    const site = await startClassWebsite(db, () => server.app.services.address(), 0);
    const page = async () => (await fetch(site.address)).text();
    const { classX } = await server.scene();
    expect(await page()).toContain('Nothing is public just now.');
    await ask('owner', 'PUT', `/api/class-pages/${classX}/website`, {
      ...{ headings: [], loose: false, texts: [], tells: 'nothing' },
    });
    const { course, code } = await ask<{ course: string; code: string }>(
      ...(['owner', 'GET', `/api/class-pages/${classX}/edited`] as const),
    );
    await db.update(schools).set({ sample: true });
    const frames = [...(await page()).matchAll(/<iframe src="([^"]+)" title="([^"]+)"/gu)];
    expect(frames.map(([, , title]) => title)).toEqual([`${course} ${code}`, 'Handed out']);
    for (const [, source] of frames)
      expect(source).toMatch(
        new RegExp(`^${server.app.services.address()}/embed/[\\w-]{27}$`, 'u'),
      );
    await site.stop();
    await expect(fetch(site.address)).rejects.toThrow(TypeError);
  });
});

describe('the post room', () => {
  it('is open to everybody where mails go nowhere else', async () => {
    const { letters } = await ask<PostRoom>('visitor without', 'GET', '/api/post-room');
    expect(letters).toEqual([]);
  });

  it('gets the mails of the sample school only: others wait for a mail server', async () => {
    const { post } = server.app.services;
    const send = () => post.sendDue(server.clock.now + 60_000);
    await db.update(schools).set({ sample: false });
    await server.call('visitor without', 'POST', '/api/session/forgotten', {
      email: mail('student in'),
    });
    expect(await send()).toBe(0);
    expect((await db.select().from(mails)).map((m) => [m.state, m.tries])).toEqual([
      ['waiting', 0],
    ]);
  });
});

describe('the frame of the pages of people with an account', () => {
  it('is named with the page to whoever comes with a session, and to nobody else', async () => {
    const named = async (path: string, cookie: string) => {
      const { headers } = await fetch(`${base}${path}`, { headers: { cookie } });
      return Object.fromEntries(headers).link ?? null;
    };
    expect(await named('/new', 'sammlung=x')).toBe('</assets/first-1a2b.js>; rel=modulepreload');
    expect(await named('/new', '')).toBeNull();
    expect(await named('/open/abc', 'sammlung=x')).toBeNull();
  });
});

describe('what link previews and search engines are told', () => {
  const page = async (path: string) => {
    const reply = await fetch(`${base}${path}`);
    return { robots: reply.headers.get('x-robots-tag'), text: await reply.text() };
  };

  it('is the title of what is open to all, and to list it only where the teacher allows', async () => {
    const scene = await server.scene();
    const path = `/open/${scene.token}`;
    await ask('owner', 'PATCH', `/api/folders/${scene.handed}`, { title: 'Tools & terms' });
    const unlisted = await page(path);
    expect(unlisted.text).toContain('<meta property="og:title" content="Tools &amp; terms" />');
    expect(unlisted.text).not.toContain('Böden');
    expect(unlisted.text).not.toContain('Secret');
    expect(unlisted.robots).toContain('noindex');
    await ask<Door>('owner', 'PATCH', `/api/doors/${scene.door}`, { listed: true });
    expect((await page(path)).robots).toBeNull();
    for (const other of ['/', '/library', `/folder/${scene.handed}`])
      expect((await page(other)).robots, other).toContain('noindex');
  });

  it('is nothing for a door with a word, a closed one, a school’s, and one that never was', async () => {
    const scene = await server.scene();
    const { address } = await ask<Door>('owner', 'POST', '/api/doors', {
      thing: { kind: 'folder', id: scene.inner },
      kind: 'school',
    });
    await ask<Door>('owner', 'PATCH', `/api/doors/${scene.door}`, { word: 'worms', listed: true });
    for (const path of [
      `/open/${scene.token}`,
      new URL(address).pathname,
      '/open/no-such-token-was-ever-made',
    ]) {
      const { robots, text } = await page(path);
      expect(text, path).not.toContain('og:title');
      expect(robots, path).toContain('noindex');
    }
    await ask<Door>('owner', 'PATCH', `/api/doors/${scene.door}`, { word: '' });
    await ask('owner', 'DELETE', `/api/doors/${scene.door}`);
    expect((await page(`/open/${scene.token}`)).text).not.toContain('og:title');
  });
});
