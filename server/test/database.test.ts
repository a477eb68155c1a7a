import { sql } from 'drizzle-orm';
import { expect, it } from 'vitest';
import { openDatabase, rows } from '../src/db/database.ts';
import { scratchDatabase } from './database.ts';

it('a connection that breaks ends no process, and none is lost to transactions that could not begin', async () => {
  const scratch = await scratchDatabase();
  const { db, pool, close } = openDatabase(scratch.url);
  try {
    const endAll = () =>
      scratch.db.execute(
        sql`select pg_terminate_backend(pid) from pg_stat_activity
          where datname = current_database() and pid <> pg_backend_pid()`,
      );
    for (let round = 0; round < 3; round += 1) {
      // None comes to its end by itself: some are broken while they wait, some between two statements, some before the first.
      const broken = Array.from({ length: 12 }, () =>
        db.transaction(async (tx) => {
          await rows(tx, sql`select pg_sleep(0.05)`);
          await rows(tx, sql`select pg_sleep(60)`);
        }),
      );
      let settled = false;
      const outcomes = Promise.allSettled(broken).finally(() => (settled = true));
      while (!settled) {
        await endAll();
        await new Promise((resolve) => setTimeout(resolve, 20));
      }
      expect((await outcomes).filter((one) => one.status === 'rejected')).toHaveLength(12);
      const idle = await Promise.all(Array.from({ length: 12 }, () => pool.connect()));
      for (const client of idle) client.release();
      const ending = endAll();
      await Promise.allSettled(
        Array.from({ length: 12 }, () => db.transaction(async () => undefined)),
      );
      await ending;
    }
    // What has been ended is noticed by now, and replaced.
    await new Promise((resolve) => setTimeout(resolve, 300));
    const all = await Promise.all(
      Array.from({ length: 40 }, (_, n) =>
        db.transaction((tx) => rows<{ n: number }>(tx, sql`select ${n}::int as n`)),
      ),
    );
    expect(all.map(([row]) => row!.n)).toEqual(Array.from({ length: 40 }, (_, n) => n));
    expect(pool.totalCount - pool.idleCount).toBe(0);
  } finally {
    await close();
    await scratch.close();
  }
});
