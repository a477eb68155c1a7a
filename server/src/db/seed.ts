import { fork } from 'node:child_process';
import { once } from 'node:events';
import { extname } from 'node:path';
import { fileURLToPath } from 'node:url';

/**
 * Fills the database of the settings with the sample school, all of it or nothing. What makes its documents is large
 * and needed this once: it has a process of its own. `from` is the module of the server that is asked for.
 */
export async function seedApart(from: string): Promise<void> {
  const [code] = (await once(
    fork(fileURLToPath(new URL(`./seed${extname(from)}`, from))),
    'exit',
  )) as [number | null];
  if (code !== 0) throw new Error('The sample school could not be filled in');
}
