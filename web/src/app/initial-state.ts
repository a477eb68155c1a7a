import type { EntryKey, useQueryCache } from '@pinia/colada';
import type { InitialState } from '@sammlung/contract';
import { setClock } from './clock.ts';

const ID = 'initial-state';
const initial = new Map<string, unknown>();

/** Whether this page came from the server with its contents in it. */
export const isRendered = (): boolean => document.getElementById(ID) !== null;

/** Takes over what such a page was made of. */
export function takeOverPage(): void {
  const { at, replies } = JSON.parse(document.getElementById(ID)!.textContent) as InitialState;
  setClock(at);
  setInitial(replies);
}

/** From now on these replies of the API are here, by path, and no others. */
export function setInitial(replies: InitialState['replies']): void {
  initial.clear();
  for (const [path, reply] of Object.entries(replies)) initial.set(path, reply);
}

/**
 * The reply that is here for a path, else undefined. In a browser it is to be had once: who asks again wants to know
 * how things are now. The server makes a page of nothing else.
 */
export function takeInitial<T>(path: string): T | undefined {
  const reply = initial.get(path) as T | undefined;
  if (!import.meta.env.SSR) initial.delete(path);
  return reply;
}

/** Puts it where a query looks for its data: it is drawn at once, and not asked for again. */
export function drawAtOnce(
  cache: ReturnType<typeof useQueryCache>,
  key: EntryKey,
  path: string,
): void {
  const reply = takeInitial(path);
  if (reply !== undefined) cache.setQueryData(key, reply);
}

/** For when another page is shown. */
export const dropInitial = (): void => initial.clear();
