import type { ErrorCode } from '@sammlung/contract';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { Server, type ServerOptions } from '@tus/server';
import { problem } from '../../platform/errors.ts';
import { UploadInterrupted, isDiskFull, type Storage } from '../../platform/storage.ts';
import type { Settings } from '../../settings.ts';

type ServerRequest = Parameters<NonNullable<ServerOptions['getFileIdFromRequest']>>[0];

/** Who an upload belongs to and where it is to go, a folder or the tray; travels with it in its metadata. */
export interface UploadOwner {
  readonly personId: string;
  readonly folderId: string;
}

/** What a request is about: an upload that it begins, or one that is there. */
export type Subject = (UploadOwner & { readonly newId: string }) | { readonly uploadId: string };

/** An error as tus passes it on: status and body. */
function refusal(code: ErrorCode) {
  const body = problem(code);
  return { status_code: body.status, body: JSON.stringify(body) };
}

/** The resumable upload (tus 1.0): requests go through `handle` once the route has let them pass. */
export function uploadServer(settings: Settings, { uploads: store }: Storage) {
  /** What the route has found out about a request: whose new upload it begins, or which one it is about. */
  const known = new WeakMap<object, Subject>();
  const knownOf = (request: ServerRequest) => {
    const raw = request.runtime?.node?.req;
    return raw && known.get(raw);
  };
  const begun = (request: ServerRequest) => {
    const found = knownOf(request);
    if (!found || 'uploadId' in found) throw refusal('internal');
    return found;
  };
  const server = new Server({
    path: '/api/uploads',
    datastore: store,
    relativeLocation: true,
    maxSize: settings.uploadLimit,
    // Never out of the address as it was written: that may end in the id of another upload.
    getFileIdFromRequest(request) {
      const found = knownOf(request);
      return found && 'uploadId' in found ? found.uploadId : undefined;
    },
    namingFunction: (request) => begun(request).newId,
    async onUploadCreate(request, upload) {
      const { personId, folderId } = begun(request);
      return { metadata: { ...upload.metadata, personId, folderId } };
    },
    async onResponseError(_, error) {
      if ('body' in error && error.body.startsWith('{')) return error;
      if (isDiskFull(error)) return refusal('disk-full');
      if (error instanceof UploadInterrupted) return refusal('upload-refused');
      const status = 'status_code' in error ? error.status_code : 500;
      const detail = 'body' in error ? error.body.trim() : undefined;
      const body = problem(status < 500 ? 'upload-refused' : 'internal', {
        status,
        ...(status < 500 && detail && { detail }),
      });
      return { status_code: status, body: JSON.stringify(body) };
    },
  });
  return {
    store,
    /** Answers a request about an upload. */
    handle(request: IncomingMessage, response: ServerResponse, subject: Subject) {
      known.set(request, subject);
      return server.handle(request, response);
    },
    cleanUp: () => server.cleanUpExpiredUploads(),
  };
}
export type Uploads = ReturnType<typeof uploadServer>;
