import { Piscina } from 'piscina';
import { AppError } from './errors.ts';

/** Work on foreign files that takes a processor, done beside this process so that nobody waits for it. */
export interface Workers {
  /**
   * Calls a function that `file` exports, with what can be sent to a thread. Throws `busy` when too much waits already,
   * `too-slow` when it takes too long or too much memory: its thread is ended then.
   */
  run<T>(file: URL, name: string, data: object): Promise<T>;
  close(): Promise<void>;
}

const THREADS = 2;

/**
 * Threads for such work: made when there is some, ended when there has been none for a while. A piece of it may take so
 * many milliseconds, waiting included, and so much memory; so many pieces may wait.
 */
export function startWorkers({ limitMs = 10_000, memoryMb = 1024, waiting = 50 } = {}): Workers {
  const pool = new Piscina({
    minThreads: 0,
    maxThreads: THREADS,
    idleTimeout: 30_000,
    // What is run is TypeScript where the server itself is.
    execArgv: import.meta.url.endsWith('.ts') ? ['--import', 'tsx'] : [],
    resourceLimits: { maxOldGenerationSizeMb: memoryMb },
  });
  /** Pieces that are being done or wait. */
  let open = 0;
  return {
    async run<T>(file: URL, name: string, data: object): Promise<T> {
      if (open >= THREADS + waiting)
        throw new AppError('busy', { headers: { 'retry-after': '10' } });
      const signal = AbortSignal.timeout(limitMs);
      open += 1;
      try {
        return (await pool.run(data, { filename: file.href, name, signal })) as T;
      } catch (error) {
        if (signal.aborted || outOfMemory(error)) throw new AppError('too-slow');
        throw error;
      } finally {
        open -= 1;
      }
    },
    close: () => pool.destroy(),
  };
}

function outOfMemory(error: unknown): boolean {
  return error instanceof Error && 'code' in error && error.code === 'ERR_WORKER_OUT_OF_MEMORY';
}
