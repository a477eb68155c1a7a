import type { Problem } from '@sammlung/contract';
import { DetailedError, Upload } from 'tus-js-client';
import { address } from '../api/addresses.ts';
import { ApiError, OfflineError } from '../api/api.ts';
import { transferKey, type Transfer } from './transfer.ts';

/** Smaller files are sent with the request that announces them: begun anew, they cost less than a second request. In bytes. */
const SENT_AT_ONCE = 1 << 20;
/** Waits between tries when the connection breaks, in milliseconds; then the person is asked. */
const RETRIES = [500, 1500, 4000, 10_000];

/**
 * Sends the bytes of a file, continuing where an earlier try broke off; resolves to the id of the upload. When the session
 * has ended it waits for `signInAgain`. Throws ApiError and OfflineError.
 */
export async function sendBytes(
  transfer: Transfer,
  signInAgain: () => Promise<unknown>,
): Promise<string> {
  const { file } = transfer;
  if (!file) throw fileGone();
  for (;;) {
    try {
      return await send(transfer, file);
    } catch (error) {
      const refused = await refusalOf(error, file);
      if (refused instanceof ApiError && refused.problem.status === 401) await signInAgain();
      else throw refused;
    }
  }
}

/** The file is not on the disk any more as it was when it was chosen. */
export const fileGone = () => new ApiError({ code: 'file-gone', status: 0 });

function send(transfer: Transfer, file: File): Promise<string> {
  return new Promise((resolve, reject) => {
    const upload = new Upload(file, {
      endpoint: address('POST /api/uploads'),
      metadata: { filename: transfer.name, folderId: transfer.folder.id },
      fingerprint: async () => transferKey(transfer),
      uploadDataDuringCreation: file.size <= SENT_AT_ONCE,
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
}

async function refusalOf(error: unknown, file: File): Promise<unknown> {
  if (!(error instanceof DetailedError)) return error;
  const reply = error.originalResponse;
  if (!reply) return (await isReadable(file)) ? new OfflineError() : fileGone();
  const body = reply.getBody();
  const problem = body.startsWith('{')
    ? (JSON.parse(body) as Problem)
    : { code: 'upload-refused', status: reply.getStatus() };
  return new ApiError(problem);
}

async function isReadable(file: File): Promise<boolean> {
  try {
    await file.slice(0, 1).arrayBuffer();
    return true;
  } catch (error) {
    if (error instanceof DOMException) return false;
    throw error;
  }
}
