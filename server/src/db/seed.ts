import type { Storage } from '../platform/storage.ts';
import type { Database } from './database.ts';
import * as s from './schema/index.ts';

/** Fills an empty database with the sample school; its dates lie around `now`. All of it or nothing. */
export async function seedWhenEmpty(db: Database, storage: Storage, now: number): Promise<void> {
  const [known] = await db.select({ id: s.schools.id }).from(s.schools).limit(1);
  if (known) return;
  console.log('Filling in the sample school …');
  // What makes its documents is large, and needed this once.
  const { makeSampleSchool } = await import('./sample-school.ts');
  await db.transaction((tx) => makeSampleSchool(tx, storage, now));
}
