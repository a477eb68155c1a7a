import { INTAKE_ROUTES } from '@sammlung/contract';
import { Metadata } from '@tus/utils';
import type { FastifyReply, FastifyRequest } from 'fastify';
import { z } from 'zod';
import type { App } from '../../app-type.ts';
import { AppError } from '../../platform/errors.ts';
import { takeOver } from '../../platform/take-over.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { giveUpRoom } from '../../domain/quota.ts';
import { signedIn } from '../../platform/sessions.ts';
import { admit, endUploads, noteArrived, TRAY, uploadOf } from './open-uploads.ts';
import { intoTray, knownIntoTray } from './tray.ts';
import { decideInstead, knownSizes, limitsOf, placeKnown, placeUpload } from './service.ts';
import { uploadServer } from './uploads.ts';

const HOUR_MS = 60 * 60 * 1000;

export async function intakeRoutes(app: App) {
  const { services } = app;
  const tus = uploadServer(services.settings, services.storage);

  // The bytes of an upload go straight to the disk; nothing here reads them.
  app.addContentTypeParser('application/offset+octet-stream', (_request, _body, done) =>
    done(null),
  );
  const cleaning = setInterval(() => {
    endUploads(services, tus).catch((error: unknown) => app.log.error(error));
  }, HOUR_MS);
  app.addHook('onClose', () => clearInterval(cleaning));

  registerRoutes(app, INTAKE_ROUTES, {
    'GET /api/intake': (request) => limitsOf(services, signedIn(request)),
    'POST /api/intake/look': (request) =>
      knownSizes(services, signedIn(request), request.body.sizes),
    'POST /api/uploads': async (request, reply) => {
      const person = signedIn(request);
      const { folderId, name, size } = announced(request);
      const newId = await admit(services, tus, person, { into: folderId, name, size });
      await pass(request, reply, { personId: person.id, folderId, newId });
      if (reply.raw.statusCode >= 400) await giveUpRoom(services.db, newId);
      return reply;
    },
    'HEAD /api/uploads/:upload': passOwn,
    'PATCH /api/uploads/:upload': async (request, reply) => {
      await passOwn(request, reply);
      await noteArrived(services, tus, request.params.upload);
      return reply;
    },
    'DELETE /api/uploads/:upload': async (request, reply) => {
      const { upload } = request.params;
      await uploadOf(tus, signedIn(request), upload);
      await giveUpRoom(services.db, upload);
      await pass(request, reply, { uploadId: upload });
      return reply;
    },
    'POST /api/folders/:folder/files': (request) =>
      placeUpload(services, tus, signedIn(request), request.params.folder, request.body),
    'POST /api/folders/:folder/known': (request) =>
      placeKnown(services, signedIn(request), request.params.folder, request.body),
    'POST /api/tray': (request) => intoTray(services, tus, signedIn(request), request.body),
    'POST /api/tray/known': (request) => knownIntoTray(services, signedIn(request), request.body),
    'POST /api/placed/:upload': (request) =>
      decideInstead(services, signedIn(request), request.params.upload, request.body.choice),
  });

  /** Lets the protocol answer about an upload of one's own. */
  async function passOwn(
    request: FastifyRequest & { params: { upload: string } },
    reply: FastifyReply,
  ) {
    const { upload } = request.params;
    await uploadOf(tus, signedIn(request), upload);
    await pass(request, reply, { uploadId: upload });
    return reply;
  }

  async function pass(
    request: FastifyRequest,
    reply: FastifyReply,
    subject: Parameters<typeof tus.handle>[2],
  ) {
    await tus.handle(request.raw, takeOver(reply), subject);
  }
}

/** What the headers of a new upload announce. Throws `upload-refused` when they do not. */
function announced(request: FastifyRequest): { folderId: string; name: string; size: number } {
  const length = request.headers['upload-length'];
  if (typeof length !== 'string' || !/^\d{1,15}$/u.test(length))
    throw new AppError('upload-refused');
  const metadata = parse(request.headers['upload-metadata']);
  const folderId = z.union([z.uuid(), z.literal(TRAY)]).safeParse(metadata.folderId);
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
