import { spawn } from 'node:child_process';
import { randomInt } from 'node:crypto';
import { createServer } from 'node:net';
import { fileURLToPath } from 'node:url';

/** The folder of the project. */
export const root = fileURLToPath(new URL('../..', import.meta.url)).replace(/\/$/, '');

/** An error whose message is all the person at the terminal needs. */
export class Stop extends Error {}

/** Prints the message of a Stop, everything of any other error, and ends with exit code 1. */
export function failWith(error) {
  console.error(error instanceof Stop ? `\n${error.message}` : error);
  process.exit(1);
}

/**
 * Runs a command to its end. Resolves to { code, output }; with `inherit` the output goes to the terminal.
 * Rejects when the command cannot be started.
 */
export function run(command, args, { inherit = false, ...options } = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, {
      cwd: root,
      stdio: inherit ? ['ignore', 'inherit', 'inherit'] : ['ignore', 'pipe', 'pipe'],
      ...options,
    });
    let output = '';
    for (const stream of [child.stdout, child.stderr])
      stream?.on('data', (chunk) => (output += chunk));
    child.on('error', reject);
    child.on('close', (code, signal) => resolve({ code: code ?? 1, signal, output }));
  });
}

/**
 * A TCP port on loopback that nobody listens on at this moment. It is below those that systems give to outgoing connections (from 32768,
 * or 49152): one of those may be taken again before whoever asked listens on it.
 */
export function freePort() {
  return new Promise((resolve, reject) => {
    const server = createServer();
    server.on('error', (error) =>
      error.code === 'EADDRINUSE' ? freePort().then(resolve, reject) : reject(error),
    );
    server.listen(randomInt(20_000, 32_768), '127.0.0.1', () => {
      const { port } = server.address();
      server.close(() => resolve(port));
    });
  });
}

/** Whether a process with this id runs. */
export function alive(pid) {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return error.code === 'EPERM';
  }
}

/**
 * What the server is started with: Node takes as much memory as the machine has before it tidies up; a school needs a fraction
 * of that. NODE_OPTIONS=--max-old-space-size=… says otherwise.
 */
export const serverFlags = () =>
  process.env.NODE_OPTIONS?.includes('max-old-space-size') ? [] : ['--max-old-space-size=512'];
