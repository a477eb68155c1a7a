import { createHash, randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import {
  link,
  lstat,
  mkdir,
  open,
  opendir,
  rename,
  rm,
  stat,
  statfs,
  writeFile,
} from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { pipeline } from 'node:stream/promises';

/** What is made of a content: a small picture, and what is shown where browsers do not show the content itself. */
export type Form = 'small' | 'shown';

/** Where file contents lie, by SHA-256. Local disk here; anything that can do these few things fits. */
export interface Storage {
  /** Name and size of the content of a finished file. */
  measure(path: string): Promise<{ hash: string; size: number }>;
  /** Takes in the finished file at `path`, which was measured before. The file stays where it is. */
  take(schoolId: string, path: string, hash: string): Promise<void>;
  /** Removes a content; one that is not there is no fault. */
  remove(schoolId: string, hash: string): Promise<void>;
  /** The same for content held in memory. */
  put(schoolId: string, content: Uint8Array): Promise<{ hash: string; size: number }>;
  /** Folder and file name below which a content can be read. */
  locate(schoolId: string, hash: string): { root: string; file: string };
  /** Takes in a form that was made of a content, in place of an earlier one. The file is moved away from where it is. */
  keepMade(schoolId: string, hash: string, form: Form, path: string): Promise<void>;
  locateMade(schoolId: string, hash: string, form: Form): { root: string; file: string };
  /** Bytes that can still be stored. */
  free(): Promise<number>;
  /** Bytes of a stored content; null for one that is not there. */
  sizeOf(schoolId: string, hash: string): Promise<number | null>;
  /** Every content that is stored, with its size in bytes. */
  contents(): AsyncGenerator<{ schoolId: string; hash: string; size: number }>;
  /** Removes what writes that were cut short have left since before an instant; resolves to how many files. */
  tidy(before: number): Promise<number>;
}

export class DiskStorage implements Storage {
  readonly #root: string;
  readonly #made: string;

  constructor(data: string) {
    this.#root = join(data, 'files');
    this.#made = join(data, 'made');
  }

  async measure(path: string) {
    const hash = createHash('sha256');
    await pipeline(createReadStream(path, { highWaterMark: 1 << 20 }), hash);
    const { size } = await stat(path);
    return { hash: hash.digest('hex'), size };
  }

  async take(schoolId: string, path: string, hash: string) {
    await this.#adopt(schoolId, hash, path);
  }

  async remove(schoolId: string, hash: string) {
    const { root, file } = this.locate(schoolId, hash);
    await rm(join(root, file), { force: true });
    for (const form of ['small', 'shown'] as const) {
      const made = this.locateMade(schoolId, hash, form);
      await rm(join(made.root, made.file), { force: true });
    }
  }

  async keepMade(schoolId: string, hash: string, form: Form, path: string) {
    const { root, file } = this.locateMade(schoolId, hash, form);
    const target = join(root, file);
    if (!(await lstat(path)).isFile()) throw new Error(`${path} is not a file`);
    await mkdir(dirname(target), { recursive: true });
    await rename(path, target);
  }

  locateMade(schoolId: string, hash: string, form: Form) {
    return { root: this.#made, file: `${schoolId}/${hash.slice(0, 2)}/${hash}.${form}` };
  }

  async put(schoolId: string, content: Uint8Array) {
    const hash = createHash('sha256').update(content).digest('hex');
    const { root, file } = this.locate(schoolId, hash);
    // Written beside its place: under its name it is there whole or not at all.
    const path = join(root, dirname(file), `.${hash}.${randomUUID()}`);
    await mkdir(dirname(path), { recursive: true });
    try {
      await writeFile(path, content, { flag: 'wx' });
      await this.#adopt(schoolId, hash, path);
    } finally {
      await rm(path, { force: true });
    }
    return { hash, size: content.byteLength };
  }

  locate(schoolId: string, hash: string) {
    return { root: this.#root, file: `${schoolId}/${hash.slice(0, 2)}/${hash}` };
  }

  async free() {
    await mkdir(this.#root, { recursive: true });
    const { bavail, bsize } = await statfs(this.#root);
    return bavail * bsize;
  }

  async sizeOf(schoolId: string, hash: string) {
    const { root, file } = this.locate(schoolId, hash);
    try {
      return (await stat(join(root, file))).size;
    } catch (error) {
      if (isCode(error, 'ENOENT')) return null;
      throw error;
    }
  }

  async *contents() {
    for await (const { path, schoolId, name } of this.#files()) {
      if (!/^[0-9a-f]{64}$/u.test(name)) continue;
      const { size } = await stat(path);
      yield { schoolId, hash: name, size };
    }
  }

  async tidy(before: number) {
    let removed = 0;
    for await (const { path, name } of this.#files()) {
      if (!name.startsWith('.') || (await stat(path)).mtimeMs >= before) continue;
      await rm(path, { force: true });
      removed += 1;
    }
    return removed;
  }

  async *#files() {
    for await (const school of namesIn(this.#root))
      for await (const part of namesIn(join(this.#root, school)))
        for await (const name of namesIn(join(this.#root, school, part)))
          yield { schoolId: school, name, path: join(this.#root, school, part, name) };
  }

  /**
   * Gives the finished file at `path` the name of its content as well. It is on the disk whole before it has that name,
   * and the name is made to last. Content that is there already stays, unless it is not whole.
   */
  async #adopt(schoolId: string, hash: string, path: string) {
    const { root, file } = this.locate(schoolId, hash);
    const target = join(root, file);
    await sync(path);
    await mkdir(dirname(target), { recursive: true });
    try {
      await link(path, target);
    } catch (error) {
      if (!isCode(error, 'EEXIST')) throw error;
      const [there, whole] = await Promise.all([stat(target), stat(path)]);
      if (there.size !== whole.size) {
        const beside = `${dirname(target)}/.${hash}.${randomUUID()}`;
        await link(path, beside);
        await rename(beside, target);
      }
    }
    await sync(dirname(target));
  }
}

/** The names in a folder; none where there is no folder. */
async function* namesIn(path: string): AsyncGenerator<string> {
  try {
    for await (const { name } of await opendir(path)) yield name;
  } catch (error) {
    if (!isCode(error, 'ENOENT')) throw error;
  }
}

/** Resolves when a file, or the names in a folder, are on the disk. */
async function sync(path: string) {
  const entry = await open(path, 'r');
  await entry.sync().finally(() => entry.close());
}

/** Whether an error is the operating system's of this name. */
export function isCode(error: unknown, code: string): boolean {
  return error instanceof Error && 'code' in error && error.code === code;
}
