import fc from 'fast-check';
import { sql } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { ROUTES, type Route } from '@sammlung/contract';
import { startServer, type Who } from './harness.ts';
import { sendable } from './arbitrary.ts';

const SEED = Number(process.env.SEED ?? Math.floor(Math.random() * 2 ** 31));
const RUNS = Number(process.env.RUNS ?? 12);
/** No answer takes longer, in milliseconds. What does is asked again alone: other tests may have had the processor. */
const LIMIT = 2000;
const WHO: readonly Who[] = ['owner', 'office', 'student in', 'visitor with door'];

const server = await startServer();
afterAll(() => server.stop());

interface Asked {
  readonly who: Who;
  readonly path: string;
  readonly body: unknown;
}

/** The ids and tokens of things that are there, for whoever sends them. */
async function there() {
  const scene = await server.scene();
  const { ids, classA, classB, courseId, yearId, schoolId } = server.world;
  const uuids = Object.values({ ...scene, ...ids, classA, classB, courseId, yearId, schoolId });
  return { token: scene.token, ids: uuids.filter((id) => z.uuid().safeParse(id).success) };
}

function requests(
  url: string,
  { params, query, body }: Route,
  { token, ids }: Awaited<ReturnType<typeof there>>,
) {
  const none = fc.constant<unknown>({});
  const values = (part: unknown) => (part instanceof z.ZodType ? sendable(part, ids) : none);
  const param = (value: unknown) =>
    encodeURIComponent(String(value).replaceAll(/[\ud800-\udfff]/gu, 'x'));
  return fc
    .record({
      who: fc.constantFrom(...WHO),
      params: values(params) as fc.Arbitrary<Record<string, unknown>>,
      query: values(query) as fc.Arbitrary<Record<string, unknown>>,
      body: body instanceof z.ZodType ? sendable(body, ids) : fc.constant(undefined),
      known: fc.integer({ min: 0, max: 3 }),
    })
    .map(({ who, params, query, body, known }): Asked => {
      const path = url.replaceAll(/:(\w+)/gu, (_, name: string) =>
        name === 'token' && known > 0 ? token : param(params[name] ?? 'x') || 'x',
      );
      const asked = Object.entries(query)
        .filter(([, value]) => value !== undefined && value !== null)
        .map(([name, value]) => `${name}=${param(value)}`);
      return { who, path: asked.length > 0 ? `${path}?${asked.join('&')}` : path, body };
    });
}

/** Keeps how everybody signs in; resolves to what brings it back. The office may change any of it. */
async function keepSignIns() {
  await server.db.execute(sql`create table kept_people as select * from people`);
  await server.db.execute(sql`create table kept_credentials as select * from credentials`);
  return async () => {
    await server.db.execute(sql`
      update people p set email = k.email, sign_in_name = k.sign_in_name, kind = k.kind, deactivated_at = k.deactivated_at
      from kept_people k where k.id = p.id`);
    await server.db.execute(
      sql`delete from credentials where user_id in (select id from kept_people)`,
    );
    await server.db.execute(sql`insert into credentials select * from kept_credentials`);
    await server.signInAgain();
  };
}

/** Sends a request; resolves to its status and the time until it was answered. */
async function send(method: string, { who, path, body }: Asked) {
  const started = performance.now();
  const reply = await server.call(who, method, path, method === 'GET' ? undefined : body);
  const took = performance.now() - started;
  // What never ends, as live news does, is not read.
  const text = reply.status >= 500 ? await reply.text() : '';
  if (text === '') await reply.body?.cancel();
  return { status: reply.status, took, text };
}

describe('every route', () => {
  it('answers whatever the contract lets somebody send, without a fault of its own and in time', async () => {
    console.log(`Requests from SEED=${SEED}`);
    const routes = Object.entries<Route>(ROUTES).filter(([key]) => !key.startsWith('HEAD'));
    const faults: string[] = [];
    let answered = 0;
    const bringBack = await keepSignIns();
    for (const [key, route] of routes) {
      const [method, url] = key.split(' ') as [string, string];
      const known = await there();
      const these = fc.sample(requests(url, route, known), { seed: SEED, numRuns: RUNS });
      for (const asked of these) {
        const { status, took, text } = await send(method, asked);
        const said = `${asked.who}: ${method} ${asked.path} ${JSON.stringify(asked.body)}`;
        // oEmbed says so of a form that is not written here.
        const told = status === 501 && text.includes('"json-only"');
        if (status >= 500 && !told) faults.push(`${said.slice(0, 1500)} -> ${status} ${text}`);
        else if (status < 400) answered += 1;
        if (took > LIMIT) {
          const again = await send(method, asked);
          if (again.took > LIMIT) faults.push(`${said.slice(0, 500)} -> ${again.took} ms`);
        }
      }
      if (method !== 'GET') await bringBack();
    }
    expect(faults).toEqual([]);
    expect(routes.length).toBeGreaterThan(140);
    expect(answered).toBeGreaterThan(routes.length);
  });
});
