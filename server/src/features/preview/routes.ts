import { Id } from '@sammlung/contract';
import send from '@fastify/send';
import { sql } from 'drizzle-orm';
import type { FastifyReply, FastifyRequest } from 'fastify';
import { rows } from '../../db/database.ts';
import {
  accessParams,
  waysInTable,
  seesPlacement,
  type Viewer,
} from '../../domain/access/access-sql.ts';
import type { App } from '../../app-type.ts';
import { AppError } from '../../platform/errors.ts';
import { PLACES } from '../../domain/access/scopes.ts';
import type { Form } from '../../platform/storage.ts';
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
    const params = accessParams(viewer);
    const [found] = await rows<{ schoolId: string; hash: string; type: string | null }>(
      services.db,
      sql`with ${waysInTable(params)}
        select w.school_id as "schoolId", w.hash, ${form === 'small' ? sql`w.small` : sql`w.shown`} as type
        from placements p join folders f on f.id = p.folder_id join items i on i.id = p.item_id
          join versions v on v.id = i.current_version_id
          join previews w on w.school_id = v.school_id and w.hash = v.hash
        where p.id = ${placement}::uuid and ${seesPlacement(sql`p`, sql`f`, params)}`,
    );
    if (!found?.type) throw new AppError('not-found');
    const { root, file } = services.storage.locateMade(found.schoolId, found.hash, form);
    const result = await send(request.raw, file, { root, cacheControl: false, contentType: false });
    if (result.type === 'error') throw new AppError('content-missing');
    return reply
      .code(result.statusCode)
      .headers(result.headers)
      .headers({
        'content-type': found.type,
        // Its address names the version: what was seen once may stay in this browser.
        'cache-control': 'private, max-age=86400',
        'x-content-type-options': 'nosniff',
        'content-security-policy': "sandbox; default-src 'none'; style-src 'unsafe-inline'",
        'cross-origin-resource-policy': 'same-origin',
      })
      .send(result.stream);
  }

  for (const form of ['small', 'shown'] as const)
    for (const { prefix, params, visit } of PLACES)
      app.get(
        `${prefix}/placements/:placement/${form}`,
        { schema: { params: params.extend({ placement: Id }) } },
        async (request, reply) => {
          const { viewer } = await visit(services, request);
          return sendMade(request, reply, viewer, request.params.placement, form);
        },
      );
}
