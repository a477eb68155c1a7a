import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { link, mkdir, open, rm, stat, statfs } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { pipeline } from 'node:stream/promises';

/** Where file contents lie, by SHA-256. Local disk here; anything that can do these few things fits. */
export interface Storage {
  /** Takes the finished file at `path` in; returns its content's name and size. The file stays where it is. */
  take(schoolId: string, path: string): Promise<{ hash: string; size: number }>;
  /** The same for content held in memory. */
  put(schoolId: string, content: Uint8Array): Promise<{ hash: string; size: number }>;
  /** Folder and file name below which a content can be read. */
  locate(schoolId: string, hash: string): { root: string; file: string };
  /** Bytes that can still be stored. */
  free(): Promise<number>;
}

export class DiskStorage implements Storage {
  readonly #root: string;

  constructor(data: string) {
    this.#root = join(data, 'files');
  }

  async take(schoolId: string, path: string) {
    const hash = createHash('sha256');
    await pipeline(createReadStream(path, { highWaterMark: 1 << 20 }), hash);
    const name = hash.digest('hex');
    const { size } = await stat(path);
    await this.#settle(schoolId, name, (target) => link(path, target));
    return { hash: name, size };
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
