import type { IntakeLimits, PlacedUpload, SameName, TrayAnswer } from '@sammlung/contract';
import { useQueryCache } from '@pinia/colada';
import { until, useEventListener, useThrottleFn } from '@vueuse/core';
import { defineStore } from 'pinia';
import { DetailedError } from 'tus-js-client';
import { v4 } from 'uuid';
import { computed, ref, shallowRef } from 'vue';
import { api, ApiError, OfflineError } from '../api/api.ts';
import { useSession } from '../session/session.ts';
import type { Dropped } from './dropped.ts';
import { useKnownContents } from './known-contents.ts';
import { sendBytes } from './send-bytes.ts';
import { storeTransfer, storedTransfers, deleteStored } from './stored-transfers.ts';
import {
  inTray,
  isBusy,
  newTransfer,
  transferKey,
  TRAY,
  type IntoFolder,
  type Transfer,
} from './transfer.ts';

const AT_ONCE = 4;
/** Files that are added together are sent in this order, and stand in it. */
const byName = new Intl.Collator(undefined, { numeric: true });

/** Files on their way in: a few at once, each resumable, one failing without holding up the others. */
export const useUploads = defineStore('uploads', () => {
  const cache = useQueryCache();
  const session = useSession();
  const transfers = shallowRef<Transfer[]>([]);
  /** While the folders for dropped files are being made. */
  const preparing = ref(false);
  const startedAt = ref(0);
  let limits: Promise<IntakeLimits> | null = null;
  const known = useKnownContents();

  const running = computed(() => transfers.value.filter(isBusy));
  const total = computed(() => transfers.value.reduce((sum, x) => sum + x.size, 0));
  const sent = computed(() =>
    transfers.value.reduce((sum, x) => sum + (x.state === 'done' ? x.size : x.sent), 0),
  );
  /** Files that became the next version of another one, about which can still be decided otherwise. */
  const versions = computed(() =>
    transfers.value.filter((x) => x.state === 'done' && x.result?.outcome === 'version'),
  );

  function add(
    files: readonly { file: File; folder: IntoFolder; answer?: TrayAnswer }[],
  ): Transfer[] {
    if (running.value.length === 0) {
      transfers.value = transfers.value.filter((x) => x.state === 'lost');
      startedAt.value = Date.now();
      limits = null;
    }
    const batch = v4();
    const added = files.map(({ file, folder, answer }) => {
      const { name, size, lastModified } = file;
      return newTransfer({
        name,
        size,
        lastModified,
        file,
        folder,
        batch,
        ...(answer && { answer }),
      });
    });
    const nth = new Map([...new Set(files.map(({ folder }) => folder))].map((f, n) => [f, n]));
    added.sort((a, b) => nth.get(a.folder)! - nth.get(b.folder)! || byName.compare(a.name, b.name));
    transfers.value = [...transfers.value, ...added];
    for (const x of transfers.value.filter((y) => y.state === 'waiting')) void note(x);
    void lookAtSizes().finally(startNext);
    return added;
  }

  /** Waits for what becomes of a file: the id that it has in the tray, or null when it waits, for a connection or for somebody. */
  async function settled(x: Transfer): Promise<string | null> {
    await until(() => !isBusy(x)).toBe(true);
    return x.state === 'done' ? (x.result?.uploadId ?? null) : null;
  }

  /** Files and whole folders that were dropped or picked: their folders are made first, empty ones too. */
  async function addDropped({ files, folders }: Dropped, into: IntoFolder) {
    const titles = new Map<string, IntoFolder>([['', into]]);
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

  const note = (x: Transfer) =>
    storeTransfer(transferKey(x), {
      name: x.name,
      size: x.size,
      lastModified: x.lastModified,
      personId: session.person?.id ?? '',
      folder: x.folder,
      batch: x.batch,
      ...(x.answer && { answer: x.answer }),
      file: x.file,
    });

  /** Goes on with what a reload broke off; files that were too large to be kept wait to be chosen again. */
  async function goOn() {
    const found = (await storedTransfers()).filter(([, x]) => x.personId === session.person?.id);
    const listed = new Set(transfers.value.map(transferKey));
    transfers.value = [
      ...transfers.value,
      ...found
        .filter(([name]) => !listed.has(name))
        .map(([, x]) => newTransfer(x, x.file ? 'waiting' : 'lost')),
    ];
    if (found.length > 0) startedAt.value = Date.now();
    startNext();
  }

  /** The file that a reload lost, chosen again. False when it is another one. */
  function found(x: Transfer, file: File): boolean {
    if (file.name !== x.name || file.size !== x.size) return false;
    // The browser knows the upload by the day the file was changed, too.
    const fresh = newTransfer({ ...x, file, lastModified: x.lastModified });
    transfers.value = transfers.value.map((y) => (y === x ? fresh : y));
    startNext();
    return true;
  }

  const lookAtSizes = () =>
    known.look([
      ...new Set(transfers.value.filter((x) => x.state === 'waiting').map((x) => x.size)),
    ]);

  function startNext() {
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
      const placed = await known.place(x);
      if (!placed && wasStopped(x)) return;
      x.result = placed ?? (await sendAndPlace(x));
      x.state = 'done';
      await deleteStored(transferKey(x));
      void refreshSoon();
    } catch (error) {
      if (wasStopped(x)) return;
      x.state = 'failed';
      x.error = error;
    } finally {
      startNext();
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
    if (used + size > quota && !known.has(size))
      throw new ApiError({ code: 'quota-full', status: 413 });
  }

  async function sendAndPlace(x: Transfer): Promise<PlacedUpload> {
    const uploadId = await sendBytes(x, session.signInAgain);
    x.state = 'placing';
    if (x.folder.id === TRAY) {
      const { id } = await api('POST /api/tray', { body: { uploadId, answer: x.answer } });
      return inTray(x, id);
    }
    return api('POST /api/folders/:folder/files', {
      params: { folder: x.folder.id },
      body: { uploadId, batch: x.batch },
    });
  }

  async function stop(x: Transfer) {
    x.state = 'stopped';
    await x.upload?.abort();
    startNext();
  }
  const stopAll = () => Promise.all(running.value.filter((x) => x.state !== 'placing').map(stop));

  /** Goes on with a file that was stopped or has failed. */
  function again(x: Transfer) {
    x.state = 'waiting';
    limits = null;
    startNext();
  }
  function againAll() {
    for (const x of transfers.value)
      if (x.state === 'failed' || x.state === 'stopped') x.state = 'waiting';
    limits = null;
    startNext();
  }
  // What broke off because the line was gone goes on when it is back.
  useEventListener(window, 'online', () => {
    for (const x of transfers.value)
      if (x.state === 'failed' && x.error instanceof OfflineError) again(x);
  });

  /** Takes a file that has not arrived off the list; it will not be gone on with. */
  async function forget(x: Transfer) {
    transfers.value = transfers.value.filter((y) => y !== x);
    await deleteStored(transferKey(x));
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
    const gone = transfers.value.filter((x) => !isBusy(x));
    transfers.value = running.value;
    for (const x of gone) if (x.state !== 'done') await deleteStored(transferKey(x));
  }

  const refresh = () =>
    Promise.all(
      [['folder'], ['audience'], ['placement'], ['tree'], ['space'], ['tray']].map((which) =>
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
    settled,
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
