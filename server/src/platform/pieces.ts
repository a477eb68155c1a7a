import { setImmediate } from 'node:timers/promises';
import type { InPieces } from '@sammlung/core';

/** How long other requests wait for one piece after the other. */
const STRETCH_MS = 15;

/** Does work in pieces, and lets everything else that waits go first again and again. Resolves to what comes out. */
export async function inPieces<T>(work: InPieces<T>): Promise<T> {
  let begun = performance.now();
  for (;;) {
    const { done, value } = work.next();
    if (done) return value;
    if (performance.now() - begun < STRETCH_MS) continue;
    await setImmediate();
    begun = performance.now();
  }
}
