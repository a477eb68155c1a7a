import type {
  ClassPage,
  Contents,
  ItemRow,
  Kept,
  KeptThing,
  PageText,
  PlacementView,
  Session,
} from '@sammlung/contract';
import {
  address,
  addressAt,
  baseOf,
  pictureAddress,
  picturesOn,
  readAddress,
  smallAddress,
} from '../api/addresses.ts';
import { CONTENT, howShown } from '../content/howShown.ts';
import { AS_OF, keyOf, STATE } from './keys.ts';

const SESSION = address('GET /api/session');
/** Requests under way at once. */
const AT_ONCE = 4;
/** Under which it stands what was opened here while the server could not be told. */
const OPENED = '/opened-here';

/** What there is of a kept thing on the device. */
export interface OnDevice {
  /** When all of it was last as it is here, by the server's clock; null while it has never been whole. */
  readonly asOf: string | null;
  /** Files that can be read in place, and how many of them are here. */
  readonly files: number;
  readonly here: number;
  /** Whether the device has no room for the rest. */
  readonly full: boolean;
}

export interface DeviceState {
  /** Whose things they are. */
  readonly person: string;
  /** By the id of the kept thing. */
  readonly things: Readonly<Record<string, OnDevice>>;
}

/** The server cannot be reached, or knows the person no longer: what is on the device stays as it is. */
export class NotNow extends Error {}

type Part = Pick<Cache, 'match' | 'put' | 'delete' | 'keys'>;

async function held<T>(cache: Part, key: string): Promise<T | null> {
  const found = await cache.match(key, { ignoreVary: true });
  return found ? ((await found.json()) as T) : null;
}

/** What the device holds, and of whom; null for nothing. */
export const readState = (cache: Part) => held<DeviceState>(cache, keyOf(STATE));

/** What is lost on the way, or given up, is for another time. */
async function orNotNow<T>(coming: Promise<T>): Promise<T> {
  try {
    return await coming;
  } catch (error) {
    const givenUp = error instanceof DOMException && error.name === 'AbortError';
    if (givenUp || error instanceof TypeError) throw new NotNow();
    throw error;
  }
}

/** Puts a reply on the device; false where there is no room for it. Throws NotNow when it does not come whole. */
async function putIn(cache: Part, address: string, reply: Response): Promise<boolean> {
  try {
    await orNotNow(cache.put(keyOf(address), reply));
    return true;
  } catch (error) {
    if (!(error instanceof DOMException) || error.name !== 'QuotaExceededError') throw error;
    return false;
  }
}

/** Notes that a placement was opened, until the server can be told of it; not where there is no room for it. */
export async function noteHere(cache: Part, placementId: string): Promise<void> {
  const before = (await held<string[]>(cache, keyOf(OPENED))) ?? [];
  await putIn(cache, OPENED, Response.json([...new Set([...before, placementId])]));
}

/**
 * Brings the device up to what a student keeps: fetches what is new, and removes what is kept or seen no longer; before,
 * the server is told what was opened meanwhile. `ask` sends a request to an address; `report` gets each state on the way.
 * Throws NotNow when it has to stop on the way.
 */
