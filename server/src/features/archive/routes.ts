import { ArchiveQuery, FolderParams, TokenFolderParams, TokenParams } from '@sammlung/contract';
import type { FastifyReply } from 'fastify';
import { askerAtDoor } from '../../platform/access/door.ts';
import type { Asker } from '../../platform/access/twin.ts';
import type { App } from '../../platform/app-type.ts';
import { askerOf } from '../../platform/asking.ts';
import { disposition } from '../../platform/disposition.ts';
import { archiveOf, streamArchive, type Taken } from './service.ts';

/** Taking along: a folder, or several things at once, as one archive; for people and at doors. */
export async function archiveRoutes(app: App) {
  const { services } = app;

  async function send(reply: FastifyReply, asker: Asker, things: readonly Taken[]) {
    const { name, entries } = await archiveOf(services, asker, things);
    return reply
      .headers({
        'content-type': 'application/zip',
        'content-disposition': disposition(name),
        'x-content-type-options': 'nosniff',
      })
      .send(streamArchive(services.storage, entries));
  }
  const folder = (id: string): Taken[] => [{ kind: 'folder', id }];

  app.get('/api/folders/:folder/archive', { schema: { params: FolderParams } }, (request, reply) =>
    send(reply, askerOf(request), folder(request.params.folder)),
  );
  app.get('/api/archive', { schema: { querystring: ArchiveQuery } }, (request, reply) =>
    send(reply, askerOf(request), read(request.query.things)),
  );
  app.get(
    '/api/open/:token/folders/:folder/archive',
    { schema: { params: TokenFolderParams } },
    async (request, reply) => {
      const { token, folder: id } = request.params;
      const asker = await askerAtDoor(services.db, token, request.person, services.now());
      return send(reply, asker, folder(id));
    },
  );
  app.get(
    '/api/open/:token/archive',
    { schema: { params: TokenParams, querystring: ArchiveQuery } },
    async (request, reply) => {
      const { token } = request.params;
      const asker = await askerAtDoor(services.db, token, request.person, services.now());
      return send(reply, asker, read(request.query.things));
    },
  );
}

function read(things: string): Taken[] {
  return [...new Set(things.split(','))].map((thing) => {
    const [kind, id] = thing.split('.') as [Taken['kind'], string];
    return { kind, id };
  });
}
