import { createHash, randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import {
  constants,
  link,
  mkdir,
  open,
  opendir,
  rename,
  rm,
  stat,
  statfs,
  type FileHandle,
} from 'node:fs/promises';
import { dirname, join, relative, resolve } from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { FileStore } from '@tus/file-store';
import type { DataStore } from '@tus/server';

/** What is made of a content: a small picture, a smaller one for a line of a list, and what is shown in its place. */
export const FORMS = ['small', 'line', 'shown'] as const;
export type Form = (typeof FORMS)[number];

/** A content of a school by its SHA-256; with `form`, what was made of it. */
export interface ContentKey {
  readonly schoolId: string;
  readonly hash: string;
  readonly form?: Form;
}

/** Bytes of a content: `length` of them from `start` on. */
export interface ByteRange {
  readonly start: number;
  readonly length: number;
}

/** A content that is open for reading. Whoever opened it closes it, or reads a stream of it, which closes it at its end. */
export interface OpenContent {
  /** In bytes. */
  readonly size: number;
  readonly modifiedAt: Date;
  /** Fills a buffer with the bytes from `position` on. Throws when the content ends before it is full. */
  read(buffer: Buffer, position: number): Promise<Buffer>;
  /** The bytes as a stream; all of them by default. */
  stream(range?: ByteRange): Readable;
  close(): Promise<void>;
}

/**
 * Where file contents are kept, by SHA-256, and files on their way in until they are whole. On the local disk here; nothing
 * outside knows where. What is put is there whole or not at all, and on the disk when that is said.
 */
export interface Storage {
  /** Keeps a content. */
  put(
    schoolId: string,
    content: Uint8Array | Readable,
  ): Promise<{ readonly hash: string; readonly size: number }>;
  /** Keeps what was made of a content, in place of an earlier one. */
  putForm(key: Required<ContentKey>, content: Readable): Promise<void>;
  /** Null where there is none. */
  open(key: ContentKey): Promise<OpenContent | null>;
  /** Null where there is none. */
  stat(key: ContentKey): Promise<{ readonly size: number } | null>;
  /** Where a server in front finds a content: a path below the data folder. */
  placeOf(key: ContentKey): string;
  /** Deletes a content with all that was made of it; one that is not there is no fault. */
  delete(schoolId: string, hash: string): Promise<void>;
  /** Lends a content as a file of this machine, for programs, until `use` has ended. It is only to be read. */
  lend<T>(key: ContentKey, use: (path: string) => Promise<T>): Promise<T>;

  /** Files on their way in, as the tus server keeps them. */
  readonly uploads: DataStore;
  /** Null where there is none. */
  openUpload(id: string): Promise<OpenContent | null>;
  /** Takes over a finished upload as the content of this hash. The upload stays until it is removed. */
  takeOver(id: string, schoolId: string, hash: string): Promise<void>;

  /** Bytes that can still be stored. */
  free(): Promise<number>;
  /** Every content that is stored, with its size in bytes. */
  contents(): AsyncGenerator<{ schoolId: string; hash: string; size: number }>;
  /** Removes what writes that were cut short have left since before an instant; resolves to how many files. */
  tidy(before: number): Promise<number>;
}

/** SHA-256 of a content, which is read to its end and closed. */
export async function hashOf(content: OpenContent): Promise<string> {
  const hash = createHash('sha256');
  await pipeline(content.stream(), hash);
  return hash.digest('hex');
}

/** So many bytes are read at a time. */
const CHUNK = 1 << 20;
/** Unfinished uploads are kept a week. */
const UPLOADS_KEPT_MS = 7 * 24 * 60 * 60 * 1000;

export class DiskStorage implements Storage {
  readonly uploads: UploadFiles;
  readonly #root: string;
  readonly #data: string;
  readonly #made: string;
  readonly #uploads: string;

  constructor(data: string) {
    this.#root = join(data, 'files');
    this.#data = data;
    this.#made = join(data, 'made');
    this.#uploads = join(data, 'uploads');
    this.uploads = new UploadFiles({
      directory: this.#uploads,
      expirationPeriodInMilliseconds: UPLOADS_KEPT_MS,
    });
  }

  async put(schoolId: string, content: Uint8Array | Readable) {
    const hash = createHash('sha256');
    let size = 0;
    const measured = new Transform({
      transform(chunk: Buffer, _, done) {
        hash.update(chunk);
        size += chunk.length;
        done(null, chunk);
      },
    });
    const source = content instanceof Readable ? content : Readable.from([content]);
    // Its name is known when it has been read.
    const path = join(this.#root, schoolId, 'new', `.${randomUUID()}`);
    await mkdir(dirname(path), { recursive: true });
    try {
      await pipeline(source, measured, createWriteStream(path, { flags: 'wx' }));
      const found = hash.digest('hex');
      await this.#adopt({ schoolId, hash: found }, path);
      return { hash: found, size };
    } finally {
      await rm(path, { force: true });
    }
  }

  async putForm(key: Required<ContentKey>, content: Readable) {
    const target = this.#pathOf(key);
    const beside = `${dirname(target)}/.${randomUUID()}`;
    await mkdir(dirname(target), { recursive: true });
    try {
      await pipeline(content, createWriteStream(beside, { flags: 'wx' }));
      await rename(beside, target);
    } catch (error) {
      await rm(beside, { force: true });
      throw error;
    }
  }

  open(key: ContentKey) {
    return openFile(this.#pathOf(key));
  }

  async stat(key: ContentKey) {
    return orNull(stat(this.#pathOf(key)));
  }

  placeOf(key: ContentKey) {
    return relative(this.#data, this.#pathOf(key));
  }

  async delete(schoolId: string, hash: string) {
    for (const form of [undefined, ...FORMS])
      await rm(this.#pathOf({ schoolId, hash, ...(form && { form }) }), { force: true });
  }

  lend<T>(key: ContentKey, use: (path: string) => Promise<T>): Promise<T> {
    return use(resolve(this.#pathOf(key)));
  }

  openUpload(id: string) {
    return openFile(join(this.#uploads, id));
  }

  takeOver(id: string, schoolId: string, hash: string) {
    return this.#adopt({ schoolId, hash }, join(this.#uploads, id));
  }

  async free() {
    await mkdir(this.#root, { recursive: true });
    const { bavail, bsize } = await statfs(this.#root);
    return bavail * bsize;
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
    for (const root of [this.#root, this.#made])
      for await (const school of namesIn(root))
        for await (const part of namesIn(join(root, school)))
          for await (const name of namesIn(join(root, school, part)))
            yield { schoolId: school, name, path: join(root, school, part, name) };
  }

  #pathOf({ schoolId, hash, form }: ContentKey): string {
    const folder = join(form ? this.#made : this.#root, schoolId, hash.slice(0, 2));
    return join(folder, form ? `${hash}.${form}` : hash);
  }

  /**
   * Gives the finished file at `path` the name of its content as well. It is on the disk whole before it has that name,
   * and the name is made to last. Content that is there already stays, unless it is not whole.
   */
  async #adopt(key: ContentKey, path: string) {
    const target = this.#pathOf(key);
    await sync(path);
    await mkdir(dirname(target), { recursive: true });
    try {
      await link(path, target);
    } catch (error) {
      if (!isCode(error, 'EEXIST')) throw error;
      const [there, whole] = await Promise.all([stat(target), stat(path)]);
      if (there.size !== whole.size) {
        const beside = `${dirname(target)}/.${randomUUID()}`;
        await link(path, beside);
        await rename(beside, target);
      }
    }
    await sync(dirname(target));
  }
}

/** A full disk while something was written. */
export const isDiskFull = (error: unknown) => isCode(error, 'ENOSPC') || isCode(error, 'EDQUOT');

/** The connection ended before all had arrived. */
export class UploadInterrupted extends Error {}

/** The disk store of tus, except that a full disk is told from a broken connection. */
class UploadFiles extends FileStore {
  override async write(readable: Readable, id: string, offset: number): Promise<number> {
    const target = createWriteStream(join(this.directory, id), { flags: 'r+', start: offset });
    try {
      await pipeline(readable, target);
    } catch (error) {
      throw isDiskFull(error)
        ? error
        : new UploadInterrupted('The upload broke off', { cause: error });
    }
    return offset + target.bytesWritten;
  }
}

class OpenFile implements OpenContent {
  readonly #file: FileHandle;

  constructor(
    file: FileHandle,
    readonly size: number,
    readonly modifiedAt: Date,
  ) {
    this.#file = file;
  }

  async read(buffer: Buffer, position: number) {
    const { bytesRead } = await this.#file.read(buffer, 0, buffer.length, position);
    if (bytesRead < buffer.length)
      throw new Error(`The content ended ${buffer.length - bytesRead} bytes early`);
    return buffer;
  }

  stream({ start, length }: ByteRange = { start: 0, length: this.size }) {
    // The end is the last byte that is read: of no bytes there is none.
    if (length === 0) return this.#file.createReadStream({ start: this.size });
    const highWaterMark = Math.min(CHUNK, length);
    return this.#file.createReadStream({ start, end: start + length - 1, highWaterMark });
  }

  close() {
    return this.#file.close();
  }
}

async function openFile(path: string): Promise<OpenContent | null> {
  const file = await orNull(open(path, constants.O_RDONLY | constants.O_NOFOLLOW));
  if (!file) return null;
  try {
    const { size, mtime } = await file.stat();
    return new OpenFile(file, size, mtime);
  } catch (error) {
    await file.close();
    throw error;
  }
}

/** Null for a file that is not there. */
async function orNull<T>(found: Promise<T>): Promise<T | null> {
  try {
    return await found;
  } catch (error) {
    if (isCode(error, 'ENOENT')) return null;
    throw error;
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
