import type { EntryKey, useQueryCache } from '@pinia/colada';
import type { Brought } from '@sammlung/contract';

/** A reply of the API that is here, or on its way, before what wants it is there. */
interface Early {
  readonly coming: Promise<unknown>;
  arrived: unknown;
}

const early = new Map<string, Early>();

/** From now on these replies are here, by path, and no others. */
export function bring(replies: Brought['replies']): void {
  early.clear();
  for (const [path, arrived] of Object.entries(replies))
    early.set(path, { coming: Promise.resolve(arrived), arrived });
}

/** Asks for what a page is about to want, so that it comes while the page itself is still being loaded. */
export function askEarly(paths: readonly string[], ask: (path: string) => Promise<unknown>): void {
  for (const path of paths) {
    if (early.has(path)) continue;
    const asked: Early = { coming: ask(path), arrived: undefined };
    early.set(path, asked);
    asked.coming.then(
      (data) => (asked.arrived = data),
      // The page asks again, and says what is wrong.
      () => early.delete(path),
    );
  }
}

/** Resolves when all of it has arrived, or is no longer worth waiting for. */
export async function arriving(patienceMs: number): Promise<void> {
  const late = new Promise((resolve) => setTimeout(resolve, patienceMs));
  await Promise.race([Promise.allSettled([...early.values()].map((x) => x.coming)), late]);
}

/** For when another page is shown, or somebody else has come. */
export function dropEarly(): void {
  early.clear();
}

/**
 * What is early for a path. In a browser it is to be had once: who asks again wants to know how things are now. The
 * server makes a page of nothing else.
 */
export function takeEarly(path: string): Early | undefined {
  const found = early.get(path);
  if (!import.meta.env.SSR) early.delete(path);
  return found;
}

/** What has arrived early for a path, to be drawn at once and not asked for again. */
export function takeArrived<T>(path: string): T | undefined {
  const arrived = early.get(path)?.arrived as T | undefined;
  // What is still on its way is left for whoever asks.
  if (arrived !== undefined) takeEarly(path);
  return arrived;
}

/** Puts it where a query looks for its data; does nothing when it has not arrived. */
export function drawAtOnce(
  cache: ReturnType<typeof useQueryCache>,
  key: EntryKey,
  path: string,
): void {
  const arrived = takeArrived(path);
  if (arrived !== undefined) cache.setQueryData(key, arrived);
}
