// npm run dev: the server and the web application from their sources, both anew with each change, on the data folder of
// `npm start`. The browser's address is printed; its requests for /api go on to the server.
import { spawn } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { SERVER_PACKAGES, ensureDebian, ensureModules } from './lib/install.mjs';
import { takeLock } from './lib/lock.mjs';
import { startPostgres } from './lib/postgres.mjs';
import { failWith, freePort, root, Stop } from './lib/run.mjs';

const data = resolve(root, process.env.SAMMLUNG_DATA || 'data');

try {
  await dev();
} catch (error) {
  failWith(error);
}

async function dev() {
  await ensureDebian(SERVER_PACKAGES);
  await ensureModules();
  mkdirSync(data, { recursive: true });
  const { release, owner } = takeLock(join(data, 'start.lock'));
  if (!release) throw new Stop(`Sammlung runs on this data folder already (process ${owner}).`);
  const postgres = await startPostgres(data);
  const [port, web] = [await freePort(), Number(process.env.PORT || 4780)];
  const begin = (args, env) =>
    spawn(process.execPath, args, {
      cwd: root,
      stdio: ['ignore', 'inherit', 'inherit'],
      env: { ...process.env, ...env },
    });
  const children = [
    begin(['--import', 'tsx', '--watch', '--watch-preserve-output', 'server/src/main.ts'], {
      PORT: String(port),
      SAMMLUNG_ADDRESS: `http://localhost:${web}`,
      SAMMLUNG_DATA: data,
      SAMMLUNG_DATABASE_URL: postgres.url('postgres'),
    }),
    begin(['node_modules/vite/bin/vite.js', 'web', '--port', String(web), '--strictPort'], {
      SAMMLUNG_API: `http://localhost:${port}`,
    }),
  ];
  const ended = children.map((child) => new Promise((done) => child.on('close', done)));
  const stop = () => children.forEach((child) => child.kill('SIGTERM'));
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, stop);
  await Promise.race(ended);
  stop();
  await Promise.all(ended);
  await postgres.stop();
  release();
}
