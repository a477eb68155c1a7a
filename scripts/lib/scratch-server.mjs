import { spawn } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensureBuilt, ensureServer } from './install.mjs';
import { startPostgres } from './postgres.mjs';
import { freePort, root, serverFlags } from './run.mjs';

/** A PostgreSQL server of its own in a new folder below the system's temporary one. */
export async function startScratchPostgres(name, options = { scratch: true }) {
  const data = mkdtempSync(join(tmpdir(), `sammlung-${name}-`));
  chmodSync(data, 0o755);
  const postgres = await startPostgres(data, options);
  return {
    data,
    url: postgres.url,
    async stop() {
      await postgres.stop();
      rmSync(data, { recursive: true, force: true });
    },
  };
}

/**
 * The real server as a process of its own on a database of `postgres`, on a port of its own unless `env` names one;
 * resolves once it listens.
 */
export async function startServerProcess(postgres, database = 'postgres', env = {}) {
  const port = env.PORT ?? (await freePort());
  const [web, built] = await Promise.all([ensureBuilt(), ensureServer()]);
  const server = spawn(process.execPath, [...serverFlags(), join(built, 'main.js')], {
    cwd: root,
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    env: {
      ...process.env,
      PORT: String(port),
      SAMMLUNG_DATA: postgres.data,
      SAMMLUNG_WEB: web,
      SAMMLUNG_DATABASE_URL: postgres.url(database),
      ...env,
    },
  });
  const ended = new Promise((resolve) => server.on('close', resolve));
  await new Promise((resolve, reject) => {
    server.on('message', resolve);
    server.on('close', (code) => reject(new Error(`The server ended with ${code}`)));
  });
  return {
    address: `http://localhost:${port}`,
    web,
    pid: server.pid,
    /** Ends it as a crash would. */
    async kill() {
      server.kill('SIGKILL');
      await ended;
    },
    async stop() {
      server.kill('SIGTERM');
      await ended;
    },
  };
}
