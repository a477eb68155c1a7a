import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { link, mkdir, open, rename, rm, stat, statfs } from 'node:fs/promises';
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
    await this.#settle(schoolId, hash, (target) => link(path, target));
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
    await mkdir(dirname(target), { recursive: true });
    await rename(path, target);
  }

  locateMade(schoolId: string, hash: string, form: Form) {
    return { root: this.#made, file: `${schoolId}/${hash.slice(0, 2)}/${hash}.${form}` };
  }

  async put(schoolId: string, content: Uint8Array) {
    const name = createHash('sha256').update(content).digest('hex');
    await this.#settle(schoolId, name, async (target) => {
      const file = await open(target, 'wx');
      try {
        await file.writeFile(content);
        await file.sync();
      } finally {
        await file.close();
      }
    });
    return { hash: name, size: content.byteLength };
  }

  locate(schoolId: string, hash: string) {
    return { root: this.#root, file: `${schoolId}/${hash.slice(0, 2)}/${hash}` };
  }

  async free() {
    await mkdir(this.#root, { recursive: true });
    const { bavail, bsize } = await statfs(this.#root);
    return bavail * bsize;
  }

  /** Lays a content down under its name; content that is there already stays. The folder entry is made to last. */
  async #settle(schoolId: string, hash: string, lay: (target: string) => Promise<void>) {
    const { root, file } = this.locate(schoolId, hash);
    const target = join(root, file);
    await mkdir(dirname(target), { recursive: true });
    try {
      await lay(target);
    } catch (error) {
      if (!isCode(error, 'EEXIST')) {
        if (!isCode(error, 'ENOENT')) await rm(target, { force: true });
        throw error;
      }
    }
    for (const path of [target, dirname(target)]) {
      const entry = await open(path, 'r');
      await entry.sync().finally(() => entry.close());
    }
  }
}

/** Whether an error is the operating system's of this name. */
export function isCode(error: unknown, code: string): boolean {
  return error instanceof Error && 'code' in error && error.code === code;
}
