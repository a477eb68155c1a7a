import type { InitialState, NewThings, Session } from '@sammlung/contract';
import { eq } from 'drizzle-orm';
import { afterAll, describe, expect, it, vi } from 'vitest';
import { people } from '../src/db/schema/index.ts';
import { mail, startServer, type Who } from './harness.ts';
import { makeWeb } from './web.ts';

const web = makeWeb();
const server = await startServer({ web: web.folder });
const { ask, call, db } = server;
afterAll(async () => {
  await server.stop();
  web.remove();
});

const EMPTY = '<body><div id="app"></div><p>End</p></body>';

/** A page as somebody gets it, with what it brings along; that is null for one that is not made. */
async function page(who: Who, path: string, headers: Record<string, string> = {}) {
  const reply = await call(who, 'GET', path, undefined, { 'content-type': '', ...headers });
  expect(reply.status).toBe(200);
  const html = await reply.text();
  const json = /<script type="application\/json" id="initial-state">(.*?)<\/script>/su.exec(
    html,
  )?.[1];
  const initial = json === undefined ? null : (JSON.parse(json) as InitialState);
  expect(html).toContain('<p>End</p></body></html>');
  if (!initial) expect(html).toContain(EMPTY);
  return { html, initial, cache: reply.headers.get('cache-control') };
}
const whose = ({ initial }: { initial: InitialState | null }) =>
  (initial?.replies['/api/session'] as Session | undefined)?.person?.name;

describe('a page that the server makes', () => {
  it('shows what the API replies to whoever asks, and brings the replies along', async () => {
    const scene = await server.scene();
    const { html, initial, cache } = await page('student in', '/new');
    const told = await ask<NewThings>('student in', 'GET', '/api/new?limit=100');
    expect(initial!.replies).toEqual({
      '/api/session': await ask('student in', 'GET', '/api/session'),
      '/api/new?limit=100': told,
    });
    expect(told.things.map(({ placementId }) => placementId)).toContain(scene.placement);
    expect(initial!.at).toBe(new Date(server.clock.now).toISOString());
    expect(html).toContain(`<div id="app"><main>{"language":"en"`);
    expect(cache).toBe('no-store');
  });

  it('names the scripts it begins with, and what they import, that the page itself does not name', async () => {
    const { html } = await page('student in', '/new');
    const loads = [...html.matchAll(/<link rel="modulepreload" crossorigin href="([^"]*)">/gu)];
    expect(loads.map(([, href]) => href)).toEqual(['/assets/New-5e.js', '/assets/first-1a2b.js']);
  });

  it('is each one’s own, however many ask at once', async () => {
    await server.scene();
    const askers = Array.from({ length: 60 }, (_, n): Who =>
      n % 3 === 0 ? 'student in' : n % 3 === 1 ? 'student out' : 'other school',
    );
    const got = await Promise.all(askers.map((who) => page(who, '/new')));
    for (const [n, one] of got.entries()) {
      expect(whose(one)).toBe((await ask<Session>(askers[n]!, 'GET', '/api/session')).person!.name);
      const { things } = one.initial!.replies['/api/new?limit=100'] as NewThings;
      expect(things.length > 0).toBe(askers[n] === 'student in');
    }
  });

  it('is drawn once for all who are told the same, and with the name of each', async () => {
    await server.scene();
    for (const who of ['joiner', 'leaver'] as const) await server.enrol(who, 'student');
    const made = ({ html }: { html: string }) => {
      const text = /<main>(.*)<\/main>/su.exec(html)![1]!;
      const { drawn, replies } = JSON.parse(text) as { drawn: number } & InitialState;
      return { drawn, name: (replies['/api/session'] as Session).person!.name };
    };
    const [one, other, again] = await Promise.all(
      (['joiner', 'leaver', 'joiner'] as const).map(async (who) => made(await page(who, '/new'))),
    );
    expect(one!.name).not.toBe(other!.name);
    expect(again).toEqual(one);
    expect(other!.drawn).toBe(one!.drawn);
    // Whoever is told something else gets another page, and one's own again when that is as it was.
    const before = made(await page('student in', '/new'));
    expect(before.drawn).not.toBe(one!.drawn);
    await server.scene();
    expect(made(await page('student in', '/new')).drawn).toBeGreaterThan(before.drawn);
    expect(made(await page('leaver', '/new'))).toEqual(other);
  });

  it('runs nothing of what people have written', async () => {
    // Names of things have none of these signs; names of people may.
    const name = '</script><script>alert(1)</script> & $& <!--';
    const before = await ask<Session>('student in', 'GET', '/api/session');
    const student = eq(people.email, mail('student in'));
    await db.update(people).set({ name }).where(student);
    await vi.waitFor(async () => {
      const { person } = await ask<Session>('student in', 'GET', '/api/session');
      expect(person!.name).toBe(name);
    });
    const got = await page('student in', '/new');
    await db.update(people).set({ name: before.person!.name }).where(student);
    expect(whose(got)).toBe(name);
    const { html } = got;
    expect(html.split('<script').length).toBe(3);
    expect(html).not.toContain('<!--');
  });

  it('speaks the language of the person, else of the browser’s choice, else of the browser', async () => {
    const language = async (headers: Record<string, string>) => {
      const { html } = await page('student in', '/new', headers);
      const said = /<html lang="(..)">/u.exec(html)?.[1];
      expect(html).toContain(`<main>{"language":"${said}"`);
      return said;
    };
    const cookie = server.cookies.get('student in')!;
    expect(await language({})).toBe('en');
    expect(await language({ 'accept-language': 'fr-FR, de-CH;q=0.8, en;q=0.6' })).toBe('de');
    expect(await language({ 'accept-language': 'fr, nonsense' })).toBe('en');
    const chosen = { 'accept-language': 'en', cookie: `${cookie}; language=de` };
    expect(await language(chosen)).toBe('de');
    expect(await language({ cookie: `${cookie}; language=xx` })).toBe('en');
    const student = eq(people.email, mail('student in'));
    await db.update(people).set({ language: 'en' }).where(student);
    // The server hears of it a moment later.
    await vi.waitFor(async () => expect(await language(chosen)).toBe('en'));
    await db.update(people).set({ language: null }).where(student);
  });

  it('comes packed or not, as the browser wants it', async () => {
    for (const encoding of ['gzip, br', 'identity']) {
      const reply = await call('student in', 'GET', '/new', undefined, {
        'content-type': '',
        'accept-encoding': encoding,
      });
      expect(reply.headers.get('content-encoding')).toBe(encoding === 'identity' ? null : 'gzip');
      expect(await reply.text()).toContain('id="initial-state"');
    }
  });
});

