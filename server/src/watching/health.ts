import { sql } from 'drizzle-orm';
import type { App } from '../app-type.ts';

/** The database is asked for so long, in milliseconds. */
const PATIENCE = 2000;

/**
 * `/health/live`: this process answers. `/health/ready`: it can do its work, with database and disk; 503 where it cannot, and once it is being
 * stopped, so that a server in front sends nobody here any more. Both tell nothing of the school.
 */
export function health(app: App): void {
  const { db, storage } = app.services;
  let stopping = false;
  app.addHook('preClose', async () => void (stopping = true));

  app.get('/health/live', (_request, reply) =>
    reply.header('cache-control', 'no-store').send({ status: 'live' }),
  );
  app.get('/health/ready', async (request, reply) => {
    const well = async (name: string, look: () => Promise<unknown>) => {
      const late = new Promise<never>((_, refuse) =>
        setTimeout(() => refuse(new Error(`no answer within ${PATIENCE} ms`)), PATIENCE).unref(),
      );
      try {
        await Promise.race([look(), late]);
        return true;
      } catch (error) {
        request.log.error(error, `${name} does not answer`);
        return false;
      }
    };
    const [database, disk] = await Promise.all([
      well('database', () => db.execute(sql`select 1`)),
      well('disk', () => storage.free()),
    ]);
    const ready = database && disk && !stopping;
    return reply
      .header('cache-control', 'no-store')
      .code(ready ? 200 : 503)
      .send({ status: ready ? 'ready' : 'not ready', database, disk });
  });
}
