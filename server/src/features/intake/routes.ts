import {
  FolderParams,
  Instead,
  InsteadParams,
  IntakeLimits,
  Known,
  LookedUp,
  LookUp,
  PlacedUpload,
  PlaceUpload,
} from '@sammlung/contract';
import { Metadata } from '@tus/utils';
import type { FastifyReply, FastifyRequest } from 'fastify';
import { z } from 'zod';
import type { App } from '../../app-type.ts';
import { AppError } from '../../platform/errors.ts';
import { giveUpRoom } from '../../domain/quota.ts';
import { signedIn } from '../../platform/sessions.ts';
import { admit, endUploads, noteArrived, uploadOf } from './open-uploads.ts';
import { decideInstead, knownSizes, limitsOf, placeKnown, placeUpload } from './service.ts';
import { uploadServer } from './uploads.ts';

const UploadParams = z.object({ upload: z.string() });
const HOUR_MS = 60 * 60 * 1000;

export async function intakeRoutes(app: App) {
  const { services } = app;
  const tus = uploadServer(services.settings);

  // The bytes of an upload go straight to the disk; nothing here reads them.
  app.addContentTypeParser('application/offset+octet-stream', (_request, _body, done) =>
    done(null),
  );
  const cleaning = setInterval(() => {
    endUploads(services, tus).catch((error: unknown) => app.log.error(error));
  }, HOUR_MS);
  app.addHook('onClose', () => clearInterval(cleaning));

  app.get('/api/intake', { schema: { response: { 200: IntakeLimits } } }, (request) =>
    limitsOf(services, signedIn(request)),
  );
  app.post(
    '/api/intake/look',
    { schema: { body: LookUp, response: { 200: LookedUp } } },
    (request) => knownSizes(services, signedIn(request), request.body.sizes),
  );

  app.post('/api/uploads', async (request, reply) => {
    const person = signedIn(request);
    const { folderId, name, size } = announced(request);
    const newId = await admit(services, tus, person, { folderId, name, size });
    await pass(request, reply, { personId: person.id, folderId, newId });
    if (reply.raw.statusCode >= 400) await giveUpRoom(services.db, newId);
    return reply;
  });
  app.route({
    method: ['HEAD', 'PATCH', 'DELETE'],
    url: '/api/uploads/:upload',
    schema: { params: UploadParams },
    handler: async (request, reply) => {
      const { upload } = request.params;
      await uploadOf(tus, signedIn(request), upload);
      if (request.method === 'DELETE') await giveUpRoom(services.db, upload);
      await pass(request, reply, { uploadId: upload });
      if (request.method === 'PATCH') await noteArrived(services, tus, upload);
      return reply;
    },
  });
  app.post(
    '/api/folders/:folder/files',
    { schema: { params: FolderParams, body: PlaceUpload, response: { 200: PlacedUpload } } },
    (request) => placeUpload(services, tus, signedIn(request), request.params.folder, request.body),
  );
  app.post(
    '/api/folders/:folder/known',
    { schema: { params: FolderParams, body: Known, response: { 200: PlacedUpload } } },
    (request) => placeKnown(services, signedIn(request), request.params.folder, request.body),
  );
  app.post(
    '/api/placed/:upload',
    { schema: { params: InsteadParams, body: Instead, response: { 200: PlacedUpload } } },
    (request) =>
      decideInstead(services, signedIn(request), request.params.upload, request.body.choice),
  );

  async function pass(
    request: FastifyRequest,
    reply: FastifyReply,
    subject: Parameters<typeof tus.handle>[2],
  ) {
    reply.hijack();
    await tus.handle(request.raw, reply.raw, subject);
  }
}

/** What the headers of a new upload announce. Throws `upload-refused` when they do not. */
function announced(request: FastifyRequest): { folderId: string; name: string; size: number } {
  const length = request.headers['upload-length'];
  if (typeof length !== 'string' || !/^\d{1,15}$/u.test(length))
    throw new AppError('upload-refused');
  const metadata = parse(request.headers['upload-metadata']);
  const folderId = z.uuid().safeParse(metadata.folderId);
  if (!folderId.success) throw new AppError('upload-refused');
  return { folderId: folderId.data, name: metadata.filename ?? '', size: Number(length) };
}

function parse(header: string | string[] | undefined): Record<string, string | null> {
  try {
    return Metadata.parse(typeof header === 'string' ? header : undefined);
  } catch {
    throw new AppError('upload-refused');
  }
}
