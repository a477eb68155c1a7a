import type { EntryKey, useQueryCache } from '@pinia/colada';
import type { InitialState } from '@sammlung/contract';
import { page } from '../page.ts';

const ID = 'initial-state';

/** What this page was made of, where it came from the server with its contents in it; else null. */
export function initialState(): InitialState | null {
  const found = document.getElementById(ID);
  return found && (JSON.parse(found.textContent) as InitialState);
}

/**
 * The reply that came with the page for a path, else undefined. In a browser it is to be had once: who asks again wants to
 * know how things are now. The server makes a page of nothing else.
 */
export function takeInitial<T>(path: string): T | undefined {
  const { replies } = page();
  const reply = replies.get(path) as T | undefined;
  if (!import.meta.env.SSR) replies.delete(path);
  return reply;
}

/** Puts it where a query looks for its data: it is drawn at once, and not asked for again. */
export function useInitial(
  cache: ReturnType<typeof useQueryCache>,
  key: EntryKey,
  path: string,
): void {
  const reply = takeInitial(path);
  if (reply !== undefined) cache.setQueryData(key, reply);
}

/** For when another page is shown. */
export const dropInitial = (): void => page().replies.clear();
