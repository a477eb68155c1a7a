// @vitest-environment jsdom
import { createPinia, setActivePinia } from 'pinia';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { nextTick } from 'vue';
import { connected } from '../src/app/api/api.ts';
import { updateDevice, noteHere, NotNow, readState } from '../src/app/device/copies.ts';
import { useDevice } from '../src/app/device/device.ts';

vi.mock('../src/app/device/copies.ts', () => ({
  NotNow: class extends Error {},
  updateDevice: vi.fn(),
  noteHere: vi.fn(),
  readState: vi.fn(),
}));

/** The caches of the browser by name, and its service worker. */
const stored = new Set<string>();
const caches = {
  keys: async () => [...stored],
  open: async (name: string) => stored.add(name),
  delete: async (name: string) => stored.delete(name),
};
const unregister = vi.fn();
const register = vi.fn();
let registered = false;
let hidden = false;
let device: ReturnType<typeof useDevice>;
const thingsOf = (person: string) => vi.mocked(readState).mockResolvedValue({ person, things: {} });
const times = () => vi.mocked(updateDevice).mock.calls.length;
const turn = async (what: boolean) => {
  hidden = !what;
  document.dispatchEvent(new Event('visibilitychange'));
  await settled();
};
/** Until everything that was begun has come to rest. */
const settled = () => vi.advanceTimersByTimeAsync(1);

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal('caches', caches);
  const worker = { installing: null, waiting: null, active: null, unregister };
  vi.stubGlobal('navigator', {
    serviceWorker: { register, getRegistrations: async () => (registered ? [worker] : []) },
    storage: { persist: vi.fn() },
    locks: { request: (_: string, work: () => Promise<void>) => work() },
  });
  vi.spyOn(document, 'hidden', 'get').mockImplementation(() => hidden);
  for (const mock of [updateDevice, noteHere, readState, register, unregister])
    vi.mocked(mock).mockReset();
  stored.clear();
  [hidden, registered, connected.value] = [false, false, true];
  setActivePinia(createPinia());
  device = useDevice();
});
afterEach(async () => {
  await device.forget();
  vi.useRealTimers();
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

const student = (id: string) => ({ id, kind: 'student' as const });

describe('what a student keeps on the device', () => {
  it('is there for them when they come, and is brought up to date', async () => {
    stored.add('kept');
    thingsOf('mina');
    await device.start(student('mina'));
    await settled();
    expect([device.on, device.state]).toEqual([true, { person: 'mina', things: {} }]);
    expect(vi.mocked(updateDevice).mock.calls[0]![1]).toBe('mina');
    expect(register).toHaveBeenCalledExactlyOnceWith('/sw.js');
  });

  it.each([
    ['somebody else comes', 'jon'],
    ['nobody has signed in', null],
  ])('is removed when %s', async (_, who) => {
    stored.add('kept').add('parts');
    registered = true;
    thingsOf('mina');
    await device.start(who === null ? null : student(who));
    await settled();
    expect([device.on, device.state, stored.size]).toEqual([false, null, 0]);
    expect(unregister).toHaveBeenCalled();
    expect(updateDevice).not.toHaveBeenCalled();
  });

  it('leaves no worker behind that outlived what it had stored', async () => {
    registered = true;
    await device.start(student('mina'));
    await settled();
    expect(unregister).toHaveBeenCalledOnce();
    expect([device.on, stored.size]).toEqual([false, 0]);
  });

  it('is begun by itself only for a teacher who has made it a program of the device', async () => {
    for (const [kind, installed, begun] of [
      ['student', true, false],
      ['teacher', false, false],
      ['teacher', true, true],
    ] as const) {
      vi.stubGlobal('matchMedia', () => ({ matches: installed }));
      await device.start({ id: 'ilse', kind });
      await settled();
      expect(device.on).toBe(begun);
    }
  });

  it('is not looked for where the device has nothing', async () => {
    await device.start(student('mina'));
    await settled();
    expect([device.on, times(), register.mock.calls.length]).toEqual([false, 0, 0]);
  });

  it('is brought up to date when the connection is back, and on the screen again after five minutes', async () => {
    await device.begin('mina');
    await settled();
    expect(times()).toBe(1);
    connected.value = false;
    await nextTick();
    await settled();
    expect(times()).toBe(1);
    connected.value = true;
    await nextTick();
    await settled();
    expect(times()).toBe(2);
    await turn(false);
    vi.advanceTimersByTime(4 * 60_000);
    await turn(true);
    expect(times()).toBe(2);
    await turn(false);
    vi.advanceTimersByTime(2 * 60_000);
    await turn(true);
    expect(times()).toBe(3);
  });

  it('gives up what hangs on a lost connection when it begins anew', async () => {
    const signals: AbortSignal[] = [];
    vi.stubGlobal('fetch', (_: string, { signal }: RequestInit) => signals.push(signal!));
    vi.mocked(updateDevice).mockImplementation(
      async (_, __, ask) => void (await ask('/api/session')),
    );
    await device.begin('mina');
    await settled();
    window.dispatchEvent(new Event('online'));
    await settled();
    expect(signals.map(({ aborted }) => aborted)).toEqual([true, false]);
  });

  it('stays as it is while there is no connection; other faults are not hidden', async () => {
    await device.begin('mina');
    await settled();
    vi.mocked(updateDevice).mockRejectedValueOnce(new NotNow());
    await expect(device.update()).resolves.toBeUndefined();
    vi.mocked(updateDevice).mockRejectedValueOnce(new Error('broken'));
    await expect(device.update()).rejects.toThrow('broken');
  });

  it('asks again for what the server could not give, each time later, until it is there', async () => {
    vi.mocked(updateDevice).mockRejectedValueOnce(new NotNow()).mockRejectedValueOnce(new NotNow());
    await device.begin('mina');
    await settled();
    expect(times()).toBe(1);
    await vi.advanceTimersByTimeAsync(4_000);
    expect(times()).toBe(2);
    await vi.advanceTimersByTimeAsync(4_000);
    expect(times()).toBe(2);
    await vi.advanceTimersByTimeAsync(4_000);
    expect(times()).toBe(3);
    await vi.advanceTimersByTimeAsync(60_000);
    expect(times()).toBe(3);
  });

  it('notes what was opened, on a device that has things', async () => {
    await device.noteOpened('p');
    expect(noteHere).not.toHaveBeenCalled();
    await device.begin('mina');
    await settled();
    await device.noteOpened('p');
    expect(noteHere).toHaveBeenCalledExactlyOnceWith(expect.anything(), 'p');
  });

  it('is gone once it is forgotten, and comes no more', async () => {
    await device.begin('mina');
    await settled();
    await device.forget();
    expect([stored.size, device.on]).toEqual([0, false]);
    const before = times();
    connected.value = false;
    await nextTick();
    connected.value = true;
    await nextTick();
    window.dispatchEvent(new Event('online'));
    await device.update();
    expect(times()).toBe(before);
  });

  it('does nothing in a browser that has no store', async () => {
    vi.stubGlobal('caches', {
      keys: () => Promise.reject(new DOMException('no', 'SecurityError')),
      open: () => Promise.reject(new DOMException('no', 'SecurityError')),
    });
    await device.start(student('mina'));
    expect(device.able).toBe(false);
    await device.begin('mina');
    await settled();
    expect([device.on, times()]).toEqual([false, 0]);
  });
});
