import { READING_LIVE, READING_OPENED, READING_ROUTES, READING_SCOPED } from '@sammlung/contract';
import { placementSeen } from '../../domain/access/placements.ts';
import { cardsSeen } from '../../domain/access/cards.ts';
import { openFile } from '../../domain/files/open.ts';
import type { App } from '../../app-type.ts';
import { signedIn } from '../../platform/sessions.ts';
import { keepUpToDate } from '../../domain/live/watching.ts';
import { AT_DOOR, OWN, registerScoped, SCOPES } from '../../domain/access/scopes.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import {
  contents,
  folderNews,
  folderSeen,
  folderView,
  noteOpened,
  placementView,
} from './service.ts';
import { beginsDownload, sendContent } from './content.ts';
import { readerOf } from './reader.ts';
import { bringBack, versionContent, versionsOf } from './versions.ts';

/** Reading: for people who have signed in, for whoever shows the token of a door, and as somebody else would. */
export async function readingRoutes(app: App) {
  const { services } = app;
  const { db } = services;

  registerScoped(app, SCOPES, READING_SCOPED, {
    'GET /folders/:folder': (request, { viewer }) => folderView(db, viewer, request.params.folder),
    'GET /folders/:folder/contents': (request, { viewer }) =>
      contents(db, viewer, request.params.folder, request.query),
    'GET /folders/:folder/reader': (request, { viewer }) =>
      readerOf(db, viewer, request.params.folder),
    'GET /placements/:placement': (request, { viewer }) =>
      placementView(db, viewer, request.params.placement),
    'GET /placements/:placement/content': async (request, { viewer, own }, reply) => {
      const { as, form, version, of } = request.query;
      const { placement } = request.params;
      // Earlier versions are for those who may change the item.
      const found =
        version && own
          ? await versionContent(services, signedIn(request), placement, version)
          : await openFile(db, viewer, placement, {
              of,
              download: beginsDownload(as, request.headers.range),
            });
      return sendContent(request, reply, services, found, {
        ...{ as, form },
        name: (things) => cardsSeen(db, viewer, things),
      });
    },
  });

  registerScoped(app, [OWN, AT_DOOR], READING_LIVE, {
    'GET /folders/:folder/live': async (request, scoped, reply) => {
      const { below = false, order } = request.query;
      const news = below ? null : folderNews(db, request.params.folder, order);
      const seen = await folderSeen(db, scoped.viewer, request.params.folder);
      return keepUpToDate(services.live, scoped, request, reply, { ...seen, news, below });
    },
    'GET /placements/:placement/live': async (request, scoped, reply) => {
      const seen = await placementSeen(db, scoped.viewer, request.params.placement);
      return keepUpToDate(services.live, scoped, request, reply, { ...seen, news: null });
    },
  });

  registerScoped(app, [OWN, AT_DOOR], READING_OPENED, {
    'PUT /placements/:placement/opened': (request, { viewer }) =>
      noteOpened(db, viewer, request.params.placement),
  });

  registerRoutes(app, READING_ROUTES, {
    'GET /api/placements/:placement/versions': (request) =>
      versionsOf(services, signedIn(request), request.params.placement),
    'POST /api/placements/:placement/versions': (request) =>
      bringBack(services, signedIn(request), request.params.placement, request.body.versionId),
  });
}