describe('a page is empty, and fetches by itself,', () => {
  it('where it is not one that is made, or nobody has signed in', async () => {
    for (const [who, path] of [
      ['student in', '/desk'],
      ['visitor without', '/new'],
      ['owner', '/library'],
    ] as const) {
      const { initial, cache } = await page(who, path);
      expect(initial, path).toBeNull();
      expect(cache, path).toBe('no-cache');
    }
    const { initial } = await page('student in', '/new', { cookie: 'sammlung=nonsense; a' });
    expect(initial).toBeNull();
  });

  it('while too many are being made', async () => {
    const { initial, cache } = await page('student in', '/busy');
    expect(initial).toBeNull();
    expect(cache).toBe('no-store');
  });

  it('where making it fails, which the log tells', async () => {
    const log = vi.spyOn(server.app.log, 'error').mockImplementation(() => undefined);
    const { initial, html } = await page('student in', '/broken');
    expect(initial).toBeNull();
    expect(html).toContain('<title>Sammlung</title>');
    expect(log).toHaveBeenCalledWith(expect.objectContaining({ message: 'cannot be made' }));
    log.mockRestore();
  });
});

describe('a page behind a door', () => {
  it('is made for everybody, with the title for link previews, and in frames', async () => {
    const scene = await server.scene();
    for (const path of [`/open/${scene.token}`, `/embed/${scene.token}`]) {
      const { initial, html, cache } = await page('visitor without', path);
      expect(Object.keys(initial!.replies)).toEqual([
        `/api/open/${scene.token}`,
        `/api/open/${scene.token}/folders/${scene.handed}`,
      ]);
      expect(html.includes('og:title')).toBe(path.startsWith('/open'));
      expect(cache).toBe('no-store');
      expect(html).not.toContain('Secret');
    }
  });

  it('is not made, and tells nothing, once the door is closed or where there never was one', async () => {
    const scene = await server.scene();
    await ask('owner', 'DELETE', `/api/doors/${scene.door}`);
    for (const token of [scene.token, 'no-such-token-was-ever-made', '%E0%A4%A', '..'])
      for (const place of ['open', 'embed']) {
        const reply = await call('visitor without', 'GET', `/${place}/${token}`);
        expect(await reply.text(), token).not.toMatch(/initial|Handed out/u);
      }
  });
});
