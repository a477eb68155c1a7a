import { sql } from 'drizzle-orm';
import type { TestProject } from 'vitest/node';
import { startScratchPostgres } from '../../scripts/lib/scratch-server.mjs';
import { migrateDatabase, openDatabase } from '../src/db/database.ts';

declare module 'vitest' {
  interface ProvidedContext {
    databaseUrl: string;
  }
}

/** A PostgreSQL server of the run's own, with a template database that has all tables. */
export default async function setup(project: TestProject) {
  const postgres = await startScratchPostgres('test');
  const { db, close } = openDatabase(postgres.url('postgres'));
  await db.execute(sql`create database sammlung_template`);
  await close();
  await migrateDatabase(postgres.url('sammlung_template'));
  project.provide('databaseUrl', postgres.url('postgres'));
  return () => postgres.stop();
}
