import { openDatabase } from './db/database.ts';
import { makeSampleSchool } from './db/sample-school.ts';
import { DiskStorage } from './platform/storage.ts';
import { readSettings } from './settings.ts';

/** Fills a database with the sample school, whose dates lie around now: a process of its own, all of it or nothing. */
const { data, databaseUrl } = readSettings(process.env);
const { db, close } = openDatabase(databaseUrl);
try {
  await db.transaction((tx) => makeSampleSchool(tx, new DiskStorage(data), Date.now()));
} finally {
  await close();
}
