import { setTimeout as wait } from 'node:timers/promises';
import type pg from 'pg';

/** How long to wait before the database is asked again, in milliseconds. */
const AGAIN = 1000;

/**
 * Hears what is said on a channel of the database until `stop` is called, over a connection of its own. When the
 * connection breaks it is made anew; `missed` is called then, since nobody knows what was said meanwhile.
 */
export function listen(
  pool: pg.Pool,
  channel: string,
  hear: (text: string) => void,
  missed: () => void,
  note: (error: unknown) => void,
): { ready: Promise<void>; stop(): Promise<void> } {
  const stopping = new AbortController();
  let ready = () => {};
  const first = new Promise<void>((resolve) => (ready = resolve));

  async function hold(again: boolean) {
    const client = await pool.connect();
    let fault: Error | undefined;
    try {
      client.on('notification', ({ payload }) => hear(payload ?? ''));
      await client.query(`listen ${client.escapeIdentifier(channel)}`);
      if (again) missed();
      else ready();
      await new Promise<void>((resolve, reject) => {
        stopping.signal.addEventListener('abort', () => resolve());
        client.once('error', reject);
        client.once('end', () => reject(new Error('The connection that listens has ended.')));
        if (stopping.signal.aborted) resolve();
      });
    } catch (error) {
      fault = error instanceof Error ? error : new Error(String(error));
      throw error;
    } finally {
      // A connection that listens is never given to somebody else.
      client.release(fault ?? true);
    }
  }

  const running = (async () => {
    let broken = false;
    while (!stopping.signal.aborted) {
      try {
        await hold(broken);
      } catch (error) {
        if (stopping.signal.aborted) return;
        broken = true;
        note(error);
        await wait(AGAIN);
      }
    }
  })();
  return {
    ready: first,
    async stop() {
      stopping.abort();
      await running;
    },
  };
}
