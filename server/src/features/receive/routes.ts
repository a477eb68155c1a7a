import { RECEIVE_ROUTES, RECEIVE_SCOPED, SEEN_AS_SCOPED } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { keepUpToDate } from '../../domain/live/watching.ts';
import { signedIn } from '../../platform/sessions.ts';
import { ATOM, closeFeed } from '../../domain/feeds.ts';
import { classFeed, feedList, openOwnFeed } from './feeds.ts';
import { chooseDigest, sendDigests } from './digest.ts';
import { OWN, registerScoped, SEEN_AS } from '../../domain/access/scopes.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { cameNews, markNew, myClasses, newThings, seenAs, staffRoom, undoMark } from './service.ts';

export async function receiveRoutes(app: App) {
  const { services } = app;
  const { db } = services;
  await services.jobs?.schedule(
    'digest',
    '5 * * * *',
    async () => void (await sendDigests(services)),
  );

  registerScoped(app, [OWN, SEEN_AS], RECEIVE_SCOPED, {
    'GET /new': (request, { viewer }) => newThings(db, viewer, request.query),
    'GET /classes': (_request, { viewer }) => myClasses(db, viewer),
    'GET /staff-room': (_request, { viewer }) => staffRoom(db, viewer),
  });
  registerScoped(app, [SEEN_AS], SEEN_AS_SCOPED, {
    'GET /name': (_request, { viewer }) => seenAs(db, viewer),
  });
  registerRoutes(app, RECEIVE_ROUTES, {
    'PUT /api/new/digest': (request) =>
      chooseDigest(services, signedIn(request), request.body.digest),
    'PUT /api/new/marked': (request) => markNew(services, signedIn(request), request.body),
    'DELETE /api/new/marked/:at': (request) =>
      undoMark(services, signedIn(request), request.params.at),
    'GET /api/feeds': async (request) => ({ feeds: await feedList(services, signedIn(request)) }),
    'POST /api/feeds': (request) => openOwnFeed(services, signedIn(request), request.body.classId),
    'DELETE /api/feeds/:feed': (request) =>
      closeFeed(db, signedIn(request), request.params.feed, services.now()),
    'GET /api/feeds/:token/atom.xml': async (request, reply) =>
      reply.type(ATOM).send(await classFeed(services, request.params.token)),
    'GET /api/new/live': async (request, reply) => {
      const { schoolId } = signedIn(request);
      const scoped = await OWN.viewerIn(services, request);
      const news = cameNews(db);
      return keepUpToDate(services.live, scoped, request, reply, {
        schoolId,
        folderId: null,
        news,
      });
    },
  });
}
