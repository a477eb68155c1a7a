import { availableParallelism } from 'node:os';
import pLimit from 'p-limit';
import { AppError } from './errors.ts';

/** Runs work that hashes passwords when its turn comes. Throws `busy` when too much waits already. */
export type Hashing = <T>(work: () => Promise<T>) => Promise<T>;

/** So much may wait: some ten seconds of it. */
const WAITING = 300;

/**
 * A hash takes a processor for some 30 ms, and one of the four threads by which files are read. So only a few are made at
 * a time, in the order in which they are wanted; all else goes on meanwhile. One processor is left to it where there are
 * several.
 */
export function hashingQueue(waiting = WAITING): Hashing {
  const limit = pLimit(Math.max(1, Math.min(3, availableParallelism() - 1)));
  return async (work) => {
    if (limit.pendingCount >= waiting)
      throw new AppError('busy', { headers: { 'retry-after': '10' } });
    return limit(work);
  };
}
