import { sql } from 'drizzle-orm';
import { describe, expect, it } from 'vitest';
import { openDatabase, rows } from '../src/db/database.ts';
import { statement } from '../src/db/statement.ts';
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

describe('a statement', () => {
  const answer = statement<{ n: number; word: string | null; ids: string[] | null }>(
    () => sql`select k as n, ${sql.placeholder('word')}::text as word, ${sql.placeholder('ids')}::uuid[] as ids
      from generate_series(1, ${sql.placeholder('many')}::int) k where ${sql.placeholder('word')}::text is distinct from 'none' order by k desc`,
  );
  const ID = '00000000-0000-4000-8000-00000000000';
  const asked = (n: number) => ({
    word: n % 5 === 0 ? 'none' : n % 7 === 0 ? null : `${n} "{,}'`,
    ids: n % 3 === 0 ? null : n % 3 === 1 ? [] : [`${ID}1`, `${ID}2`],
    many: n % 4,
  });
  const expected = (n: number) => {
    const { many, ...rest } = asked(n);
    return rest.word === 'none'
      ? []
      : Array.from({ length: many }, (_, k) => ({ n: many - k, ...rest }));
  };

  it('answers each of many who ask at the same moment, in order, alone as in a transaction', async () => {
    const scratch = await scratchDatabase();
    const { db, close } = openDatabase(scratch.url);
    const all = Array.from({ length: 130 }, (_, n) => n);
    expect(await Promise.all(all.map((n) => answer(db, asked(n))))).toEqual(all.map(expected));
    expect(await answer(db, asked(2))).toEqual(expected(2));
    await db.transaction(async (tx) => {
      for (const n of all.slice(0, 12)) expect(await answer(tx, asked(n))).toEqual(expected(n));
    });
    // One that cannot be answered spoils it for those it was asked with, and for nobody after them.
    const wrong = { ...asked(1), ids: ['no id'] };
    await expect(answer(db, wrong)).rejects.toThrow();
    expect(await answer(db, asked(1))).toEqual(expected(1));
    await close();
    await scratch.close();
  });

  it('takes no placeholder without a type', () => {
    const untyped = statement(() => sql`select ${sql.placeholder('a')}`);
    expect(() => untyped({} as never, { a: 1 })).toThrow('no placeholder with a type');
  });
});
