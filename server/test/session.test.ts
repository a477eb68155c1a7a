import { request } from 'node:http';
import { hash } from '@node-rs/argon2';
import type { Session, Today } from '@sammlung/contract';
import { eq } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import { mails, schools, sessions } from '../src/db/schema/index.ts';
import { AppError } from '../src/platform/errors.ts';
import { hashingQueue } from '../src/platform/hashing.ts';
import { passwordToken, setFirstPasswords } from '../src/platform/passwords.ts';
import { countAttempt } from '../src/platform/rate-limits.ts';
import { mail, PASSWORD, startServer, type Who } from './harness.ts';

const server = await startServer();
const { cookies, base } = server;
afterAll(() => server.stop());

/** A request whose target is written just so. */
function raw(method: string, target: string, headers: Record<string, string>, body?: string) {
  const { hostname, port } = new URL(base);
  return new Promise<{ status: number; headers: Record<string, unknown>; text: string }>(
    (resolve, reject) => {
      const sent = request({ hostname, port, method, path: target, headers }, (reply) => {
        let text = '';
        reply.setEncoding('utf8').on('data', (part: string) => (text += part));
        reply.on('end', () =>
          resolve({ status: reply.statusCode ?? 0, headers: reply.headers, text }),
        );
      });
      sent.on('error', reject).end(body);
    },
  );
}

describe('an address of the API, however it is written', () => {
  it.each([
    ['with an encoded letter', (path: string) => path.replace('/api', '/%61pi')],
    ['as an absolute target', (path: string) => `${base}${path}`],
    ['as an absolute target of another host', (path: string) => `http://a.example${path}`],
  ])('%s, knows who asks, and is kept by nobody', async (_, written) => {
    const cookie = cookies.get('owner')!;
    const reply = await raw('GET', written('/api/session'), { cookie });
    expect(reply.status).toBe(200);
    expect(JSON.parse(reply.text).person).toMatchObject({ name: 'owner' });
    expect(reply.headers['cache-control']).toBe('no-store');
    const none = await raw('GET', written('/api/nowhere'), { cookie });
    expect([none.status, none.headers['cache-control']]).toEqual([404, 'no-store']);
  });

  it.each([
    ['with an encoded letter', (path: string) => path.replace('/api', '/%61pi')],
    ['as an absolute target', (path: string) => `${base}${path}`],
  ])('%s, changes nothing for another site', async (_, written) => {
    const headers = {
      cookie: cookies.get('owner')!,
      'content-type': 'application/json',
      origin: 'https://evil.example',
    };
    const body = JSON.stringify({ parentId: null, title: 'Forged' });
    const reply = await raw('POST', written('/api/folders'), headers, body);
    expect(JSON.parse(reply.text)).toMatchObject({ status: 403, code: 'wrong-origin' });
  });
});

