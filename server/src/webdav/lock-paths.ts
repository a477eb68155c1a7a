import type { DavLock } from '../domain/programs/locks.ts';

const TOKEN = /^urn:uuid:([0-9a-f]{8}-(?:[0-9a-f]{4}-){3}[0-9a-f]{12})$/iu;
/** The lock that a token names; null for tokens that are none of ours. */
export const lockOfToken = (token: string) => TOKEN.exec(token)?.[1]?.toLowerCase() ?? null;
export const tokenOfLock = ({ token }: Pick<DavLock, 'token'>) => `urn:uuid:${token}`;

/** Whether a path is in a folder, however deep. */
export const isBelow = (path: string, folder: string) =>
  folder === '' ? path !== '' : path.startsWith(`${folder}/`);

/** Whether a lock is on a path: its own, or one that reaches down to it. */
export const covers = (lock: Pick<DavLock, 'path' | 'infinite'>, path: string) =>
  lock.path === path || (lock.infinite && isBelow(path, lock.path));
