import { openDatabase } from './db/database.ts';
import { examine } from './domain/doctor.ts';
import { DiskStorage } from './platform/storage.ts';
import { readSettings } from './settings.ts';

/** `npm run doctor`: says what it found; exit code 1 when a content is missing or damaged. */
const settings = readSettings(process.env);
const { db, close } = openDatabase(settings.databaseUrl);
try {
  const storage = new DiskStorage(settings.data);
  const deep = process.argv.includes('--deep');
  const { removed, tidied, damaged } = await examine({ db, storage }, Date.now(), { deep });
  console.log(`Contents that nothing speaks of, removed: ${removed}`);
  console.log(`Writes that were cut short, cleared away: ${tidied}`);
  for (const { schoolId, hash, fault, titles } of damaged)
    console.log(
      `${fault.padEnd(10)} files/${schoolId}/${hash.slice(0, 2)}/${hash}  ${titles.join(', ')}`,
    );
  console.log(
    damaged.length === 0
      ? 'Every record has its content.'
      : `${damaged.length} contents must be brought back from a backup.`,
  );
  if (damaged.length > 0) process.exitCode = 1;
} finally {
  await close();
}
