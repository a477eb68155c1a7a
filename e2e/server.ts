import { cpSync } from 'node:fs';
import { join } from 'node:path';
import { sql } from 'drizzle-orm';
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
  process.env.E2E_WEBSITE = `http://localhost:${website}`;
  return async () => {
    await server.stop();
    await postgres.stop();
  };
}
