import type { TrayAnswer } from '@sammlung/contract';
import { browserStore } from '../device/browser-store.ts';

/** A file on its way that a reload must not lose. */
interface StoredTransfer {
  readonly name: string;
  readonly size: number;
  readonly lastModified: number;
  readonly personId: string;
  readonly folder: { readonly id: string; readonly title: string };
  /** What was added together with it. */
  readonly batch: string;
  /** What was decided about it already, for the tray. */
  readonly answer?: TrayAnswer;
  /** The file itself; null when it is too large to be kept a second time. */
  readonly file: File | null;
}

/** Files up to this size are kept in the browser until they have arrived. */
const KEPT = 64 << 20;

const store = browserStore<StoredTransfer>('sammlung-uploads', 'files');

/** Notes files that are on their way, so that they go on by themselves after a reload. */
export const storeTransfer = (key: string, entry: StoredTransfer) =>
  store.put(key, { ...entry, file: entry.size <= KEPT ? entry.file : null });

export const deleteStored = store.remove;
export const storedTransfers = store.all;
