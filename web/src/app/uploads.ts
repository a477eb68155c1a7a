import type { IntakeLimits, PlacedUpload, Problem } from '@sammlung/contract';
import { useQueryCache } from '@pinia/colada';
import { defineStore } from 'pinia';
import { DetailedError, Upload } from 'tus-js-client';
import { computed, ref, shallowReactive } from 'vue';
import { api, ApiError, OfflineError } from './api.ts';
import { useSession } from './session.ts';

type State = 'waiting' | 'sending' | 'placing' | 'done' | 'failed' | 'stopped';

/** One file on its way into a folder. */
export interface Transfer {
  readonly id: number;
  readonly file: File;
  readonly folder: { readonly id: string; readonly title: string };
  state: State;
  sent: number;
  error: unknown;
  result: PlacedUpload | null;
  upload: Upload | null;
}

const AT_ONCE = 3;
/** Waits between tries when the connection breaks, in milliseconds; then the person is asked. */
const RETRIES = [500, 1500, 4000, 10_000];

/** Files on their way in: a few at once, each resumable, one failing without holding up the others. */
export const useUploads = defineStore('uploads', () => {
  const cache = useQueryCache();
  const session = useSession();
  const transfers = ref<Transfer[]>([]);
  let count = 0;
  let limits: Promise<IntakeLimits> | null = null;

  const running = computed(() =>
    transfers.value.filter((x) => ['waiting', 'sending', 'placing'].includes(x.state)),
  );
  const total = computed(() => transfers.value.reduce((sum, x) => sum + x.file.size, 0));
  const sent = computed(() =>
    transfers.value.reduce((sum, x) => sum + (x.state === 'done' ? x.file.size : x.sent), 0),
  );

  function add(files: readonly File[], folder: Transfer['folder']) {
    if (running.value.length === 0) transfers.value = [];
    for (const file of files) {
      count += 1;
      transfers.value.push(
        shallowReactive({
          id: count,
          file,
          folder,
          state: 'waiting',
          sent: 0,
          error: null,
          result: null,
          upload: null,
        }),
      );
    }
    pump();
  }

  function pump() {
    const busy = transfers.value.filter(
      (x) => x.state === 'sending' || x.state === 'placing',
    ).length;
    for (const transfer of transfers.value
      .filter((x) => x.state === 'waiting')
      .slice(0, AT_ONCE - busy))
      void send(transfer);
  }

  async function send(transfer: Transfer) {
    transfer.state = 'sending';
    transfer.error = null;
    try {
      await refuseEarly(transfer.file);
      const uploadId = await sendBytes(transfer);
      transfer.state = 'placing';
      transfer.result = await api<PlacedUpload>(
        'POST',
        `/api/folders/${transfer.folder.id}/files`,
        { uploadId },
      );
      transfer.state = 'done';
      await Promise.all(
        [
          ['folder', '/api', transfer.folder.id],
          ['audience', transfer.folder.id],
          ['placement'],
          ['tree', 'top'],
        ].map((key) => cache.invalidateQueries({ key })),
      );
    } catch (error) {
      transfer.state = 'failed';
      transfer.error = error;
    } finally {
      pump();
    }
  }

  /** What would be refused anyway is refused before it is sent. */
  async function refuseEarly(file: File) {
    limits ??= api<IntakeLimits>('GET', '/api/intake').catch((error: unknown) => {
      limits = null;
      throw error;
    });
    const { uploadLimit } = await limits;
    if (file.size === 0) throw new ApiError({ code: 'empty-file', status: 422 });
    if (file.size > uploadLimit) throw new ApiError({ code: 'file-too-large', status: 413 });
  }

  /** Sends the bytes, going on where an earlier try broke off; resolves to the id of the upload. */
  async function sendBytes(transfer: Transfer): Promise<string> {
    const { file, folder } = transfer;
    for (;;) {
      const sending = new Promise<string>((resolve, reject) => {
        const upload = new Upload(file, {
          endpoint: '/api/uploads',
          metadata: { filename: file.name, folderId: folder.id },
          fingerprint: async () =>
            ['sammlung', folder.id, file.name, file.size, file.lastModified].join('/'),
          retryDelays: RETRIES,
          removeFingerprintOnSuccess: true,
          onShouldRetry: (error) => {
            const status = error.originalResponse?.getStatus() ?? 0;
            return status === 0 || status === 423 || (status >= 500 && status !== 507);
          },
          onProgress: (bytes) => (transfer.sent = bytes),
          onSuccess: () => resolve(upload.url?.split('/').at(-1) ?? ''),
          onError: reject,
        });
        transfer.upload = upload;
        void upload.findPreviousUploads().then(([earlier]) => {
          if (earlier) upload.resumeFromPreviousUpload(earlier);
          upload.start();
        }, reject);
      });
      try {
        return await sending;
      } catch (error) {
        const refused = refusalOf(error);
        if (refused instanceof ApiError && refused.problem.status === 401)
          await session.signInAgain();
        else throw refused;
      }
    }
  }

  async function stop(transfer: Transfer) {
    transfer.state = 'stopped';
    await transfer.upload?.abort();
    pump();
  }

  /** Goes on with a file that was stopped or has failed. */
  function again(transfer: Transfer) {
    transfer.state = 'waiting';
    pump();
  }

  function clear() {
    transfers.value = running.value;
  }

  return { transfers, running, total, sent, add, stop, again, clear };
});

function refusalOf(error: unknown): unknown {
  if (!(error instanceof DetailedError)) return error;
  const reply = error.originalResponse;
  if (!reply) return new OfflineError();
  const body = reply.getBody();
  const problem = body.startsWith('{')
    ? (JSON.parse(body) as Problem)
    : { code: 'upload-refused', status: reply.getStatus() };
  return new ApiError(problem);
}
