import { ArchiveQuery, Id } from '@sammlung/contract';
import type { FastifyReply } from 'fastify';
import type { Viewer } from '../../domain/access/access-sql.ts';
import type { App } from '../../app-type.ts';
import { disposition } from '../../platform/disposition.ts';
import { SCOPES } from '../../domain/access/scopes.ts';
import { archiveOf, streamArchive, type Taken } from './service.ts';

/** Taking along: a folder, or several things at once, as one archive. */
export async function archiveRoutes(app: App) {
  const { services } = app;

  async function send(reply: FastifyReply, viewer: Viewer, things: readonly Taken[]) {
    const { name, entries } = await archiveOf(services.db, viewer, things);
    return reply
      .headers({
        'content-type': 'application/zip',
        'content-disposition': disposition(name),
        'x-content-type-options': 'nosniff',
      })
      .send(streamArchive(services.storage, entries));
  }
  for (const { prefix, params, viewerIn } of SCOPES) {
    app.get(
      `${prefix}/folders/:folder/archive`,
      { schema: { params: params.extend({ folder: Id }) } },
      async (request, reply) => {
        const { viewer } = await viewerIn(services, request);
        return send(reply, viewer, [{ kind: 'folder', id: request.params.folder }]);
      },
    );
    app.get(
      `${prefix}/archive`,
      { schema: { params, querystring: ArchiveQuery } },
      async (request, reply) => {
        const { viewer } = await viewerIn(services, request);
        return send(reply, viewer, read(request.query.things));
      },
    );
  }
}

function read(things: string): Taken[] {
  return [...new Set(things.split(','))].map((thing) => {
    const [kind, id] = thing.split('.') as [Taken['kind'], string];
    return { kind, id };
  });
}
