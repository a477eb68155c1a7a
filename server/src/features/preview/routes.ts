import { PREVIEW_SCOPED } from '@sammlung/contract';
import type { FastifyReply, FastifyRequest } from 'fastify';
import type { Viewer } from '../../domain/access/access-sql.ts';
import type { App } from '../../app-type.ts';
import { AppError } from '../../platform/errors.ts';
import { registerScoped, SCOPES } from '../../domain/access/scopes.ts';
import { NEVER_RUN, sendStored } from '../../platform/send-stored.ts';
import type { Form } from '../../platform/storage.ts';
import { madeFor } from './queries.ts';
import { startPreparing } from './service.ts';

/** Small pictures and shown forms of what somebody sees. */
export async function previewRoutes(app: App) {
  const { services } = app;
  await startPreparing(services, (error) => app.log.error(error));

  async function sendMade(
    request: FastifyRequest,
    reply: FastifyReply,
    viewer: Viewer,
    placement: string,
    form: Form,
  ) {
    const found = await madeFor(services.db, viewer, placement, form === 'shown' ? form : 'small');
    if (!found?.type) throw new AppError('not-found');
    const { schoolId, hash } = found;
    // What was made before there were pictures for lines has none.
    const smaller =
      form === 'line' && (await services.storage.stat({ schoolId, hash, form })) !== null;
    const type = smaller ? 'image/webp' : found.type;
    return sendStored(
      request,
      reply,
      services.storage,
      { schoolId, hash, form: form === 'line' && !smaller ? 'small' : form },
      {
        'content-type': type,
        // Its address names the version: what was seen once may stay in this browser.
        'cache-control': 'private, max-age=86400',
        ...NEVER_RUN,
      },
    );
  }

  registerScoped(app, SCOPES, PREVIEW_SCOPED, {
    'GET /placements/:placement/small': (request, { viewer }, reply) =>
      sendMade(request, reply, viewer, request.params.placement, request.query.as ?? 'small'),
    'GET /placements/:placement/shown': (request, { viewer }, reply) =>
      sendMade(request, reply, viewer, request.params.placement, 'shown'),
  });
}
