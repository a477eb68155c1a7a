import { execFile } from 'node:child_process';
import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { sql } from 'drizzle-orm';
import { ensureServer } from '../scripts/lib/install.mjs';
import { freePort } from '../scripts/lib/run.mjs';
import { startScratchPostgres, startServerProcess } from '../scripts/lib/scratch-server.mjs';
import { migrateDatabase, openDatabase } from '../server/src/db/database.ts';
import { makeSampleSchool } from '../server/src/db/sample-school.ts';
import { DiskStorage } from '../server/src/platform/storage.ts';

/** One more process on the same data, with other settings. It stops cleanly, so that it leaves no job behind. */
export const startSecondServer = (env: Record<string, string>) =>
  startServerProcess(
    { data: process.env.E2E_DATA!, url: () => process.env.E2E_DATABASE! },
    'postgres',
    env,
  );

/** A process on a sample school of its own, which may be killed: nobody else has work in it. */
export const startServerApart = (env: Record<string, string> = {}) =>
  startServerProcess(
    { data: process.env.E2E_APART!, url: () => process.env.E2E_DATABASE_APART! },
    'apart',
    env,
  );

/** A server with no school at all, on a database and data of its own, and its command `npm run school`. */
export async function startEmptyServer() {
  const data = mkdtempSync(join(tmpdir(), 'sammlung-empty-'));
  const postgres = { data, url: () => process.env.E2E_DATABASE_EMPTY! };
  const env = { SAMMLUNG_SAMPLE: 'no' };
  const server = await startServerProcess(postgres, 'empty', env);
  const built = await ensureServer();
  return {
    address: server.address,
    /** What the command prints. Throws what it complains of. */
    async school(...args: string[]): Promise<string> {
      const { stdout } = await promisify(execFile)(
        process.execPath,
        [join(built, 'school.js'), ...args],
        {
          env: {
            ...process.env,
            ...env,
            PORT: new URL(server.address).port,
            SAMMLUNG_DATA: data,
            SAMMLUNG_DATABASE_URL: postgres.url(),
          },
        },
      );
      return stdout;
    },
    async stop() {
      await server.stop();
      rmSync(data, { recursive: true, force: true });
    },
  };
}

/** Starts the real server with the sample school in a scratch folder; its address is in E2E_ADDRESS, that of the class website in E2E_WEBSITE. */
export default async function startServer() {
  const postgres = await startScratchPostgres('e2e');
  const apart = join(postgres.data, 'apart');
  await migrateDatabase(postgres.url('postgres'));
  const { db, close } = openDatabase(postgres.url('postgres'));
  const storage = new DiskStorage(postgres.data);
  await db.transaction((tx) => makeSampleSchool(tx, storage, Date.now()));
  await close();
  const other = openDatabase(postgres.url('template1'));
  await other.db.execute(sql`create database apart template postgres`);
  await other.db.execute(sql`create database empty`);
  await other.close();
  cpSync(join(postgres.data, 'files'), join(apart, 'files'), { recursive: true });

  const website = await freePort();
  const server = await startServerProcess(postgres, 'postgres', {
    SAMMLUNG_UPLOAD_LIMIT: '20000000',
    SAMMLUNG_WEBSITE_PORT: String(website),
  });
  process.env.E2E_ADDRESS = server.address;
  process.env.E2E_DATA = postgres.data;
  process.env.E2E_DATABASE = postgres.url('postgres');
  process.env.E2E_APART = apart;
  process.env.E2E_DATABASE_APART = postgres.url('apart');
  process.env.E2E_DATABASE_EMPTY = postgres.url('empty');
  process.env.E2E_WEBSITE = `http://localhost:${website}`;
  return async () => {
    await server.stop();
    await postgres.stop();
  };
}
