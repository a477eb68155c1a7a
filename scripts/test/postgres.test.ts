import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { afterAll, expect, it } from 'vitest';
import { startPostgres, type Postgres } from '../lib/postgres.mjs';
import { alive } from '../lib/run.mjs';

const data = mkdtempSync(join(tmpdir(), 'sammlung-postgres-'));
chmodSync(data, 0o755);
afterAll(() => rmSync(data, { recursive: true, force: true }));

async function asked(postgres: Postgres, text: string): Promise<{ pid: number }> {
  const client = new pg.Client({ connectionString: postgres.url('postgres') });
  client.on('error', () => undefined);
  await client.connect();
  const { rows } = await client.query<{ pid: number }>(text);
  await client.end();
  return rows[0]!;
}

it('a database that does not end cleanly ends all the same, and starts again with all it had', async () => {
  const first = await startPostgres(data);
  await asked(first, 'create table kept as select 7 as pid');
  const writer = await asked(
    first,
    `select pid from pg_stat_activity where backend_type = 'checkpointer'`,
  );
  // Without it the server waits for its last checkpoint for ever.
  process.kill(writer.pid, 'SIGSTOP');
  await first.stop(300);
  expect([first.pid, writer.pid].filter(alive)).toEqual([]);

  const second = await startPostgres(data);
  expect(await asked(second, 'select pid from kept')).toEqual({ pid: 7 });
  // Asked to end while it recovers from a crash.
  const reader = await asked(
    second,
    `select pid from pg_stat_activity where backend_type = 'background writer'`,
  );
  process.kill(reader.pid, 'SIGKILL');
  await new Promise((resolve) => setTimeout(resolve, 20));
  await second.stop(2000);
  expect(alive(second.pid)).toBe(false);

  const third = await startPostgres(data);
  expect(await asked(third, 'select pid from kept')).toEqual({ pid: 7 });
  await third.stop();
  expect(alive(third.pid)).toBe(false);
});
