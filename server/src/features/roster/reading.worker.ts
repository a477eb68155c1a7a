import { decodeList, ListError, readList, readRoster, type ReadList } from '@sammlung/core';
import { ArchiveError, unpackRoster } from './archive.ts';

/** Reads lists of people in a thread of its own. What cannot be read is told, not thrown: errors lose their kind on the way. */

/** Why a list cannot be read; `count` where a number says more. */
export interface Unreadable {
  readonly fault: 'binary' | 'empty' | 'too-long';
  readonly count: number | null;
}
export type ListRead = Pick<ReadList, 'rows'> & {
  encoding: ReturnType<typeof decodeList>['encoding'];
};

export function list({
  bytes,
  lastNameFirst,
}: {
  bytes: Uint8Array;
  lastNameFirst: boolean;
}): ListRead | Unreadable {
  const { text, encoding } = decodeList(bytes);
  try {
    return { rows: readList(text, { lastNameFirst }).rows, encoding };
  } catch (error) {
    if (error instanceof ListError) return { fault: error.fault, count: error.count };
    throw error;
  }
}

export async function roster({
  archive,
}: {
  archive: Uint8Array;
}): Promise<ReturnType<typeof readRoster> | Unreadable> {
  try {
    return readRoster(await unpackRoster(Buffer.from(archive)));
  } catch (error) {
    if (error instanceof ArchiveError) return { fault: error.fault, count: null };
    throw error;
  }
}
