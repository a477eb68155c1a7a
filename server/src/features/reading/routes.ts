import {
  BringBack,
  ContentQuery,
  Contents,
  ContentsQuery,
  FolderParams,
  FolderView,
  Nothing,
  PlacementParams,
  PlacementView,
  TokenFolderParams,
  TokenPlacementParams,
  Versions,
} from '@sammlung/contract';
import type { FastifyReply, FastifyRequest } from 'fastify';
import { askerAtDoor } from '../../platform/access/door.ts';
import type { Asker } from '../../platform/access/twin.ts';
import type { App } from '../../platform/app-type.ts';
import { askerOf } from '../../platform/asking.ts';
import { signedIn } from '../../platform/sessions.ts';
import type { As } from './queries.ts';
import { contentOf, contents, folderView, noteOpened, placementView } from './service.ts';
import { sendContent } from './content.ts';
import { bringBack, versionContent, versionsOf } from './versions.ts';

/** Reading, twice: for people who have signed in, and for whoever shows the token of a door. */
export async function readingRoutes(app: App) {
  const { services } = app;
  const throughDoor = (request: FastifyRequest<{ Params: { token: string } }>) =>
    askerAtDoor(services.db, request.params.token, request.person, services.now());

  const views = {
    folder: { 200: FolderView },
    contents: { 200: Contents },
    placement: { 200: PlacementView },
  };
  async function content(
    request: FastifyRequest,
    reply: FastifyReply,
    asker: Asker,
    placement: string,
    as: As,
  ) {
    const found = await contentOf(services, asker, placement, as, request.headers.range);
    return sendContent(request, reply, services.storage, found, as);
  }

  app.get(
    '/api/folders/:folder',
    { schema: { params: FolderParams, response: views.folder } },
    (request) => folderView(services, askerOf(request), request.params.folder),
  );
  app.get(
    '/api/folders/:folder/contents',
    { schema: { params: FolderParams, querystring: ContentsQuery, response: views.contents } },
    (request) => contents(services, askerOf(request), request.params.folder, request.query),
  );
  app.get(
    '/api/placements/:placement',
    { schema: { params: PlacementParams, response: views.placement } },
    (request) => placementView(services, askerOf(request), request.params.placement),
  );
  app.get(
    '/api/placements/:placement/content',
    { schema: { params: PlacementParams, querystring: ContentQuery } },
    async (request, reply) => {
      const { as, version } = request.query;
      const { placement } = request.params;
      if (!version) return content(request, reply, askerOf(request), placement, as);
      const found = await versionContent(services, signedIn(request), placement, version);
      return sendContent(request, reply, services.storage, found, as);
    },
  );
  app.get(
    '/api/placements/:placement/versions',
    { schema: { params: PlacementParams, response: { 200: Versions } } },
    (request) => versionsOf(services, signedIn(request), request.params.placement),
  );
  app.post(
    '/api/placements/:placement/versions',
    { schema: { params: PlacementParams, body: BringBack, response: { 204: Nothing } } },
    async (request, reply) => {
      const { versionId } = request.body;
      await bringBack(services, signedIn(request), request.params.placement, versionId);
      return reply.code(204).send(null);
    },
  );
  app.put(
    '/api/placements/:placement/opened',
    { schema: { params: PlacementParams, response: { 204: Nothing } } },
    async (request, reply) => {
      await noteOpened(services, askerOf(request), request.params.placement);
      return reply.code(204).send(null);
    },
  );

  app.get(
    '/api/open/:token/folders/:folder',
    { schema: { params: TokenFolderParams, response: views.folder } },
    async (request) => folderView(services, await throughDoor(request), request.params.folder),
  );
  app.get(
    '/api/open/:token/folders/:folder/contents',
    { schema: { params: TokenFolderParams, querystring: ContentsQuery, response: views.contents } },
    async (request) =>
      contents(services, await throughDoor(request), request.params.folder, request.query),
  );
  app.get(
    '/api/open/:token/placements/:placement',
    { schema: { params: TokenPlacementParams, response: views.placement } },
    async (request) =>
      placementView(services, await throughDoor(request), request.params.placement),
  );
  app.get(
    '/api/open/:token/placements/:placement/content',
    { schema: { params: TokenPlacementParams, querystring: ContentQuery } },
    async (request, reply) =>
      content(
        request,
        reply,
        await throughDoor(request),
        request.params.placement,
        request.query.as,
      ),
  );
}