describe('a new password', () => {
  const post = (path: string, body: object) =>
    fetch(`${base}${path}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    });

  it('ends every link and word from before, and all sessions', async () => {
    const personId = server.world.ids['student out'];
    const { db } = server;
    await setFirstPasswords(db, [{ personId, hash: await hash('word-of-a-slip') }]);
    const token = (kind: 'password' | 'invitation') =>
      passwordToken(db, personId, kind, server.clock.now);
    const [older, used, invitation] = [
      await token('password'),
      await token('password'),
      await token('invitation'),
    ];
    const others = await passwordToken(
      db,
      server.world.ids['other school'],
      'password',
      server.clock.now,
    );
    const choose = (by: string) =>
      post('/api/session/password', { token: by, password: 'a sentence of mine' });
    expect((await choose(used)).status).toBe(204);
    for (const left of [older, invitation, used]) expect((await choose(left)).status).toBe(410);
    const signIn = (password: string) =>
      post('/api/session', { email: mail('student out'), password });
    expect((await signIn('word-of-a-slip')).status).toBe(401);
    expect((await signIn(PASSWORD)).status).toBe(401);
    expect((await signIn('a sentence of mine')).status).toBe(204);
    const before = await server.ask<Session>('student out', 'GET', '/api/session');
    expect(before.person).toBeNull();
    expect((await choose(others)).status).toBe(204);
  });
});

describe('a session', () => {
  it('is of no use once it has expired', async () => {
    cookies.set('colleague', await server.signIn('colleague'));
    const expire = (expiresAt: Date) =>
      server.db
        .update(sessions)
        .set({ expiresAt })
        .where(eq(sessions.userId, server.world.ids.colleague));
    const status = async () => (await server.call('colleague', 'GET', '/api/new')).status;
    expect(await status()).toBe(200);
    await expire(new Date(Date.now() - 1000));
    // A process hears of it from the database, not in the same instant.
    await expect.poll(status).toBe(401);
    await expire(new Date(Date.now() + 60_000));
    expect(await status()).toBe(200);
  });
});

describe('tries for an account', () => {
  const { rateLimits } = server.app.services;

  it('are ten from one place and a hundred from all; right ones are given back', async () => {
    const from = (place: number) => countAttempt(rateLimits, 'mina@example.org', `10.0.0.${place}`);
    for (let place = 0; place < 10; place += 1)
      for (let n = 0; n < 10; n += 1) {
        const giveBack = await from(place);
        if (n === 0) {
          await giveBack();
          await from(place);
        }
      }
    await expect(from(0)).rejects.toMatchObject({ code: 'too-many-tries' });
    await expect(from(11)).rejects.toMatchObject({ code: 'too-many-tries' });
    await countAttempt(rateLimits, 'other@example.org', '10.0.0.0');
  });
});

describe('people of the sample school', () => {
  it('do not sign in while the sample is off, and those who have are out', async () => {
    const plain = await startServer({ sample: false });
    try {
      await plain.db
        .update(schools)
        .set({ sample: true })
        .where(eq(schools.id, plain.world.schoolId));
      const me = async (who: Who) =>
        (await plain.ask<Session>(who, 'GET', '/api/session')).person?.name;
      expect(await me('owner')).toBeUndefined();
      expect(await me('other school')).toBe('other school');
      await expect(plain.signIn('owner')).rejects.toThrow('401');
      expect(await plain.signIn('other school')).toBeTruthy();
      expect(await plain.ask('visitor without', 'GET', '/api/sample')).toEqual({ signIns: [] });
      for (const who of ['owner', 'other school'])
        await plain.ask('visitor without', 'POST', '/api/session/forgotten', { email: mail(who) });
      const sent = await plain.db.select().from(mails);
      expect(sent.map((m) => m.personId)).toEqual([plain.world.ids['other school']]);
    } finally {
      await plain.stop();
    }
  });
});

describe('at once', () => {
  const post = (path: string, body: object) =>
    fetch(`${base}${path}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    });
  const count = (replies: Response[]) => {
    const counts: Record<number, number> = {};
    for (const { status } of replies) counts[status] = (counts[status] ?? 0) + 1;
    return counts;
  };

  it('of many wrong passwords ten are judged; the owner gets in elsewhere', async () => {
    const replies = await Promise.all(
      Array.from({ length: 200 }, () =>
        post('/api/session', { email: mail('colleague'), password: 'wrong' }),
      ),
    );
    expect(count(replies)).toEqual({ 401: 10, 429: 190 });
    const elsewhere = await server.app.inject({
      method: 'POST',
      url: '/api/session',
      remoteAddress: '203.0.113.7',
      payload: { email: mail('colleague'), password: PASSWORD },
    });
    expect(elsewhere.statusCode).toBe(204);
  });

  it('right ones cost no tries', async () => {
    for (let n = 0; n < 12; n += 1)
      expect(
        (await post('/api/session', { email: mail('office'), password: PASSWORD })).status,
      ).toBe(204);
  });

  it('of many forgotten passwords ten are sent', async () => {
    await server.db.delete(mails);
    const replies = await Promise.all(
      Array.from({ length: 60 }, () =>
        post('/api/session/forgotten', { email: mail('student in') }),
      ),
    );
    expect(count(replies)).toEqual({ 204: 10, 429: 50 });
    expect(await server.db.select().from(mails)).toHaveLength(10);
  });

  it('of many requests to see something ten are noted; of many answers to one the first', async () => {
    const scenes = [];
    for (let n = 0; n < 15; n += 1) scenes.push(await server.scene());
    const replies = await Promise.all(
      scenes.map(({ secret }) =>
        server.call('student in', 'POST', '/api/requests', {
          thing: { kind: 'folder', id: secret },
          message: '',
        }),
      ),
    );
    expect(count(replies)).toEqual({ 204: 10, 429: 5 });
    const { requests } = await server.ask<Today>('owner', 'GET', '/api/today');
    await server.db.delete(mails);
    const answers = await Promise.all(
      ['no', 'person', 'no', 'person', 'no'].map((answer) =>
        server.call('owner', 'POST', `/api/requests/${requests[0]!.id}/answer`, { answer }),
      ),
    );
    expect(count(answers)).toEqual({ 200: 1, 409: 4 });
    expect(await server.db.select().from(mails)).toHaveLength(1);
  });

  it('what waits to be hashed is bounded, and says so', async () => {
    const hashing = hashingQueue(5);
    let done = 0;
    const slow = () => new Promise<void>((resolve) => setTimeout(() => (done++, resolve()), 20));
    const all = await Promise.allSettled(Array.from({ length: 40 }, () => hashing(slow)));
    const refused = all.filter((one) => one.status === 'rejected');
    expect(refused.length).toBeGreaterThan(0);
    expect(
      refused.every(({ reason }) => reason instanceof AppError && reason.code === 'busy'),
    ).toBe(true);
    expect(done).toBe(40 - refused.length);
    await hashing(slow);
  });
});
