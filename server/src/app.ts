import { createHmac } from 'node:crypto';
import compress from '@fastify/compress';
import cookie from '@fastify/cookie';
import helmet from '@fastify/helmet';
import Fastify from 'fastify';
import { serializerCompiler, validatorCompiler } from 'fastify-type-provider-zod';
import type pg from 'pg';
import type { ErrorCode } from '@sammlung/contract';
import type { Database } from './db/database.ts';
import { archiveRoutes } from './features/archive/routes.ts';
import { audienceRoutes } from './features/audience/routes.ts';
import { binRoutes } from './features/bin/routes.ts';
import { boardRoutes } from './features/board/routes.ts';
import { consequenceRoutes } from './features/consequence/routes.ts';
import { deskRoutes } from './features/desk/routes.ts';
import { doorRoutes } from './features/door/routes.ts';
import { findRoutes } from './features/find/routes.ts';
import { intakeRoutes } from './features/intake/routes.ts';
import { keepRoutes } from './features/keep/routes.ts';
import { layoutRoutes } from './features/layout/routes.ts';
import { libraryRoutes } from './features/library/routes.ts';
import { openApiRoutes } from './features/openapi/routes.ts';
import { noteRoutes } from './features/note/routes.ts';
import { postRoutes } from './features/post/routes.ts';
import { previewRoutes } from './features/preview/routes.ts';
import { readingRoutes } from './features/reading/routes.ts';
import { receiveRoutes } from './features/receive/routes.ts';
import { releaseRoutes } from './features/release/routes.ts';
import { rosterRoutes } from './features/roster/routes.ts';
import { requestRoutes } from './features/request/routes.ts';
import { sessionRoutes } from './features/session/routes.ts';
import { spaceRoutes } from './features/space/routes.ts';
import { todayRoutes } from './features/today/routes.ts';
import { whyRoutes } from './features/why/routes.ts';
import { accounts } from './platform/accounts.ts';
import { isApi } from './platform/api.ts';
import type { App, RouteFacts } from './app-type.ts';
import { characters } from './platform/characters.ts';
import { unseenNotes } from './domain/notes.ts';
import { hashingQueue } from './platform/hashing.ts';
import { examine } from './domain/doctor.ts';
import { errors } from './platform/errors.ts';
import type { Jobs } from './platform/jobs.ts';
import { startLive } from './domain/live/live.ts';
import { startPost } from './platform/mail.ts';
import { endOpenings } from './domain/openings.ts';
import { sessions } from './platform/sessions.ts';
import { DiskStorage } from './platform/storage.ts';
import { createRateLimits } from './platform/rate-limits.ts';
import { startWorkers } from './platform/workers.ts';
import type { Settings } from './settings.ts';
import { policy, webApplication } from './web.ts';

export interface AppNeeds {
  readonly settings: Settings;
  readonly db: Database;
  readonly pool: pg.Pool;
  readonly secret: string;
  readonly now?: () => number;
  readonly jobs?: Jobs;
  /** Writes one line for each request and error. */
  readonly log?: boolean;
  /** Is told of each error that is answered, with the route as it stands in the contract. */
  readonly onProblem?: (route: string, code: ErrorCode) => void;
}

/** Whether the word of a server in front is taken for where a request comes from, by its address and place in the row. */
function trusted(proxies: Settings['proxies']) {
  return typeof proxies === 'number' ? (_: string, hop: number) => hop < proxies : [...proxies];
}

/** The whole application, not yet listening. */
export async function buildApp({
  settings,
  db,
  pool,
  secret,
  now = Date.now,
  jobs,
  log = false,
  onProblem,
}: AppNeeds): Promise<App> {
  const app: App = Fastify({
    logger: log ? { level: 'warn' } : false,
    bodyLimit: 1 << 20,
    routerOptions: { maxParamLength: 300 },
    forceCloseConnections: true,
    trustProxy: trusted(settings.proxies),
  });
  const routeList: RouteFacts[] = [];
  app.decorate('routeList', routeList);
  app.addHook('onRoute', ({ method, url }) => {
    for (const verb of [method].flat()) routeList.push({ method: verb, url });
  });
  app.setValidatorCompiler(validatorCompiler);
  app.setSerializerCompiler(serializerCompiler);
  const address = () => settings.address ?? app.listeningOrigin.replace('127.0.0.1', 'localhost');
  const post = await startPost({
    db,
    jobs: jobs ?? null,
    settings,
    address,
    note: (error) => app.log.error(error),
    mustWait: (mails, t) => unseenNotes(db, mails, t),
  });
  app.addHook('onClose', async () => post.close());
  const live = startLive({ db, pool, now, note: (error) => app.log.error(error) });
  // Before the connections are: open pages are told first.
  app.addHook('preClose', async () => live.close());
  const workers = startWorkers();
  app.addHook('onClose', () => workers.close());
  app.decorate('services', {
    db,
    storage: new DiskStorage(settings.data),
    accounts: accounts(db, secret, settings.address ?? 'http://localhost'),
    rateLimits: createRateLimits(pool),
    hashing: hashingQueue(),
    workers,
    jobs: jobs ?? null,
    post,
    live,
    sign: (text) => createHmac('sha256', secret).update(text).digest('base64url'),
    settings,
    now,
    address,
  });

  await jobs?.schedule(
    'end-openings',
    '35 2 * * *',
    async () => void (await endOpenings(db, now())),
  );
  await jobs?.schedule('doctor', '50 2 * * *', async () => {
    const { damaged } = await examine(app.services, now());
    if (damaged.length > 0)
      app.log.error({ damaged }, 'Contents are missing or damaged: see npm run doctor');
  });

  await app.register(errors, { onProblem });
  await app.register(characters);
  await app.register(cookie);
  await app.register(compress, { encodings: ['gzip'], threshold: 1024, zlibOptions: { level: 4 } });
  await app.register(helmet, {
    contentSecurityPolicy: false,
    strictTransportSecurity: settings.address?.startsWith('https:') ?? false,
    referrerPolicy: { policy: 'same-origin' },
  });
  app.addHook('onRequest', async (_request, reply) => {
    reply.header('x-robots-tag', 'noindex, nofollow');
    reply.header('content-security-policy', policy("'none'"));
  });
  await app.register(sessions, {
    db,
    secret,
    settings,
    address,
    secure: settings.address?.startsWith('https:') ?? false,
  });
  app.addHook('onSend', async (request, reply) => {
    if (isApi(request) && !reply.hasHeader('cache-control'))
      reply.header('cache-control', 'no-store');
  });

  for (const routes of [
    sessionRoutes,
    libraryRoutes,
    binRoutes,
    layoutRoutes,
    archiveRoutes,
    previewRoutes,
    findRoutes,
    spaceRoutes,
    readingRoutes,
    intakeRoutes,
    consequenceRoutes,
    boardRoutes,
    audienceRoutes,
    releaseRoutes,
    rosterRoutes,
    noteRoutes,
    requestRoutes,
    whyRoutes,
    todayRoutes,
    postRoutes,
    receiveRoutes,
    keepRoutes,
    deskRoutes,
    doorRoutes,
    openApiRoutes,
  ])
    await app.register(routes);
  if (settings.web) await app.register(webApplication, { folder: settings.web });
  return app;
}
