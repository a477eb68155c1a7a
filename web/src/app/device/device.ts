import type { Person } from '@sammlung/contract';
import { defineStore } from 'pinia';
import { ref, shallowRef, watch } from 'vue';
import { connected } from '../api/api.ts';
import type { DeviceState } from './copies.ts';
import { KEPT_CACHE, PARTS_CACHE } from './keys.ts';

/** A device that has been on the screen again for so long looks for news. Milliseconds. */
const AGAIN = 5 * 60_000;
/** What the server could not give is asked for again after so long, then after twice as long, up to AGAIN. Milliseconds. */
const SOON = 4_000;

/**
 * What somebody keeps, on the device too, so that it can be read without a connection; and the application itself, so that it opens without one
 * and takes what other programs share with it.
 */
export const useDevice = defineStore('device', () => {
  /** Whether this browser has things on the device at all: not without https, and some not in a private window. */
  const able = ref(!import.meta.env.SSR && 'serviceWorker' in navigator && 'caches' in window);
  /** Whether the device has things, of whoever has signed in. */
  const on = ref(false);
  /** What it has; null until it has been looked at. */
  const state = shallowRef<DeviceState | null>(null);
  let person = '';
  let looked = 0;
  let pause = SOON;
  let later: ReturnType<typeof setTimeout> | undefined;
  let stop = () => {};
  let underWay = new AbortController();
  let registering: Promise<unknown> = Promise.resolve();

  /** Finds out what the device has for somebody; what it has of others is removed. */
  async function start(who: Pick<Person, 'id' | 'kind'> | null): Promise<void> {
    const things = await allowed(async () => [...(await caches.keys()), ...(await workers())]);
    if (!things) return;
    if (things.length === 0) {
      if (who?.kind === 'teacher' && installed()) await begin(who.id);
      return;
    }
    const { readState } = await import('./copies.ts');
    const found = await readState(await caches.open(KEPT_CACHE));
    if (who === null || found?.person !== who.id) return forget();
    state.value = found;
    go(who.id);
  }

  /** Whether somebody has made it a program of this device. */
  const installed = () => matchMedia('(display-mode: standalone)').matches;

  const workers = () => navigator.serviceWorker.getRegistrations();

  /** Asks the browser for something of its store; null when it has none for us. */
  async function allowed<T>(ask: () => Promise<T>): Promise<T | null> {
    if (!able.value) return null;
    try {
      return await ask();
    } catch (error) {
      if (!(error instanceof DOMException)) throw error;
      able.value = false;
      return null;
    }
  }

  function go(whom: string) {
    stop();
    person = whom;
    on.value = true;
    stop = watch(connected, (now) => now && update());
    document.addEventListener('visibilitychange', shown);
    // A connection that was lost for a moment only need not have been missed by anything on the page.
    window.addEventListener('online', update);
    registering = navigator.serviceWorker.register('/sw.js');
    void update();
  }

  function shown() {
    if (!document.hidden && Date.now() - looked > AGAIN) void update();
  }

  /** Brings the device up to what is kept; while there is no connection it stays as it is. One page at a time does. */
  async function update(): Promise<void> {
    if (!on.value) return;
    looked = Date.now();
    clearTimeout(later);
    const { updateDevice, NotNow } = await import('./copies.ts');
    // What is still under way may hang on a connection that is no more.
    underWay.abort();
    const { signal } = (underWay = new AbortController());
    const ask = (address: string, method = 'GET') =>
      fetch(address, { method, cache: 'no-store', signal });
    await navigator.locks.request('device', async () => {
      if (!on.value) return;
      try {
        const cache = await caches.open(KEPT_CACHE);
        await updateDevice(cache, person, ask, (now) => (state.value = now));
        pause = SOON;
      } catch (error) {
        if (!(error instanceof NotNow)) throw error;
        if (!connected.value || signal.aborted) return;
        later = setTimeout(update, pause);
        pause = Math.min(pause * 2, AGAIN);
      }
    });
  }

  /** Something was opened and the server could not be told; it is with the next update. */
  async function noteOpened(placementId: string): Promise<void> {
    if (!on.value) return;
    const { noteHere } = await import('./copies.ts');
    await noteHere(await caches.open(KEPT_CACHE), placementId);
  }

  /** From now on this device has what the person keeps; does nothing where the browser has no store for it. */
  async function begin(whom: string): Promise<void> {
    if (!(await allowed(() => caches.open(KEPT_CACHE)))) return;
    // Asks the browser not to make room with it; it may say no.
    void navigator.storage.persist();
    go(whom);
  }

  /** Has a part of the application on the device that is not there by itself, once the device has things at all. */
  async function hold(address: string): Promise<void> {
    const cache = on.value ? await allowed(() => caches.open(PARTS_CACHE)) : null;
    if (!cache || (await cache.match(address))) return;
    await cache.add(address).catch((error: unknown) => {
      // There is no connection, or no room: it is with the next time.
      if (!(error instanceof TypeError || error instanceof DOMException)) throw error;
    });
  }

  /** Removes everything of ours from the device, whoever it was of. */
  async function forget(): Promise<void> {
    on.value = false;
    state.value = null;
    stop();
    clearTimeout(later);
    underWay.abort();
    document.removeEventListener('visibilitychange', shown);
    window.removeEventListener('online', update);
    const clear = async () => {
      for (const name of (await allowed(() => caches.keys())) ?? []) await caches.delete(name);
    };
    // The worker stores nothing any more once the cache of what is kept is gone.
    await clear();
    // One that is only being fetched is not among those there are.
    await Promise.allSettled([registering]);
    for (const registration of (await allowed(workers)) ?? []) {
      // One that is still being installed may be writing one more part.
      for (const worker of [registration.installing, registration.waiting, registration.active])
        worker?.addEventListener('statechange', clear);
      await registration.unregister();
    }
    await clear();
  }

  return { able, on, state, start, begin, update, hold, noteOpened, forget };
});
