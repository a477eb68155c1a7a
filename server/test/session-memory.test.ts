import type { MyClasses, Session } from '@sammlung/contract';
import { eq } from 'drizzle-orm';
import fc from 'fast-check';
import { afterAll, describe, expect, it, vi } from 'vitest';
import { memberships, people, sessions } from '../src/db/schema/index.ts';
import { SessionMemory } from '../src/platform/session-memory.ts';
import type { App } from '../src/app-type.ts';
import { startServer } from './harness.ts';

const person = (id: string) => ({ id, schoolId: 'school' });
const hearing = () =>
  Object.assign(new SessionMemory<ReturnType<typeof person>>(), { hears: true });

describe('what is remembered of sessions', () => {
  it('is never what was read before a change, in whatever order reads and changes come', async () => {
    const Step = fc.record({
      cookie: fc.constantFrom('a', 'b'),
      does: fc.constantFrom('begins', 'ends', 'changes'),
    });
    await fc.assert(
      fc.asyncProperty(fc.array(Step, { maxLength: 40 }), async (steps) => {
        const memory = hearing();
        /** How often the session of each cookie has changed; a person's id says which state was read. */
        const state = { a: 0, b: 0 };
        const reading: { cookie: 'a' | 'b'; end: () => Promise<unknown> }[] = [];
        for (const { cookie, does } of steps) {
          const key = cookie as 'a' | 'b';
          if (does === 'begins') {
            let answer = () => {};
            const found = { person: person(`${key}${state[key]}`), endsAt: Infinity };
            const answered = new Promise<typeof found>(
              (resolve) => (answer = () => resolve(found)),
            );
            const read = memory.read(key, () => answered);
            reading.push({ cookie: key, end: () => (answer(), read) });
          } else if (does === 'ends') await reading.shift()?.end();
          else {
            memory.forget(`${key}${state[key]}`);
            state[key] += 1;
          }
          for (const one of ['a', 'b'] as const) {
            const known = memory.get(one);
            if (known) expect(known.id).toBe(`${one}${state[one]}`);
          }
        }
        await Promise.all(reading.map(({ end }) => end()));
      }),
    );
  });

  it('lasts ten seconds, no longer than the session, and is nothing while changes are not heard', async () => {
    vi.useFakeTimers();
    try {
      const memory = hearing();
      const read = (cookie: string, endsAt: number) =>
        memory.read(cookie, async () => ({ person: person(cookie), endsAt }));
      await read('long', Infinity);
      await read('short', Date.now() + 1000);
      vi.advanceTimersByTime(999);
      expect([memory.get('long')?.id, memory.get('short')?.id]).toEqual(['long', 'short']);
      vi.advanceTimersByTime(1);
      expect([memory.get('long')?.id, memory.get('short')]).toEqual(['long', null]);
      vi.advanceTimersByTime(9000);
      expect(memory.get('long')).toBeNull();
      await read('long', Infinity);
      memory.hears = false;
      expect(memory.get('long')).toBeNull();
      await read('long', Infinity);
      expect(memory.get('long')).toBeNull();
    } finally {
      vi.useRealTimers();
    }
  });
});

describe('two processes', async () => {
  const server = await startServer();
  const second = await server.process();
  afterAll(async () => {
    await second.close();
    await server.stop();
  });
  const { db, world } = server;
  const read = async <T>(app: App, path: string, cookie: string) => {
    const reply = await app.inject({ url: path, headers: { cookie } });
    return { status: reply.statusCode, said: reply.json<T>() };
  };
  const who = async (app: App, cookie: string) =>
    (await read<Session>(app, '/api/session', cookie)).said.person;
  /** Somebody who has signed in anew, and whom both processes remember. */
  async function remembered() {
    const cookie = await server.signIn('student in');
    for (const app of [server.app, second])
      for (let n = 0; n < 2; n += 1) expect((await who(app, cookie))?.name).toBe('student in');
    return cookie;
  }
  const student = eq(people.id, world.ids['student in']);

  it.each([
    [
      'signing out',
      async (cookie: string) => {
        const headers = { cookie };
        await server.app.inject({ method: 'DELETE', url: '/api/session', headers });
        // The process that it happened in knows at once.
        expect(await who(server.app, cookie)).toBeNull();
      },
      null,
    ],
    [
      'sessions that are ended',
      () => db.delete(sessions).where(eq(sessions.userId, world.ids['student in'])),
      null,
    ],
    ['another role', () => db.update(people).set({ kind: 'office' }).where(student), 'office'],
  ])('both obey %s', async (_, change, kind) => {
    for (let round = 0; round < 5; round += 1) {
      const cookie = await remembered();
      await change(cookie);
      for (const app of [server.app, second])
        await vi.waitFor(async () => expect((await who(app, cookie))?.kind ?? null).toBe(kind));
      await db.update(people).set({ kind: 'student' }).where(student);
    }
  });

  it('the list of a class is never remembered: the very next request obeys it', async () => {
    const cookie = await remembered();
    const classes = async () =>
      (await read<MyClasses>(second, '/api/classes', cookie)).said.classes.length;
    const mine = eq(memberships.personId, world.ids['student in']);
    for (let round = 0; round < 5; round += 1) {
      expect(await classes()).toBe(1);
      await db
        .update(memberships)
        .set({ untilAt: new Date(server.clock.now) })
        .where(mine);
      expect(await classes()).toBe(0);
      await db.update(memberships).set({ untilAt: null }).where(mine);
    }
  });
});
