import {
  DigestChoice,
  Feed,
  FeedParams,
  Feeds,
  FeedToken,
  NewFeed,
  Mark,
  Marked,
  MarkedParams,
  MyClasses,
  NewQuery,
  NewThings,
  Nothing,
  SeenAs,
  StaffRoom,
} from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { keepUpToDate } from '../../domain/live/watching.ts';
import { signedIn } from '../../platform/sessions.ts';
import { ATOM, closeFeed } from '../../domain/feeds.ts';
import { classFeed, feedList, openOwnFeed } from './feeds.ts';
import { chooseDigest, sendDigests } from './digest.ts';
import { OWN, SEEN_AS } from '../../domain/access/scopes.ts';
import { cameNews, markNew, myClasses, newThings, seenAs, staffRoom, undoMark } from './service.ts';

export async function receiveRoutes(app: App) {
  const { services } = app;
  const { db } = services;
  await services.jobs?.schedule(
    'digest',
    '5 * * * *',
    async () => void (await sendDigests(services)),
  );
  app.put(
    '/api/new/digest',
    { schema: { body: DigestChoice, response: { 204: Nothing } } },
    async (request, reply) => {
      await chooseDigest(services, signedIn(request), request.body.digest);
      return reply.code(204).send(null);
    },
  );
  app.put('/api/new/marked', { schema: { body: Mark, response: { 200: Marked } } }, (request) =>
    markNew(services, signedIn(request), request.body),
  );
  app.delete(
    '/api/new/marked/:at',
    { schema: { params: MarkedParams, response: { 204: Nothing } } },
    async (request, reply) => {
      await undoMark(services, signedIn(request), request.params.at);
      return reply.code(204).send(null);
    },
  );
  app.get('/api/feeds', { schema: { response: { 200: Feeds } } }, async (request) => ({
    feeds: await feedList(services, signedIn(request)),
  }));
  app.post('/api/feeds', { schema: { body: NewFeed, response: { 200: Feed } } }, (request) =>
    openOwnFeed(services, signedIn(request), request.body.classId),
  );
  app.delete(
    '/api/feeds/:feed',
    { schema: { params: FeedParams, response: { 204: Nothing } } },
    async (request, reply) => {
      await closeFeed(db, signedIn(request), request.params.feed, services.now());
      return reply.code(204).send(null);
    },
  );
  // Whoever has the address needs no session: feed readers have none.
  app.get('/api/feeds/:token/atom.xml', { schema: { params: FeedToken } }, async (request, reply) =>
    reply.type(ATOM).send(await classFeed(services, request.params.token)),
  );
  app.get('/api/new/live', async (request, reply) => {
    const { schoolId } = signedIn(request);
    const scoped = await OWN.viewerIn(services, request);
    const news = cameNews(db);
    return keepUpToDate(services.live, scoped, request, reply, {
      schoolId,
      folderId: null,
      news,
    });
  });
  for (const { prefix, params, viewerIn } of [OWN, SEEN_AS]) {
    app.get(
      `${prefix}/new`,
      { schema: { params, querystring: NewQuery, response: { 200: NewThings } } },
      async (request) => {
        const { viewer } = await viewerIn(services, request);
        return newThings(db, viewer, request.query);
      },
    );
    app.get(
      `${prefix}/classes`,
      { schema: { params, response: { 200: MyClasses } } },
      async (request) => {
        const { viewer } = await viewerIn(services, request);
        return myClasses(db, viewer);
      },
    );
    app.get(
      `${prefix}/staff-room`,
      { schema: { params, response: { 200: StaffRoom } } },
      async (request) => {
        const { viewer } = await viewerIn(services, request);
        return staffRoom(db, viewer);
      },
    );
  }
  app.get(
    `${SEEN_AS.prefix}/name`,
    { schema: { params: SEEN_AS.params, response: { 200: SeenAs } } },
    async (request) => {
      const { viewer } = await SEEN_AS.viewerIn(services, request);
      return seenAs(db, viewer);
    },
  );
}
