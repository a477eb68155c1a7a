import type { IntakeLimits, PlacedUpload, Problem, SameName } from '@sammlung/contract';
import { useQueryCache } from '@pinia/colada';
import { useEventListener, useThrottleFn } from '@vueuse/core';
import { defineStore } from 'pinia';
import { DetailedError, Upload } from 'tus-js-client';
import { v4 } from 'uuid';
import { computed, ref, shallowReactive, shallowRef } from 'vue';
import { api, ApiError, OfflineError } from './api.ts';
import type { Dropped } from './dropped.ts';
import { hashFile } from './hash.ts';
import { useSession } from './session.ts';
import { shelve, shelved, unshelve } from './shelf.ts';
import { address } from './addresses.ts';

type State = 'waiting' | 'sending' | 'placing' | 'done' | 'failed' | 'stopped' | 'lost';
type Folder = { readonly id: string; readonly title: string };

/** One file on its way into a folder. */
export interface Transfer {
  readonly id: number;
  readonly name: string;
  readonly size: number;
  readonly lastModified: number;
  /** Null after a reload, when it was too large to be kept: it has to be chosen again. */
  file: File | null;
  readonly folder: Folder;
  /** What was added together has one of these in common. */
  readonly batch: string;
  state: State;
  sent: number;
  error: unknown;
  result: PlacedUpload | null;
  upload: Upload | null;
}

const AT_ONCE = 4;
/** Smaller files are sent with the request that announces them: begun anew, they cost less than a second request. */
const SENT_AT_ONCE = 1 << 20;
/** Waits between tries when the connection breaks, in milliseconds; then the person is asked. */
const RETRIES = [500, 1500, 4000, 10_000];
/** Larger files are sent without looking first whether they are known: hashing them takes too long. */
const HASHED = 256 << 20;
/** Files that are added together are sent in this order, and stand in it. */
const byName = new Intl.Collator(undefined, { numeric: true });
const BUSY: State[] = ['waiting', 'sending', 'placing'];

