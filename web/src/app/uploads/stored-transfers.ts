import { createStore, del, entries, set, type UseStore } from 'idb-keyval';

/** A file on its way that a reload must not lose. */
interface StoredTransfer {
  readonly name: string;
  readonly size: number;
  readonly lastModified: number;
  readonly personId: string;
  readonly folder: { readonly id: string; readonly title: string };
  /** What was added together with it. */
  readonly batch: string;
  /** The file itself; null when it is too large to be kept a second time. */
  readonly file: File | null;
}

/** Files up to this size are kept in the browser until they have arrived. */
const KEPT = 64 << 20;

let store: UseStore | null = null;
const openStore = () => (store ??= createStore('sammlung-uploads', 'files'));

/**
 * Notes files that are on their way, so that they go on by themselves after a reload. Where the browser keeps nothing
 * (private windows, no room) a reload only loses this comfort.
 */
export const storeTransfer = (key: string, entry: StoredTransfer) =>
  quietly(() => set(key, { ...entry, file: entry.size <= KEPT ? entry.file : null }, openStore()));

export const deleteStored = (key: string) => quietly(() => del(key, openStore()));

export const storedTransfers = async (): Promise<[string, StoredTransfer][]> =>
  (await quietly(() => entries<string, StoredTransfer>(openStore()))) ?? [];

async function quietly<T>(step: () => Promise<T>): Promise<T | null> {
  try {
    return await step();
  } catch (error) {
    if (error instanceof DOMException) return null;
    throw error;
  }
}
