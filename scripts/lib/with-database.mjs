import { join } from 'node:path';
import { ensureDebian, ensureModules, ensureServer } from './install.mjs';
import { takeLock } from './lock.mjs';
import { runningPostgres, startPostgres } from './postgres.mjs';
import { run } from './run.mjs';

/**
 * Runs a script of the built server on the database of a data folder, with the arguments of this command. Beside a server that runs, its
 * database is used; else one is started for as long as this takes. Resolves to the exit code.
 */
export async function runWithDatabase(data, script) {
  await ensureDebian(['postgresql']);
  await ensureModules();
  const built = await ensureServer();
  const { release } = takeLock(join(data, 'start.lock'));
  const postgres = release ? await startPostgres(data) : await runningPostgres(data);
  try {
    const { code } = await run(process.execPath, [join(built, script), ...process.argv.slice(2)], {
      inherit: true,
      env: {
        ...process.env,
        SAMMLUNG_DATA: data,
        SAMMLUNG_DATABASE_URL: postgres.url('postgres'),
      },
    });
    return code;
  } finally {
    if (release) {
      await postgres.stop();
      release();
    }
  }
}
