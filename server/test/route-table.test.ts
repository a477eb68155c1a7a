import { randomUUID } from 'node:crypto';
import { ROUTES } from '@sammlung/contract';
import { and, eq, gt, isNull, max } from 'drizzle-orm';
import { afterAll, describe, expect, it } from 'vitest';
import { log, placements } from '../src/db/schema/index.ts';
import { newScene, server, TABLE, WHO } from './routes.ts';

const { classA, courseId, yearId, content } = server.world;
afterAll(() => server.stop());

/** The text of a reply; a page's line has none and is let go. */
async function read(reply: Response): Promise<string> {
  if (!reply.headers.get('content-type')?.startsWith('text/event-stream')) return reply.text();
  await reply.body?.cancel();
  return '';
}

/** The last entry of the log. */
const lastLogged = async () => (await server.db.select({ id: max(log.id) }).from(log))[0]!.id ?? 0;

/** After these the asker has another session or none. */
const ended = new Set([
  'DELETE /api/session',
  'POST /api/session',
  'POST /api/session/password',
  'PUT /api/account/password',
  'POST /api/account/second-step/off',
]);
const REAL = /[\da-f]{8}(?:-[\da-f]{4}){3}-[\da-f]{12}|[\da-f]{32}/gu;
const shared = new Set<string>([classA, courseId, yearId, content.hash]);

describe('every route for every kind of person', () => {
  it('stands in the table, and the table names no other', () => {
    expect(Object.keys(TABLE).sort()).toEqual(Object.keys(ROUTES).sort());
  });

  it('is registered from the contract, and no other is', () => {
    const api = server.app.routeList
      .filter(({ url }) => url.startsWith('/api/'))
      .map(({ method, url }) => `${method} ${url}`);
    // A HEAD beside a GET is made by the framework and answers by the same code.
    const own = api.filter(
      (route) => !(route.startsWith('HEAD') && api.includes(route.replace('HEAD', 'GET'))),
    );
    expect(own.sort()).toEqual(Object.keys(ROUTES).sort());
  });

  it('lets somebody through at each route, so that it proves a right', () => {
    // A school has begun here, nobody has an app for codes or a device, and there is no provider: `begin`, `account`, `passkey` and
    // `outside.test.ts` go through.
    const elsewhere =
      /\/api\/(begin\/|session\/(code|outside|passkey)|account\/(second-step$|recovery-codes$|passkeys))/u;
    const closed = Object.entries(TABLE).filter(
      ([route, { expected }]) =>
        !elsewhere.test(route) && Object.values(expected).every((status) => status >= 400),
    );
    expect(closed.map(([route]) => route)).toEqual([]);
  });

  it.each(Object.entries(TABLE))('%s', async (route, { ask, expected }) => {
    const method = route.split(' ')[0]!;
    let request = await ask(await newScene());
    let logged = await lastLogged();
    for (const who of WHO) {
      const { path, body, headers } = request;
      const reply = await server.call(who, method, path, body, headers);
      const text = await read(reply);
      expect(`${who}: ${reply.status}`, text).toBe(`${who}: ${expected[who]}`);
      if (reply.status >= 400 && method !== 'HEAD')
        expect(reply.headers.get('content-type')).toContain('application/problem+json');
      if (route === 'DELETE /api/session' && server.cookies.has(who))
        expect(
          (await server.call(who, 'GET', '/api/new')).status,
          'the old session is of no use',
        ).toBe(401);
      if (ended.has(route)) await server.signInAgain();
      // Who is refused, or only reads, leaves the scene as it was for the next one.
      if (method === 'GET' || !reply.ok) continue;
      const nameless = await server.db
        .select({ act: log.act })
        .from(log)
        .where(and(gt(log.id, logged), isNull(log.byId)));
      expect(nameless, 'the log says who did it').toEqual([]);
      request = await ask(await newScene());
      logged = await lastLogged();
    }
  });

  it.each(Object.entries(TABLE).filter(([, { expected }]) => expected['student out'] === 404))(
    '%s says the same of what is not there and of what is not for the asker',
    async (route, { ask }) => {
      const method = route.split(' ')[0]!;
      const { path, body, headers } = await ask(await newScene());
      const unknown = new Map<string, string>();
      const other = (text: string) =>
        text.replace(REAL, (id) => {
          if (shared.has(id)) return id;
          const random = randomUUID();
          if (!unknown.has(id))
            unknown.set(id, id.includes('-') ? random : random.replaceAll('-', ''));
          return unknown.get(id)!;
        });
      const replies = [];
      for (const change of [(text: string) => text, other]) {
        const sent = headers?.['content-type']
          ? body
          : body && JSON.parse(change(JSON.stringify(body)));
        const reply = await server.call('student out', method, change(path), sent, headers);
        replies.push({ status: reply.status, text: await read(reply) });
      }
      expect(replies[0]).toEqual(replies[1]);
    },
  );

  it('tells a student nothing of what is held back in a folder they see, not even by refusing', async () => {
    const scene = await newScene();
    await server.db
      .update(placements)
      .set({ held: true })
      .where(eq(placements.id, scene.placement));
    for (const [method, path] of [
      ['GET', ''],
      ['GET', '/content'],
      ['PUT', '/opened'],
      ['DELETE', ''],
      ['GET', '/versions'],
    ] as const) {
      const [held, none] = await Promise.all(
        [scene.placement, randomUUID()].map(async (id) => {
          const reply = await server.call('student in', method, `/api/placements/${id}${path}`);
          return { status: reply.status, text: await reply.text() };
        }),
      );
      expect(held, `${method} ${path}`).toEqual(none);
      expect(held?.status).toBe(404);
    }
  });

  it('never names what lies above a handed out folder', async () => {
    const scene = await newScene();
    for (const [who, prefix] of [
      ['student in', '/api'],
      ['visitor with door', `/api/open/${scene.token}`],
    ] as const) {
      const texts = [];
      for (const path of [
        `folders/${scene.inner}`,
        `folders/${scene.handed}/contents`,
        `placements/${scene.placement}`,
      ])
        texts.push(await (await server.call(who, 'GET', `${prefix}/${path}`)).text());
      for (const path of ['/api/new', '/api/classes'])
        if (who === 'student in') texts.push(await (await server.call(who, 'GET', path)).text());
      expect(texts.join()).toContain('Inner');
      expect(texts.join()).not.toContain('Secret');
      expect(texts.join()).not.toContain(scene.secret);
      expect((await server.call(who, 'GET', `${prefix}/folders/${scene.secret}`)).status).toBe(404);
    }
  });
});
