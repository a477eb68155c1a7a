import { closeSync, openSync, readFileSync, rmSync, writeSync } from 'node:fs';
import { alive } from './run.mjs';

/**
 * Takes the lock file, or tells who has it: { release } or { owner }. The lock of a process that is gone, or whose
 * id now belongs to some other program, does not count.
 */
export function takeLock(path) {
  for (;;) {
    try {
      const file = openSync(path, 'wx');
      writeSync(file, String(process.pid));
      closeSync(file);
      return { release: () => rmSync(path, { force: true }) };
    } catch (error) {
      if (error.code !== 'EEXIST') throw error;
      const owner = ownerOf(path);
      if (owner !== null) return { owner };
      rmSync(path, { force: true });
    }
  }
}

/** Does the work while nobody else does: waits for its turn. */
export async function locked(path, work) {
  let lock = takeLock(path);
  while (!lock.release) {
    await new Promise((resolve) => setTimeout(resolve, 250));
    lock = takeLock(path);
  }
  try {
    return await work();
  } finally {
    lock.release();
  }
}

function ownerOf(path) {
  try {
    const pid = Number(readFileSync(path, 'utf8'));
    // An empty file: its owner is just about to write its id.
    if (pid === 0) return 0;
    const script = /scripts\/\w+\.mjs/u;
    return alive(pid) && script.test(readFileSync(`/proc/${pid}/cmdline`, 'utf8')) ? pid : null;
  } catch (error) {
    if (error.code === 'ENOENT') return null;
    throw error;
  }
}
