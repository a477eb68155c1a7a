import { ARCHIVE_ROUTES, ARCHIVE_SCOPED } from '@sammlung/contract';
import type { FastifyReply } from 'fastify';
import type { Viewer } from '../../domain/access/access-sql.ts';
import type { App } from '../../app-type.ts';
import { disposition } from '../../platform/disposition.ts';
import { registerScoped, SCOPES } from '../../domain/access/scopes.ts';
import { viewerOf } from '../../domain/access/viewer.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { signedIn } from '../../platform/sessions.ts';
import {
  archiveOf,
  boxArchive,
  heldArchive,
  ownBoxArchive,
  streamArchive,
  type Archive,
  type Taken,
} from './service.ts';

/** Taking along: a folder, or several things at once, as one archive. */
export async function archiveRoutes(app: App) {
  const { services } = app;

  const send = async (reply: FastifyReply, viewer: Viewer, things: readonly Taken[]) =>
    sendArchive(reply, await archiveOf(services.db, viewer, things));
  function sendArchive(reply: FastifyReply, archive: Archive) {
    return reply
      .headers({
        'content-type': 'application/zip',
        'content-disposition': disposition(archive.name),
        'x-content-type-options': 'nosniff',
      })
      .send(streamArchive(services.storage, archive));
  }
  registerRoutes(app, ARCHIVE_ROUTES, {
    'GET /api/account/held': async (request, reply) => {
      const person = signedIn(request);
      const viewer = viewerOf(person, services.now());
      const { records } = services.post.words(person.language).held;
      return sendArchive(reply, await heldArchive(services.db, viewer, person, records));
    },
    'GET /api/box-archive': async (request, reply) => {
      const viewer = viewerOf(signedIn(request), services.now());
      const { boxes } = request.query;
      const archive = boxes
        ? await boxArchive(services.db, viewer, boxes.split(','))
        : await ownBoxArchive(services.db, viewer);
      return sendArchive(reply, archive);
    },
  });
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
