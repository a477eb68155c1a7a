import { browserStore } from '../device/browser-store.ts';

/** A file that another program has shared with the application. */
interface SharedFile {
  /** Whose device it was then. */
  readonly personId: string;
  readonly file: File;
}

const store = browserStore<SharedFile>('sammlung-shared', 'files');

/** Keeps shared files until somebody is there to take them. Resolves to whether all are kept. */
export async function keepShared(personId: string, files: readonly File[]): Promise<boolean> {
  const kept = await Promise.all(
    files.map((file) => store.put(crypto.randomUUID(), { personId, file })),
  );
  return kept.every(Boolean);
}

/** The files that were shared by a person and wait to be taken. */
export async function waitingFiles(personId: string): Promise<File[]> {
  return (await store.all()).flatMap(([, one]) => (one.personId === personId ? one.file : []));
}

/** The files that were shared by a person and have not been taken yet; those of others are removed. */
export async function takeShared(personId: string): Promise<File[]> {
  const all = await store.all();
  for (const [key] of all) await store.remove(key);
  return all.flatMap(([, one]) => (one.personId === personId ? one.file : []));
}
