import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { arriving, askEarly, dropEarly, perhapsEarly } from '../src/app/early.ts';

/** A server that counts what it is asked for, and answers with how often that was. */
const asked: string[] = [];
let down = false;
beforeEach(() => {
  asked.length = 0;
  down = false;
  vi.stubGlobal('fetch', async (path: string) => {
    asked.push(path);
    if (down) throw new TypeError('no connection');
    return Response.json({ path, nth: asked.filter((x) => x === path).length });
  });
});
afterEach(() => {
  dropEarly();
  vi.unstubAllGlobals();
});

const wanted = () => perhapsEarly<{ nth: number }>(() => '/api/new');

describe('what is asked for before the page that wants it is there', () => {
  it('is asked for once, is there to be drawn at once, and is not asked for again when the page is', async () => {
    askEarly(['/api/new']);
    askEarly(['/api/new']);
    await arriving(5000);
    const options = wanted();
    expect(options.initialData()).toEqual({ path: '/api/new', nth: 1 });
    expect(options.refetchOnMount).toBe(false);
    expect(asked).toEqual(['/api/new']);
    // Asked for later, it is as it is then; so it is for whoever comes to the page again.
    expect(await options.query()).toMatchObject({ nth: 2 });
    expect(wanted().initialData()).toBeUndefined();
    expect(wanted().refetchOnMount).toBe(true);
  });
  it('is waited for where it is still on its way, and once only', async () => {
    askEarly(['/api/new']);
    const options = wanted();
    expect(options.initialData()).toBeUndefined();
    expect(await options.query()).toMatchObject({ nth: 1 });
    expect(await options.query()).toMatchObject({ nth: 2 });
  });
  it('is asked for again by the page where it failed', async () => {
    down = true;
    askEarly(['/api/new']);
    await arriving(5000);
    down = false;
    expect(await wanted().query()).toMatchObject({ nth: 2 });
  });
  it('is forgotten when somebody else has come, and never waited for beyond patience', async () => {
    askEarly(['/api/new']);
    dropEarly();
    expect(await wanted().query()).toMatchObject({ nth: 2 });
    vi.stubGlobal('fetch', () => new Promise(() => undefined));
    askEarly(['/api/classes']);
    await arriving(1);
    expect(perhapsEarly(() => '/api/classes').initialData()).toBeUndefined();
  });
});
