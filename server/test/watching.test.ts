import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Fastify from 'fastify';
import type { Registry } from 'prom-client';
import { afterAll, describe, expect, it } from 'vitest';
import type { App } from '../src/app-type.ts';
import { buildApp } from '../src/app.ts';
import { people, schools } from '../src/db/schema/index.ts';
import { openLog } from '../src/platform/log.ts';
import { health } from '../src/watching/health.ts';
import { startMetrics } from '../src/watching/metrics-server.ts';
import { scratchDatabase } from './database.ts';
import { startServer } from './harness.ts';

const server = await startServer();
afterAll(() => server.stop());

/** One more process, with a log and figures that can be read here; its database may go away. */
async function watched() {
  const lines: string[] = [];
  const database = await scratchDatabase();
  const data = mkdtempSync(join(tmpdir(), 'sammlung-watched-'));
  let registry: Registry | null = null;
  const app = await buildApp({
    ...{ settings: { ...server.settings, data }, db: database.db, pool: database.pool },
    ...{ secret: 'test', log: openLog('info', { write: (line) => void lines.push(line) }) },
    onFigures: (made) => (registry = made),
  });
  await app.listen({ port: 0, host: '127.0.0.1' });
  return {
    ...{ app, database, lines, registry: registry!, base: app.listeningOrigin },
    async stop() {
      await app.close();
      rmSync(data, { recursive: true });
    },
  };
}

describe('whether a server can work', () => {
  it('is told to whoever asks, without anything of the school', async () => {
    for (const [path, body] of [
      ['live', { status: 'live' }],
      ['ready', { status: 'ready', database: true, disk: true }],
    ] as const) {
      const reply = await server.call('visitor without', 'GET', `/health/${path}`);
      expect(reply.status).toBe(200);
      expect(await reply.json()).toEqual(body);
      expect(reply.headers.get('cache-control')).toBe('no-store');
    }
  });

  it('is not so without its database, nor while it stops; the process lives on', async () => {
    let there = true;
    const execute = () => (there ? Promise.resolve() : Promise.reject(new Error('gone')));
    const app = Fastify() as unknown as App;
    app.decorate('services', {
      db: { execute },
      storage: { free: () => Promise.resolve(1) },
    } as unknown as App['services']);
    health(app);
    const ask = async (path: string) => {
      const reply = await app.inject(path);
      return [reply.statusCode, reply.json<unknown>()];
    };
    expect(await ask('/health/ready')).toEqual([
      200,
      { status: 'ready', database: true, disk: true },
    ]);
    there = false;
    expect(await ask('/health/ready')).toEqual([
      503,
      { status: 'not ready', database: false, disk: true },
    ]);
    expect(await ask('/health/live')).toEqual([200, { status: 'live' }]);
    await app.close();
  });
});

describe('figures', () => {
  it('are read on a port of their own: by route, with what waits, and nobody in them', async () => {
    const one = await watched();
    const id = '00000000-0000-4000-8000-000000000000';
    await fetch(`${one.base}/api/folders/${id}/contents`);
    const metrics = await startMetrics(one.registry, {
      ...{ port: 0, host: '127.0.0.1', note: (error) => expect.fail(String(error)) },
    });
    const text = await (await fetch(metrics.address)).text();
    expect(text).toContain(
      'sammlung_request_seconds_count{method="GET",route="/api/folders/:folder/contents",status="401"} 1',
    );
    for (const name of [
      'live_lines 0',
      'mails_waiting 0',
      'previews_waiting 0',
      'uploads_open 0',
      'database_connections{state="idle"}',
      'disk_free_bytes ',
      'database_bytes ',
    ])
      expect(text).toContain(`sammlung_${name}`);
    expect(text).toContain('process_resident_memory_bytes');
    expect(text).not.toContain(id);
    expect((await fetch(metrics.address.replace('/metrics', '/'))).status).toBe(404);
    // The application itself has none.
    expect((await fetch(`${one.base}/metrics`)).status).toBe(404);
    await metrics.stop();
    await one.stop();
    await one.database.close();
  });
});

describe('what is written down', () => {
  it('names requests by their route, and of errors of the database no value', async () => {
    const one = await watched();
    const token = 'a-token-that-opens-something';
    await fetch(`${one.base}/api/open/${token}`);
    const { db } = one.database;
    const [school] = await db
      .insert(schools)
      .values({ name: 'First', timeZone: 'UTC' })
      .returning();
    const person = {
      ...{ schoolId: school!.id, kind: 'student' as const, name: 'Mina Kovarik' },
      email: 'mina@example.org',
    };
    await db.insert(people).values(person);
    const error: unknown = await db
      .insert(people)
      .values(person)
      .catch((refused: unknown) => refused);
    one.app.log.error(error);
    await one.stop();
    await one.database.close();
    const all = one.lines.join('');
    const written = one.lines.map((line) => JSON.parse(line) as Record<string, unknown>);
    expect(written).toContainEqual(
      expect.objectContaining({ method: 'GET', route: '/api/open/:token', status: 200 }),
    );
    expect(written.at(-1)).toMatchObject({
      err: { query: expect.stringMatching(/insert into/u) as string },
    });
    expect(all).toContain('people_email');
    for (const secret of [token, 'Mina', 'mina@example.org']) expect(all).not.toContain(secret);
  });
});
