// npm run doctor [-- --deep]: holds the file contents of a data folder and the records of its database against each other.
import { existsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { ensureDebian, ensureModules, ensureServer } from './lib/install.mjs';
import { takeLock } from './lib/lock.mjs';
import { runningPostgres, startPostgres } from './lib/postgres.mjs';
import { failWith, root, run, Stop } from './lib/run.mjs';

const data = resolve(root, process.env.SAMMLUNG_DATA || 'data');

try {
  process.exitCode = await doctor();
} catch (error) {
  failWith(error);
}

async function doctor() {
  if (!existsSync(data)) throw new Stop(`There is no data folder ${data}.`);
  await ensureDebian(['postgresql']);
  await ensureModules();
  const built = await ensureServer();
  // Beside a server that runs, its database is used; else one is started for as long as this takes.
  const { release } = takeLock(join(data, 'start.lock'));
  const postgres = release ? await startPostgres(data) : await runningPostgres(data);
  try {
    const { code } = await run(
      process.execPath,
      [join(built, 'doctor.js'), ...process.argv.slice(2)],
      {
        inherit: true,
        env: {
          ...process.env,
          SAMMLUNG_DATA: data,
          SAMMLUNG_DATABASE_URL: postgres.url('postgres'),
        },
      },
    );
    return code;
  } finally {
    if (release) {
      await postgres.stop();
      release();
    }
  }
}
