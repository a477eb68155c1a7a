import { execFile } from 'node:child_process';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';

/**
 * Runs a program of the system on `content`, kept as a file named `from`, and resolves to what it wrote into the file
 * named `to`. `args` gets the two paths.
 */
export async function convert(
  program: string,
  content: Uint8Array,
  [from, to]: readonly [string, string],
  args: (from: string, to: string) => string[],
): Promise<Uint8Array> {
  const folder = await mkdtemp(join(tmpdir(), 'sammlung-made-'));
  try {
    const [source, made] = [join(folder, from), join(folder, to)];
    await writeFile(source, content);
    await promisify(execFile)(program, args(source, made), {
      env: { PATH: process.env.PATH, HOME: folder },
    });
    return await readFile(made);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
