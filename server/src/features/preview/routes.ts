import { PlacementParams, TokenPlacementParams } from '@sammlung/contract';
import send from '@fastify/send';
import { sql } from 'drizzle-orm';
import type { FastifyReply, FastifyRequest } from 'fastify';
import { rows } from '../../db/database.ts';
import { askerAtDoor } from '../../platform/access/door.ts';
import { asking, keysTable, seesPlacement, type Asker } from '../../platform/access/twin.ts';
import type { App } from '../../platform/app-type.ts';
import { askerOf } from '../../platform/asking.ts';
import { AppError } from '../../platform/errors.ts';
import type { Form } from '../../platform/storage.ts';
import { startPreparing } from './service.ts';

/** Small pictures and shown forms of what somebody sees; for people and at doors. */
export async function previewRoutes(app: App) {
  const { services } = app;
  await startPreparing(services, (error) => app.log.error(error));

  async function sendMade(
    request: FastifyRequest,
    reply: FastifyReply,
    asker: Asker,
    placement: string,
    form: Form,
  ) {
    const ask = asking(asker, services.now());
    const [found] = await rows<{ schoolId: string; hash: string; type: string | null }>(
      services.db,
      sql`with ${keysTable(ask)}
        select w.school_id as "schoolId", w.hash, ${form === 'small' ? sql`w.small` : sql`w.shown`} as type
        from placements p join folders f on f.id = p.folder_id join items i on i.id = p.item_id
          join versions v on v.id = i.current_version_id
          join previews w on w.school_id = v.school_id and w.hash = v.hash
        where p.id = ${placement}::uuid and ${seesPlacement(sql`p`, sql`f`, ask)}`,
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

  for (const form of ['small', 'shown'] as const) {
    app.get(
      `/api/placements/:placement/${form}`,
      { schema: { params: PlacementParams } },
      (request, reply) =>
        sendMade(request, reply, askerOf(request), request.params.placement, form),
    );
    app.get(
      `/api/open/:token/placements/:placement/${form}`,
      { schema: { params: TokenPlacementParams } },
      async (request, reply) => {
        const { token, placement } = request.params;
        const asker = await askerAtDoor(services.db, token, request.person, services.now());
        return sendMade(request, reply, asker, placement, form);
      },
    );
  }
}
