import type { Problem, Replies, Routes, ScopedRoutes } from '@sammlung/contract';
import { ref } from 'vue';
import { bodyOf, fill, type Given, type RouteKey, type ScopedKey } from './addresses.ts';
import { takeInitial } from './initial-state.ts';
import { setClock } from './clock.ts';
import { AS_OF } from '../device/keys.ts';

/** What the server said no with; `problem.code` is one of its error codes. */
export class ApiError extends Error {
  constructor(
    readonly problem: Pick<Problem, 'code' | 'status'> & Partial<Problem>,
    /** Seconds to wait before the next try, where the server says so. */
    readonly retryAfter: number | null = null,
  ) {
    super(problem.detail ?? problem.code);
  }
}

/** The server could not be reached at all. */
export class OfflineError extends Error {}

/** Whether the last request reached the server. */
export const connected = ref(true);
/** As of when the last reply is, where the device answered for the server. */
export const asOf = ref<string | null>(null);

/** Resolves to true once the person has signed in again; to false when nobody had signed in. */
let sessionBack: () => Promise<boolean> = async () => false;

/** Tells how to wait for a session that has ended; the session store does, once. */
export function whenSessionEnds(wait: typeof sessionBack): void {
  sessionBack = wait;
}

/**
 * One request to a route of the contract. What came with the page is not asked for. When the session has ended in the
 * middle of work it waits until the person has signed in again and then goes on. Throws ApiError or OfflineError.
 */
export function api<K extends RouteKey>(
  key: K,
  ...[sent]: Given<Routes, K>
): Promise<Replies<Routes>[K]> {
  return request(key, fill(key, sent), sent);
}

/** The same in a scope, which begins with `base`: `/api`, or where a door's things are read. */
export function apiAt<K extends ScopedKey>(
  base: string,
  key: K,
  ...[sent]: Given<ScopedRoutes, K>
): Promise<Replies<ScopedRoutes>[K]> {
  return request(key, base + fill(key, sent), sent);
}

async function request<T>(key: string, path: string, sent: unknown): Promise<T> {
  const method = key.slice(0, key.indexOf(' '));
  const body = bodyOf(sent);
  const initial = method === 'GET' ? takeInitial<T>(path) : undefined;
  if (initial !== undefined) return initial;
  let reply = await send(method, path, body);
  if (reply.status === 401 && !key.endsWith(' /api/session') && (await sessionBack()))
    reply = await send(method, path, body);
  if (!reply.ok) throw await refusal(reply);
  // The contract says what a route answers with, and the server sends nothing else.
  return (reply.status === 204 ? null : await reply.json()) as T;
}

async function send(method: string, path: string, body?: unknown): Promise<Response> {
  if (import.meta.env.SSR) throw new Error(`${path} is not among what the page is made of`);
  try {
    const reply = await fetch(path, {
      method,
      ...(body instanceof Blob
        ? { headers: { 'content-type': 'application/octet-stream' }, body }
        : body !== undefined && {
            headers: { 'content-type': 'application/json' },
            body: JSON.stringify(body),
          }),
    });
    asOf.value = reply.headers.get(AS_OF);
    connected.value = asOf.value === null;
    if (connected.value) setClock(reply.headers.get('date'));
    return reply;
  } catch (error) {
    if (!(error instanceof TypeError)) throw error;
    if (method === 'GET') asOf.value = null;
    connected.value = false;
    throw new OfflineError();
  }
}

async function refusal(reply: Response): Promise<ApiError> {
  const wait = reply.headers.get('retry-after');
  const known = reply.headers.get('content-type')?.includes('json');
  const problem = known
    ? ((await reply.json()) as Problem)
    : { code: 'internal', status: reply.status };
  return new ApiError(problem, wait === null ? null : Number(wait));
}
