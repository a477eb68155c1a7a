import { createStore, del, entries, set, type UseStore } from 'idb-keyval';

/** What a browser keeps by itself, by keys. */
export interface BrowserStore<T> {
  /** Resolves to whether it is kept. */
  put(key: string, value: T): Promise<boolean>;
  remove(key: string): Promise<void>;
  all(): Promise<[string, T][]>;
}

/**
 * A store of its own in this browser. Where the browser keeps nothing (private windows, no room) it stays empty: what is
 * in it is a comfort, and nothing depends on it.
 */
export function browserStore<T>(database: string, name: string): BrowserStore<T> {
  let store: UseStore | null = null;
  const open = () => (store ??= createStore(database, name));
  return {
    put: async (key, value) =>
      (await quietly(() => set(key, value, open()).then(() => true))) ?? false,
    remove: async (key) => void (await quietly(() => del(key, open()))),
    all: async () => (await quietly(() => entries<string, T>(open()))) ?? [],
  };
}

async function quietly<T>(step: () => Promise<T>): Promise<T | null> {
  try {
    return await step();
  } catch (error) {
    if (error instanceof DOMException) return null;
    throw error;
  }
}
