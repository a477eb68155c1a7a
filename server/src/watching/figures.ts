import { sql, type SQL } from 'drizzle-orm';
import type pg from 'pg';
import { collectDefaultMetrics, Gauge, Histogram, Registry } from 'prom-client';
import type { App } from '../app-type.ts';
import { rows } from '../db/database.ts';

/** How long requests take, in seconds. */
const BUCKETS = [0.005, 0.02, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 10];

/** Figures of this process and of what it works on, for Prometheus. They count, and name nobody. */
export function figures(app: App, pool: pg.Pool): Registry {
  const { db, storage, live, jobs } = app.services;
  const registry = new Registry();
  const registers = [registry];
  collectDefaultMetrics({ register: registry });

  const requests = new Histogram({
    name: 'sammlung_request_seconds',
    help: 'How long requests take, by route.',
    labelNames: ['method', 'route', 'status'],
    buckets: BUCKETS,
    registers,
  });
  app.addHook('onResponse', (request, reply, done) => {
    const { method, routeOptions } = request;
    const labels = { method, route: routeOptions.url ?? 'none', status: reply.statusCode };
    requests.observe(labels, reply.elapsedTime / 1000);
    done();
  });

  /** A gauge that is read when somebody asks for it. */
  const gauge = (name: string, help: string, read: () => Promise<number> | number) =>
    new Gauge({
      ...{ name: `sammlung_${name}`, help, registers },
      async collect() {
        this.set(await read());
      },
    });
  /** The same for several, by a label. */
  const gauges = (
    name: string,
    help: string,
    label: string,
    read: () => Promise<Record<string, number>>,
  ) =>
    new Gauge({
      ...{ name: `sammlung_${name}`, help, labelNames: [label], registers },
      async collect() {
        this.reset();
        for (const [of, value] of Object.entries(await read())) this.set({ [label]: of }, value);
      },
    });
  const counted = async (text: SQL) => {
    const [found] = await rows<{ count: number }>(db, text);
    return found!.count;
  };

  gauge('live_lines', 'Open pages that are told of changes.', () => live.watching());
  gauge('mails_waiting', 'Mails that have not gone out.', () =>
    counted(sql`select count(*)::int as count from mails where state = 'waiting'`),
  );
  gauge('previews_waiting', 'Contents of which pictures and texts are to be made.', () =>
    counted(sql`select count(*)::int as count from previews where state = 'waiting'`),
  );
  gauge('uploads_open', 'Files on their way in.', () =>
    counted(sql`select count(*)::int as count from announced`),
  );
  if (jobs)
    gauges('jobs_waiting', 'Work that waits, or is being done, by queue.', 'queue', async () => {
      const found = await rows<{ name: string; count: number }>(
        db,
        sql`select name, count(*)::int as count from jobs.job where state in ('created', 'retry', 'active') group by name`,
      );
      return Object.fromEntries(found.map(({ name, count }) => [name, count]));
    });
  gauge('disk_free_bytes', 'Room left where contents are kept.', () => storage.free());
  gauge('database_bytes', 'Size of the database.', () =>
    counted(sql`select pg_database_size(current_database())::float8 as count`),
  );
  gauges('database_connections', 'Connections of this process, by state.', 'state', async () => ({
    idle: pool.idleCount,
    busy: pool.totalCount - pool.idleCount,
    wanted: pool.waitingCount,
  }));
  return registry;
}
