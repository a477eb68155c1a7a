import { extname } from 'node:path';
import type { readRoster } from '@sammlung/core';
import { AppError } from '../../platform/errors.ts';
import type { Workers } from '../../platform/workers.ts';
import type { ListRead, Unreadable } from './reading.worker.ts';

/** Beside this module in the sources, and beside all others where the server is built. */
const WORKER = new URL(`./reading.worker${extname(import.meta.url)}`, import.meta.url);

/** The rows of a list, in a thread of its own. Throws `list-*` for what cannot be read. */
export async function readListIn(
  workers: Workers,
  bytes: Uint8Array,
  lastNameFirst: boolean,
): Promise<ListRead> {
  return readable(
    await workers.run<ListRead | Unreadable>(WORKER, 'list', { bytes, lastNameFirst }),
  );
}

/** The same for an archive in the form of OneRoster. */
export async function readRosterIn(workers: Workers, archive: Uint8Array) {
  type Read = ReturnType<typeof readRoster>;
  return readable(await workers.run<Read | Unreadable>(WORKER, 'roster', { archive }));
}

function readable<T extends object>(read: T | Unreadable): T {
  if (!('fault' in read)) return read;
  throw new AppError(`list-${read.fault}`, {
    ...(read.count !== null && { faults: [{ field: 'list', fault: String(read.count) }] }),
  });
}
