import { BYTES, PAGE_ROUTES, PAGE_SCOPED } from '@sammlung/contract';
import { PICTURE_LIMIT } from '@sammlung/core';
import type { App } from '../../app-type.ts';
import { registerScoped, SCOPES } from '../../domain/access/scopes.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { NEVER_RUN, sendStored } from '../../platform/send-stored.ts';
import { signedIn } from '../../platform/sessions.ts';
import { beginFrom } from './begin.ts';
import { seenReferences } from './references.ts';
import {
  changeShowing,
  draftOf,
  giveUpDraft,
  keepDraft,
  keepPicture,
  makePage,
  pictureSeen,
  showPage,
} from './service.ts';
import { pageText } from './text.ts';

/** Pages: reading them, and writing on them. */
export async function pageRoutes(app: App) {
  const { services } = app;
  app.addContentTypeParser(
    BYTES.types[0]!,
    { parseAs: 'buffer', bodyLimit: PICTURE_LIMIT },
    (_request, body, done) => done(null, body),
  );

  registerScoped(app, SCOPES, PAGE_SCOPED, {
    'GET /placements/:placement/page': (request, { viewer, own }) => {
      const { version } = request.query;
      const earlier = own && version ? { person: signedIn(request), version } : null;
      return pageText(services, viewer, request.params.placement, earlier);
    },
    'GET /placements/:placement/pictures/:hash': async (request, { viewer, own }, reply) => {
      const { placement, hash } = request.params;
      const writer = own ? request.person : null;
      const picture = await pictureSeen(services, viewer, placement, hash, writer);
      return sendStored(request, reply, services.storage, picture, {
        'content-type': picture.mediaType,
        'cache-control': 'private, no-cache',
        ...NEVER_RUN,
      });
    },
  });

  registerRoutes(app, PAGE_ROUTES, {
    'POST /api/pages': (request) => makePage(services, signedIn(request), request.body),
    'GET /api/placements/:placement/draft': (request) =>
      draftOf(services, signedIn(request), request.params.placement),
    'PUT /api/placements/:placement/draft': (request) =>
      keepDraft(services, signedIn(request), request.params.placement, request.body),
    'DELETE /api/placements/:placement/draft': (request) =>
      giveUpDraft(services, signedIn(request), request.params.placement),
    'POST /api/placements/:placement/shown': (request) =>
      showPage(services, signedIn(request), request.params.placement, request.body),
    'POST /api/placements/:placement/begin': (request) =>
      beginFrom(services, signedIn(request), request.params.placement, request.body.from),
    'PUT /api/placements/:placement/showing': (request) =>
      changeShowing(
        services,
        signedIn(request),
        request.params.placement,
        request.body.whileWriting,
      ),
    'POST /api/placements/:placement/references': (request) =>
      seenReferences(services, signedIn(request), request.params.placement, request.body.things),
    'POST /api/placements/:placement/pictures': (request) =>
      keepPicture(services, signedIn(request), request.params.placement, request.body as Buffer),
  });
}
