import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { api } from '../src/app/api/api.ts';
import { useInitial, dropInitial } from '../src/app/api/initial-state.ts';
import { beginPage } from './setup.ts';

/** A server that counts what it is asked for, and answers with how often that was. */
const asked: string[] = [];
beforeEach(() => {
  asked.length = 0;
  vi.stubEnv('SSR', false);
  vi.stubGlobal('fetch', async (path: string) => {
    asked.push(path);
    return Response.json({ nth: asked.filter((x) => x === path).length });
  });
});
afterEach(() => {
  dropInitial();
  vi.unstubAllEnvs();
  vi.unstubAllGlobals();
});

const ask = () => api('GET /api/new');
/** What queries find under their keys. */
function drawn() {
  const data = new Map<string, unknown>();
  const cache = { setQueryData: (key: unknown[], reply: unknown) => data.set(key.join(), reply) };
  useInitial(cache as never, ['new'], '/api/new');
  return data.get('new');
}

describe('what a page has brought along', () => {
  it('answers whoever asks first, in place of the server', async () => {
    beginPage({ '/api/new': { nth: 0 }, '/api/classes': [] });
    expect(await api('GET /api/classes')).toEqual([]);
    expect(asked).toEqual([]);
    expect([await ask(), await ask(), await ask()]).toEqual([{ nth: 0 }, { nth: 1 }, { nth: 2 }]);
    await api('GET /api/classes');
    expect(asked).toEqual(['/api/new', '/api/new', '/api/classes']);
  });
  it('is drawn at once, and is then no answer any more', async () => {
    beginPage({ '/api/new': { nth: 0 } });
    expect(drawn()).toEqual({ nth: 0 });
    expect(drawn()).toBeUndefined();
    expect(await ask()).toEqual({ nth: 1 });
  });
  it('answers no change, and nothing once another page is shown', async () => {
    beginPage({ '/api/new': { nth: 0 } });
    await api('PUT /api/new/digest', { body: { digest: true } });
    expect(asked).toEqual(['/api/new/digest']);
    dropInitial();
    expect(await ask()).toEqual({ nth: 1 });
  });
  it('is all that the server has to make a page of, however often it is wanted', async () => {
    vi.stubEnv('SSR', true);
    beginPage({ '/api/new': { nth: 0 } });
    expect([await ask(), drawn(), await ask()]).toEqual([{ nth: 0 }, { nth: 0 }, { nth: 0 }]);
    await expect(api('GET /api/classes')).rejects.toThrow('/api/classes is not among');
    beginPage({ '/api/classes': [] });
    await expect(ask()).rejects.toThrow('/api/new is not among');
    expect(asked).toEqual([]);
  });
});