/** Files on their way in: a few at once, each resumable, one failing without holding up the others. */
export const useUploads = defineStore('uploads', () => {
  const cache = useQueryCache();
  const session = useSession();
  const transfers = shallowRef<Transfer[]>([]);
  /** While the folders for dropped files are being made. */
  const preparing = ref(false);
  const startedAt = ref(0);
  let count = 0;
  let limits: Promise<IntakeLimits> | null = null;

  const running = computed(() => transfers.value.filter((x) => BUSY.includes(x.state)));
  const total = computed(() => transfers.value.reduce((sum, x) => sum + x.size, 0));
  const sent = computed(() =>
    transfers.value.reduce((sum, x) => sum + (x.state === 'done' ? x.size : x.sent), 0),
  );
  /** Files that became the next version of another one, about which can still be decided otherwise. */
  const versions = computed(() =>
    transfers.value.filter((x) => x.state === 'done' && x.result?.outcome === 'version'),
  );

  function add(files: readonly { file: File; folder: Folder }[]) {
    if (running.value.length === 0) {
      transfers.value = transfers.value.filter((x) => x.state === 'lost');
      startedAt.value = Date.now();
      limits = null;
    }
    const batch = v4();
    const added = files.map(({ file, folder }) => {
      const { name, size, lastModified } = file;
      return transfer({ name, size, lastModified, file, folder, batch });
    });
    const nth = new Map([...new Set(files.map(({ folder }) => folder))].map((f, n) => [f, n]));
    added.sort((a, b) => nth.get(a.folder)! - nth.get(b.folder)! || byName.compare(a.name, b.name));
    transfers.value = [...transfers.value, ...added];
    for (const x of transfers.value.filter((y) => y.state === 'waiting')) void note(x);
    void lookAtSizes().finally(pump);
  }

  /** Files and whole folders that were dropped or picked: their folders are made first, empty ones too. */
  async function addDropped({ files, folders }: Dropped, into: Folder) {
    const titles = new Map<string, Folder>([['', into]]);
    if (folders.length > 0) {
      preparing.value = true;
      try {
        const made = await api('POST /api/paths', {
          body: {
            parentId: into.id,
            paths: folders,
          },
        });
        folders.forEach((path, n) =>
          titles.set(path.join('/'), { id: made.ids[n]!, title: path.at(-1)! }),
        );
        void refresh();
      } finally {
        preparing.value = false;
      }
    }
    if (files.length > 0)
      add(files.map(({ file, path }) => ({ file, folder: titles.get(path.join('/'))! })));
    return folders.length;
  }

  function transfer(
    given: Pick<Transfer, 'name' | 'size' | 'lastModified' | 'file' | 'folder' | 'batch'>,
    state: State = 'waiting',
  ): Transfer {
    count += 1;
    return shallowReactive({
      ...given,
      id: count,
      state,
      sent: 0,
      error: null,
      result: null,
      upload: null,
    });
  }

  const key = (x: Pick<Transfer, 'folder' | 'name' | 'size' | 'lastModified'>) =>
    ['sammlung', x.folder.id, x.name, x.size, x.lastModified].join('/');
  const note = (x: Transfer) =>
    shelve(key(x), {
      name: x.name,
      size: x.size,
      lastModified: x.lastModified,
      personId: session.person?.id ?? '',
      folder: x.folder,
      batch: x.batch,
      file: x.file,
    });

  /** Goes on with what a reload broke off; files that were too large to be kept wait to be chosen again. */
  async function goOn() {
    const found = (await shelved()).filter(([, x]) => x.personId === session.person?.id);
    const known = new Set(transfers.value.map(key));
    transfers.value = [
      ...transfers.value,
      ...found
        .filter(([name]) => !known.has(name))
        .map(([, x]) => transfer(x, x.file ? 'waiting' : 'lost')),
    ];
    if (found.length > 0) startedAt.value = Date.now();
    pump();
  }

  /** The file that a reload lost, chosen again. False when it is another one. */
  function found(x: Transfer, file: File): boolean {
    if (file.name !== x.name || file.size !== x.size) return false;
    // The browser knows the upload by the day the file was changed, too.
    const fresh = transfer({ ...x, file, lastModified: x.lastModified });
    transfers.value = transfers.value.map((y) => (y === x ? fresh : y));
    pump();
    return true;
  }

  /** Which sizes the library has already: only those files are worth hashing. */
  const knownSizes = new Set<number>();
  async function lookAtSizes() {
    const sizes = [
      ...new Set(transfers.value.filter((x) => x.state === 'waiting').map((x) => x.size)),
    ];
    try {
      for (let at = 0; at < sizes.length; at += 5000) {
        const { known } = await api('POST /api/intake/look', {
          body: {
            sizes: sizes.slice(at, at + 5000),
          },
        });
        for (const size of known) knownSizes.add(size);
      }
    } catch (error) {
      // Sending will say what is wrong, beside each file.
      if (!(error instanceof ApiError || error instanceof OfflineError)) throw error;
    }
  }

  function pump() {
    const busy = transfers.value.filter(
      (x) => x.state === 'sending' || x.state === 'placing',
    ).length;
    for (const x of transfers.value.filter((y) => y.state === 'waiting').slice(0, AT_ONCE - busy))
      void send(x);
  }

  async function send(x: Transfer) {
    x.state = 'sending';
    x.error = null;
    try {
      await refuseEarly(x);
      const known = await placeKnown(x);
      if (!known && wasStopped(x)) return;
      x.result = known ?? (await sendAndPlace(x));
      x.state = 'done';
      await unshelve(key(x));
      void refreshSoon();
    } catch (error) {
      if (wasStopped(x)) return;
      x.state = 'failed';
      x.error = error;
    } finally {
      pump();
    }
  }

  /** Somebody may have stopped it while something else was waited for. */
  const wasStopped = (x: Transfer) => x.state === 'stopped';

  /** What would be refused anyway is refused before it is sent. */
  async function refuseEarly({ size, name }: Transfer) {
    limits ??= api('GET /api/intake').catch((error: unknown) => {
      limits = null;
      throw error;
    });
    const { uploadLimit, used, quota } = await limits;
    if (name.trim() === '') throw new ApiError({ code: 'file-name-empty', status: 422 });
    if (size === 0) throw new ApiError({ code: 'empty-file', status: 422 });
    if (size > uploadLimit) throw new ApiError({ code: 'file-too-large', status: 413 });
    if (used + size > quota && !knownSizes.has(size))
      throw new ApiError({ code: 'quota-full', status: 413 });
  }

  /** Adds a file without sending it, where the library has its content. Null when it has not. */
  async function placeKnown(x: Transfer): Promise<PlacedUpload | null> {
    if (!x.file || !knownSizes.has(x.size) || x.size > HASHED) return null;
    const hash = await hashFile(x.file);
    if (hash === null) throw new ApiError({ code: 'file-gone', status: 0 });
    try {
      return await api('POST /api/folders/:folder/known', {
        params: { folder: x.folder.id },
        body: { name: x.name, hash, batch: x.batch },
      });
    } catch (error) {
      if (error instanceof ApiError && error.problem.code === 'not-found') return null;
      throw error;
    }
  }

  async function sendAndPlace(x: Transfer): Promise<PlacedUpload> {
    const uploadId = await sendBytes(x);
    x.state = 'placing';
    return api('POST /api/folders/:folder/files', {
      params: { folder: x.folder.id },
      body: { uploadId, batch: x.batch },
    });
  }

  /** Sends the bytes, going on where an earlier try broke off; resolves to the id of the upload. */
  async function sendBytes(x: Transfer): Promise<string> {
    const { file, folder } = x;
    if (!file) throw new ApiError({ code: 'file-gone', status: 0 });
    for (;;) {
      const sending = new Promise<string>((resolve, reject) => {
        const upload = new Upload(file, {
          endpoint: address('POST /api/uploads'),
          metadata: { filename: x.name, folderId: folder.id },
          fingerprint: async () => key(x),
          uploadDataDuringCreation: file.size <= SENT_AT_ONCE,
          retryDelays: RETRIES,
          removeFingerprintOnSuccess: true,
          onShouldRetry: (error) => {
            const status = error.originalResponse?.getStatus() ?? 0;
            return status === 0 || status === 423 || (status >= 500 && status !== 507);
          },
          onProgress: (bytes) => (x.sent = bytes),
          onSuccess: () => resolve(upload.url?.split('/').at(-1) ?? ''),
          onError: reject,
        });
        x.upload = upload;
        void upload.findPreviousUploads().then(([earlier]) => {
          if (earlier) upload.resumeFromPreviousUpload(earlier);
          upload.start();
        }, reject);
      });
      try {
        return await sending;
      } catch (error) {
        const refused = await refusalOf(error, file);
        if (refused instanceof ApiError && refused.problem.status === 401)
          await session.signInAgain();
        else throw refused;
      }
    }
  }

  async function stop(x: Transfer) {
    x.state = 'stopped';
    await x.upload?.abort();
    pump();
  }
  const stopAll = () => Promise.all(running.value.filter((x) => x.state !== 'placing').map(stop));

  /** Goes on with a file that was stopped or has failed. */
  function again(x: Transfer) {
    x.state = 'waiting';
    limits = null;
    pump();
  }
  function againAll() {
    for (const x of transfers.value)
      if (x.state === 'failed' || x.state === 'stopped') x.state = 'waiting';
    limits = null;
    pump();
  }
  // What broke off because the line was gone goes on when it is back.
  useEventListener(window, 'online', () => {
    for (const x of transfers.value)
      if (x.state === 'failed' && x.error instanceof OfflineError) again(x);
  });

  /** Takes a file that has not arrived off the list; it will not be gone on with. */
  async function forget(x: Transfer) {
    transfers.value = transfers.value.filter((y) => y !== x);
    await unshelve(key(x));
    await x.upload?.abort(true).catch((error: unknown) => {
      // What was never begun need not be ended.
      if (!(error instanceof DetailedError)) throw error;
    });
  }

  /** Decides otherwise about a file that became a version. */
  async function instead(x: Transfer, choice: Exclude<SameName, 'version'>) {
    if (!x.result) return;
    x.result = await api('POST /api/placed/:upload', {
      params: { upload: x.result.uploadId },
      body: { choice },
    });
    void refresh();
  }

  async function clear() {
    const gone = transfers.value.filter((x) => !BUSY.includes(x.state));
    transfers.value = running.value;
    for (const x of gone) if (x.state !== 'done') await unshelve(key(x));
  }

  const refresh = () =>
    Promise.all(
      [['folder'], ['audience'], ['placement'], ['tree'], ['space']].map((which) =>
        cache.invalidateQueries({ key: which }),
      ),
    );
  /** Many files that arrive one after the other bring the screen up to date now and then, not each. */
  const refreshSoon = useThrottleFn(
    refresh,
    () => (running.value.length > 10 ? 4000 : 300),
    true,
    true,
  );

  return {
    transfers,
    preparing,
    startedAt,
    running,
    total,
    sent,
    versions,
    add,
    addDropped,
    goOn,
    found,
    stop,
    stopAll,
    again,
    againAll,
    forget,
    instead,
    clear,
  };
});

async function refusalOf(error: unknown, file: File): Promise<unknown> {
  if (!(error instanceof DetailedError)) return error;
  const reply = error.originalResponse;
  if (!reply)
    return (await isReadable(file))
      ? new OfflineError()
      : new ApiError({ code: 'file-gone', status: 0 });
  const body = reply.getBody();
  const problem = body.startsWith('{')
    ? (JSON.parse(body) as Problem)
    : { code: 'upload-refused', status: reply.getStatus() };
  return new ApiError(problem);
}

/** Whether a file still lies on the disk as it was when it was chosen. */
async function isReadable(file: File): Promise<boolean> {
  try {
    await file.slice(0, 1).arrayBuffer();
    return true;
  } catch (error) {
    if (error instanceof DOMException) return false;
    throw error;
  }
}
