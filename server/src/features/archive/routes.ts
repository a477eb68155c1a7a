import { ARCHIVE_SCOPED } from '@sammlung/contract';
import type { FastifyReply } from 'fastify';
import type { Viewer } from '../../domain/access/access-sql.ts';
import type { App } from '../../app-type.ts';
import { disposition } from '../../platform/disposition.ts';
import { registerScoped, SCOPES } from '../../domain/access/scopes.ts';
import { archiveOf, streamArchive, type Taken } from './service.ts';

/** Taking along: a folder, or several things at once, as one archive. */
export async function archiveRoutes(app: App) {
  const { services } = app;

  async function send(reply: FastifyReply, viewer: Viewer, things: readonly Taken[]) {
    const archive = await archiveOf(services.db, viewer, things);
    return reply
      .headers({
        'content-type': 'application/zip',
        'content-disposition': disposition(archive.name),
        'x-content-type-options': 'nosniff',
      })
      .send(streamArchive(services.storage, archive));
  }
  registerScoped(app, SCOPES, ARCHIVE_SCOPED, {
    'GET /folders/:folder/archive': (request, { viewer }, reply) =>
      send(reply, viewer, [{ kind: 'folder', id: request.params.folder }]),
    'GET /archive': (request, { viewer }, reply) => send(reply, viewer, read(request.query.things)),
  });
}

function read(things: string): Taken[] {
  return [...new Set(things.split(','))].map((thing) => {
    const [kind, id] = thing.split('.') as [Taken['kind'], string];
    return { kind, id };
  });
}
