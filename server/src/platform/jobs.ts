import PgBoss from 'pg-boss';
import plans from 'pg-boss/src/plans.js';
import type pg from 'pg';

/** Work that is done later or at fixed times, in this process or another one on the same database. */
export interface Jobs {
  /** Runs `task` at the times of a cron line (UTC), on one process at a time. */
  schedule(name: string, cron: string, task: () => Promise<void>): Promise<void>;
  /** Works off what is sent under a name, one after the other. Work that fails is tried again twice. */
  work<T extends object>(name: string, task: (data: T) => Promise<void>): Promise<void>;
  /** Sends work; what waits under the same key already is not sent twice. */
  send(name: string, data: object, key: string): Promise<void>;
  stop(): Promise<void>;
}

/**
 * What pg-boss sends without waiting for it: that work is done, or has failed. A database that is gone at that moment must
 * not end the process: the work counts as not done, and is done again once its time is over.
 */
const unawaited = (schema: string) => [plans.completeJobs(schema), plans.failJobsById(schema)];

/** Jobs through PostgreSQL (pg-boss), in the schema `jobs` of the same database. `note` gets what goes wrong. */
export async function startJobs(pool: pg.Pool, note: (error: unknown) => void): Promise<Jobs> {
  const schema = 'jobs';
  const boss = new PgBoss({
    schema,
    db: {
      async executeSql(text, values) {
        try {
          return await pool.query(text, values);
        } catch (error) {
          if (!unawaited(schema).includes(text)) throw error;
          note(error);
          return { rows: [] };
        }
      },
    },
  });
  boss.on('error', note);
  await boss.start();
  const workers = new Map<string, string>();
  return {
    async schedule(name, cron, task) {
      await boss.createQueue(name);
      await boss.schedule(name, cron);
      await boss.work(name, () => task());
    },
    async work<T extends object>(name: string, task: (data: T) => Promise<void>) {
      await boss.createQueue(name, { name, policy: 'short', retryLimit: 2, expireInSeconds: 600 });
      const options = { batchSize: 1, pollingIntervalSeconds: 0.5 };
      const worker = await boss.work<T>(name, options, async ([job]) => {
        // What waits behind it is fetched at once, without waiting for the next look.
        boss.notifyWorker(worker);
        if (job) await task(job.data);
      });
      workers.set(name, worker);
    },
    async send(name, data, key) {
      await boss.send(name, data, { singletonKey: key });
      const worker = workers.get(name);
      if (worker) boss.notifyWorker(worker);
    },
    // Work that runs is waited for, so that it does not lose its database under way.
    stop: () => boss.stop({ graceful: true, wait: true, timeout: 10_000 }),
  };
}
