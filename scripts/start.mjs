// Starts everything on this machine: installs what is missing, then database, web application and server.
import { spawn } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { join, resolve } from 'node:path';
import {
  SERVER_PACKAGES,
  ensureBuilt,
  ensureDebian,
  ensureModules,
  ensureServer,
} from './lib/install.mjs';
import { takeLock } from './lib/lock.mjs';
import { startPostgres } from './lib/postgres.mjs';
import { failWith, root, serverFlags, Stop } from './lib/run.mjs';

const data = resolve(root, process.env.SAMMLUNG_DATA || 'data');

try {
  await start();
} catch (error) {
  failWith(error);
}

async function start() {
  await ensureDebian(SERVER_PACKAGES);
  await ensureModules();
  const built = await ensureServer();
  await checkSettings(built);
  mkdirSync(data, { recursive: true });
  const { release, owner } = takeLock(join(data, 'start.lock'));
  if (!release) throw new Stop(`Sammlung runs on this data folder already (process ${owner}).`);
  let postgres, web;
  try {
    [postgres, web] = await Promise.all([startPostgres(data), ensureBuilt()]);
  } catch (error) {
    release();
    throw error;
  }

  const server = spawn(process.execPath, [...serverFlags(), join(built, 'main.js')], {
    cwd: root,
    // The channel lets the server notice when this starter is killed; its own group keeps Ctrl C in order.
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    detached: true,
    env: {
      ...process.env,
      SAMMLUNG_DATA: data,
      SAMMLUNG_WEB: web,
      SAMMLUNG_DATABASE_URL: postgres.url('postgres'),
    },
  });
  let asked = false;
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
    process.on(signal, () => {
      if (!asked) console.log('\nStopping …');
      asked = true;
      server.kill('SIGTERM');
    });
  const code = await new Promise((done) => server.on('close', done));
  await postgres.stop();
  release();
  process.exit(asked ? 0 : (code ?? 1));
}

/** Reads the settings as the server will, so that a wrong one is named before anything starts. */
async function checkSettings(built) {
  const { readSettings } = await import(join(built, 'settings.js'));
  try {
    readSettings({
      ...process.env,
      SAMMLUNG_DATA: data,
      SAMMLUNG_DATABASE_URL: 'postgres://set-below',
    });
  } catch (error) {
    throw new Stop(error.message);
  }
}
