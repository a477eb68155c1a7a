import {
  BringBack,
  ContentQuery,
  Contents,
  ContentsQuery,
  FolderView,
  Id,
  LiveQuery,
  Nothing,
  PlacementParams,
  PlacementView,
  Versions,
} from '@sammlung/contract';
import { placementSeen } from '../../domain/access/placements.ts';
import type { App } from '../../app-type.ts';
import { viewerOf } from '../../domain/access/viewer.ts';
import { signedIn } from '../../platform/sessions.ts';
import { keepUpToDate } from '../../domain/live/watching.ts';
import { AT_DOOR, OWN, SCOPES } from '../../domain/access/scopes.ts';
import {
  contentOf,
  contents,
  folderNews,
  folderSeen,
  folderView,
  noteOpened,
  placementView,
} from './service.ts';
import { sendContent } from './content.ts';
import { bringBack, versionContent, versionsOf } from './versions.ts';

/** Reading: for people who have signed in, for whoever shows the token of a door, and as somebody else would. */
export async function readingRoutes(app: App) {
  const { services } = app;
  const { db } = services;

  for (const { prefix, params, viewerIn } of SCOPES) {
    const folder = params.extend({ folder: Id });
    const placement = params.extend({ placement: Id });
    app.get(
      `${prefix}/folders/:folder`,
      { schema: { params: folder, response: { 200: FolderView } } },
      async (request) => {
        const { viewer } = await viewerIn(services, request);
        return folderView(db, viewer, request.params.folder);
      },
    );
    app.get(
      `${prefix}/folders/:folder/contents`,
      { schema: { params: folder, querystring: ContentsQuery, response: { 200: Contents } } },
      async (request) => {
        const { viewer } = await viewerIn(services, request);
        return contents(db, viewer, request.params.folder, request.query);
      },
    );
    app.get(
      `${prefix}/placements/:placement`,
      { schema: { params: placement, response: { 200: PlacementView } } },
      async (request) => {
        const { viewer } = await viewerIn(services, request);
        return placementView(db, viewer, request.params.placement);
      },
    );
    app.get(
      `${prefix}/placements/:placement/content`,
      { schema: { params: placement, querystring: ContentQuery } },
      async (request, reply) => {
        const { as, version, of } = request.query;
        const { placement: id } = request.params;
        const { viewer } = await viewerIn(services, request);
        // Earlier versions are for whoever may change the item.
        const found =
          version && prefix === OWN.prefix
            ? await versionContent(services, signedIn(request), id, version)
            : await contentOf(db, viewer, id, { as, of, range: request.headers.range });
        return sendContent(request, reply, services.storage, found, as);
      },
    );
  }

  for (const { prefix, params, viewerIn } of [OWN, AT_DOOR]) {
    app.get(
      `${prefix}/folders/:folder/live`,
      { schema: { params: params.extend({ folder: Id }), querystring: LiveQuery } },
      async (request, reply) => {
        const scoped = await viewerIn(services, request);
        const news = folderNews(db, request.params.folder, request.query.order);
        const seen = await folderSeen(db, scoped.viewer, request.params.folder);
        return keepUpToDate(services.live, scoped, request, reply, { ...seen, news });
      },
    );
    app.get(
      `${prefix}/placements/:placement/live`,
      { schema: { params: params.extend({ placement: Id }) } },
      async (request, reply) => {
        const scoped = await viewerIn(services, request);
        const seen = await placementSeen(db, scoped.viewer, request.params.placement);
        return keepUpToDate(services.live, scoped, request, reply, { ...seen, news: null });
      },
    );
  }

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
      await noteOpened(db, viewerOf(signedIn(request), services.now()), request.params.placement);
      return reply.code(204).send(null);
    },
  );
}
