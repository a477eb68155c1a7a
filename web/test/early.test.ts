import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { api } from '../src/app/api.ts';
import { arriving, askEarly, bring, drawnAtOnce, dropEarly } from '../src/app/early.ts';

/** A server that counts what it is asked for, and answers with how often that was. */
const asked: string[] = [];
let down = false;
beforeEach(() => {
  asked.length = 0;
  down = false;
  vi.stubEnv('SSR', false);
  vi.stubGlobal('fetch', async (path: string) => {
    asked.push(path);
    if (down) throw new TypeError('no connection');
    return Response.json({ path, nth: asked.filter((x) => x === path).length });
  });
});
afterEach(() => {
  dropEarly();
  vi.unstubAllEnvs();
  vi.unstubAllGlobals();
});

const ask = () => api<{ nth: number }>('GET', '/api/new');
const early = () => askEarly(['/api/new'], ask);
const drawn = () => drawnAtOnce<{ nth: number }>('/api/new');

describe('what is asked for before the page that wants it is there', () => {
  it('is asked for once, is there to be drawn at once, and is not asked for again when the page is', async () => {
    early();
    early();
    await arriving(5000);
    const options = drawn();
    expect(options.initialData()).toEqual({ path: '/api/new', nth: 1 });
    expect(options.refetchOnMount).toBe(false);
    expect(asked).toEqual(['/api/new']);
    // Asked for later, it is as it is then; so it is for whoever comes to the page again.
    expect(await ask()).toMatchObject({ nth: 2 });
    expect(drawn().initialData()).toBeUndefined();
    expect(drawn().refetchOnMount).toBe(true);
  });
  it('is waited for where it is still on its way, and once only', async () => {
    early();
    expect(drawn().initialData()).toBeUndefined();
    expect(await ask()).toMatchObject({ nth: 1 });
    expect(await ask()).toMatchObject({ nth: 2 });
  });
  it('is asked for again by the page where it failed', async () => {
    down = true;
    early();
    await arriving(5000);
    down = false;
    expect(await ask()).toMatchObject({ nth: 2 });
  });
  it('is forgotten when somebody else has come, and never waited for beyond patience', async () => {
    early();
    dropEarly();
    expect(await ask()).toMatchObject({ nth: 2 });
    vi.stubGlobal('fetch', () => new Promise(() => undefined));
    early();
    await arriving(1);
    expect(drawn().initialData()).toBeUndefined();
  });
});

describe('what a page has brought along', () => {
  it('is there to be drawn at once and answers whoever asks first, in place of the server', async () => {
    bring({ '/api/new': { nth: 0 }, '/api/classes': [] });
    expect(await api('GET', '/api/classes')).toEqual([]);
    expect(drawn().initialData()).toEqual({ nth: 0 });
    expect(asked).toEqual([]);
    expect(await ask()).toMatchObject({ nth: 1 });
    await api('GET', '/api/classes');
    expect(asked).toEqual(['/api/new', '/api/classes']);
  });
  it('is not asked for ahead, and answers no change', async () => {
    bring({ '/api/new': { nth: 0 } });
    early();
    await api('PUT', '/api/new', {});
    expect(asked).toEqual(['/api/new']);
    expect(await ask()).toEqual({ nth: 0 });
  });
  it('is all that the server has to make a page of, however often it is wanted', async () => {
    vi.stubEnv('SSR', true);
    bring({ '/api/new': { nth: 0 } });
    expect([await ask(), await ask()]).toEqual([{ nth: 0 }, { nth: 0 }]);
    await expect(api('GET', '/api/classes')).rejects.toThrow('/api/classes is not among');
    bring({ '/api/classes': [] });
    await expect(ask()).rejects.toThrow('/api/new is not among');
    expect(asked).toEqual([]);
  });
});