export async function updateDevice(
  cache: Part,
  person: string,
  ask: (address: string, method?: 'PUT') => Promise<Response>,
  report: (state: DeviceState) => void,
): Promise<void> {
  const before = (await readState(cache))?.things ?? {};
  let state: DeviceState = { person, things: {} };
  /** What stays on the device. */
  const wanted = new Set([keyOf(OPENED)]);
  /** The server's, as of its last reply. */
  let clock = '';

  /** Null for what is not to be had. */
  async function fetched(address: string, method?: 'PUT'): Promise<Response | null> {
    const reply = await orNotNow(ask(address, method));
    const { headers, status, ok } = reply;
    if (headers.has(AS_OF) || status === 401 || status === 429 || status >= 500) throw new NotNow();
    clock = new Date(headers.get('date') ?? Date.now()).toISOString();
    return ok ? reply : null;
  }

  function put(address: string, reply: Response): Promise<boolean> {
    wanted.add(keyOf(address));
    return putIn(cache, address, reply);
  }
  const note = () => put(STATE, Response.json(state));

  /** What changes under its address. */
  async function fetchJson<T>(address: string): Promise<T | null> {
    const reply = await fetched(address);
    if (!reply) return null;
    await put(address, reply.clone());
    return (await orNotNow(reply.json())) as T;
  }

  async function updateThing({ id, token, folderId, placementId, classId }: KeptThing) {
    const base = token ? baseOf('/api/open/:token', { token }) : '/api';
    let one: OnDevice = { asOf: before[id]?.asOf ?? null, files: 0, here: 0, full: false };
    const say = (more: Partial<OnDevice>) => {
      one = { ...one, ...more };
      state = { ...state, things: { ...state.things, [id]: one } };
      report(state);
    };

    /** What never changes under its address; false where there is no room for it. */
    async function lasting(address: string): Promise<boolean> {
      const key = keyOf(address);
      wanted.add(key);
      if (await cache.match(key, { ignoreVary: true })) return true;
      const reply = one.full ? null : await fetched(address);
      if (!reply) return false;
      const fits = await put(address, reply);
      if (!fits) say({ full: true });
      return fits;
    }

    /** `unchanged` as its row in the folder tells. */
    async function item(placement: string, unchanged: boolean) {
      const address = addressAt(base, 'GET /placements/:placement', { params: { placement } });
      const view =
        (unchanged && (await held<PlacementView>(cache, keyOf(address)))) ||
        (await fetchJson<PlacementView>(address));
      if (!view) return;
      wanted.add(keyOf(address));
      if (view.kind === 'page') return page(placement, unchanged);
      if (!CONTENT.has(howShown(view))) return;
      say({ files: one.files + 1 });
      if (await lasting(readAddress({ base }, view))) say({ here: one.here + 1 });
      if (view.small)
        for (const as of [undefined, 'line'] as const)
          await lasting(smallAddress({ base }, placement, view.small, as));
    }

    /** What a page says, with its pictures. */
    async function page(placement: string, unchanged: boolean) {
      const params = { placement };
      const address = addressAt(base, 'GET /placements/:placement/page', { params });
      say({ files: one.files + 1 });
      const text =
        (unchanged && (await held<PageText>(cache, keyOf(address)))) ||
        (await fetchJson<PageText>(address));
      if (!text) return;
      wanted.add(keyOf(address));
      say({ here: one.here + 1 });
      for (const hash of picturesOn(text.html))
        await lasting(pictureAddress(base, placement, hash));
    }

    async function folder(at: string) {
      const params = { folder: at };
      if (!(await fetchJson(addressAt(base, 'GET /folders/:folder', { params })))) return;
      const below: string[] = [];
      let after: string | null = '';
      while (after !== null) {
        const address: string = addressAt(base, 'GET /folders/:folder/contents', {
          params,
          query: { after: after || undefined },
        });
        const rows = new Map(
          (await held<Contents>(cache, keyOf(address)))?.items.map((row) => [row.placementId, row]),
        );
        const contents: Contents | null = await fetchJson<Contents>(address);
        below.push(...(contents?.folders ?? []).map((row) => row.id));
        const files = (contents?.items ?? []).filter((row) => row.kind !== 'link');
        await someAtOnce(files, (row) =>
          item(row.placementId, sameRow(row, rows.get(row.placementId))),
        );
        after = contents?.next ?? null;
      }
      for (const one of below) await folder(one);
    }

    /** The page of a class, with all that is on it. */
    async function classPage(of: string) {
      const params = { class: of };
      const page = await fetchJson<ClassPage>(
        addressAt(base, 'GET /class-pages/:class', { params }),
      );
      if (!page) return;
      const entries = [...page.top, ...page.loose, ...page.headings.flatMap((h) => h.entries)];
      for (const thing of [...entries.flatMap((entry) => entry.things), ...page.rest]) {
        if (thing.kind === 'folder') await folder(thing.id);
        else if (thing.itemKind !== 'link') await item(thing.id, false);
      }
    }

    const since = clock;
    say({});
    if (token) await fetchJson(base);
    if (classId) await classPage(classId);
    else if (folderId) await folder(folderId);
    else await item(placementId!, false);
    say({ asOf: since });
    await note();
  }

  // Whose it is stands there before anything else does.
  await put(STATE, Response.json({ person, things: before }));
  const reply = await fetched(SESSION);
  const session = reply && ((await orNotNow(reply.clone().json())) as Session);
  // Somebody else has signed in meanwhile, in another window: nothing of theirs comes among these.
  if (!reply || session?.person?.id !== person) throw new NotNow();
  await put(SESSION, reply);
  for (const placementId of (await held<string[]>(cache, keyOf(OPENED))) ?? [])
    await fetched(
      address('PUT /api/placements/:placement/opened', { params: { placement: placementId } }),
      'PUT',
    );
  await cache.delete(keyOf(OPENED));
  const kept = await fetchJson<Kept>(address('GET /api/kept'));
  for (const thing of kept?.things ?? [])
    if (thing.url === null && (thing.folderId ?? thing.placementId ?? thing.classId))
      await updateThing(thing);
  for (const { url } of await cache.keys()) if (!wanted.has(url)) await cache.delete(url);
  await note();
  report(state);
}

/** Whether an item is as it was, but for having been opened. */
function sameRow(row: ItemRow, before: ItemRow | undefined): boolean {
  return JSON.stringify({ ...row, opened: true }) === JSON.stringify({ ...before, opened: true });
}

async function someAtOnce<T>(all: readonly T[], run: (one: T) => Promise<void>) {
  const waiting = all.values();
  const work = async () => {
    for (const one of waiting) await run(one);
  };
  await Promise.all(Array.from({ length: AT_ONCE }, work));
}
