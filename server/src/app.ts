import { createHmac } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import helmet from '@fastify/helmet';
import fastifyStatic from '@fastify/static';
import { TokenParams } from '@sammlung/contract';
import Fastify, { type FastifyReply, type FastifyRequest } from 'fastify';
import { serializerCompiler, validatorCompiler } from 'fastify-type-provider-zod';
import type pg from 'pg';
import type { Database } from './db/database.ts';
import { archiveRoutes } from './features/archive/routes.ts';
import { audienceRoutes } from './features/audience/routes.ts';
import { binRoutes } from './features/bin/routes.ts';
import { boardRoutes } from './features/board/routes.ts';
import { consequenceRoutes } from './features/consequence/routes.ts';
import { deskRoutes } from './features/desk/routes.ts';
import { coverOf, type Cover } from './features/door/cover.ts';
import { doorRoutes } from './features/door/routes.ts';
import { findRoutes } from './features/find/routes.ts';
import { intakeRoutes } from './features/intake/routes.ts';
import { keepRoutes } from './features/keep/routes.ts';
import { layoutRoutes } from './features/layout/routes.ts';
import { libraryRoutes } from './features/library/routes.ts';
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
import { doorOf } from './platform/access/door.ts';
import { accounts } from './platform/accounts.ts';
import type { App } from './platform/app-type.ts';
import { errors, problem } from './platform/errors.ts';
import type { Jobs } from './platform/jobs.ts';
import { startLive } from './platform/live/live.ts';
import { startPost } from './platform/mail.ts';
import { sessions } from './platform/sessions.ts';
import { DiskStorage } from './platform/storage.ts';
import { countTries } from './platform/tries.ts';
import type { Settings } from './settings.ts';

export interface AppNeeds {
  readonly settings: Settings;
  readonly db: Database;
  readonly pool: pg.Pool;
  readonly secret: string;
  readonly now?: () => number;
  readonly jobs?: Jobs;
  /** Writes one line for each request and error. */
  readonly log?: boolean;
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
}: AppNeeds): Promise<App> {
  const app: App = Fastify({
    logger: log ? { level: 'warn' } : false,
    bodyLimit: 1 << 20,
    routerOptions: { maxParamLength: 300 },
    forceCloseConnections: true,
  });
  const routeList: string[] = [];
  app.decorate('routeList', routeList);
  app.addHook('onRoute', ({ method, url }) => {
    for (const verb of [method].flat()) routeList.push(`${verb} ${url}`);
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
  });
  app.addHook('onClose', async () => post.close());
  const live = startLive({ db, pool, now, note: (error) => app.log.error(error) });
  // Before the connections are: open pages are told first.
  app.addHook('preClose', async () => live.close());
  app.decorate('services', {
    db,
    storage: new DiskStorage(settings.data),
    accounts: accounts(db, secret, settings.address ?? 'http://localhost'),
    tries: countTries(pool),
    jobs: jobs ?? null,
    post,
    live,
    sign: (text) => createHmac('sha256', secret).update(text).digest('base64url'),
    settings,
    now,
    address,
  });

  await app.register(errors);
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
    secure: settings.address?.startsWith('https:') ?? false,
  });
  app.addHook('onSend', async (request, reply) => {
    if (request.url.startsWith('/api/') && !reply.hasHeader('cache-control'))
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
  ])
    await app.register(routes);
  if (settings.web) await app.register(webApplication, { root: settings.web });
  return app;
}

/** What our pages may load and do, and who may show them in a frame. */
function policy(frameAncestors: string): string {
  return [
    "default-src 'self'",
    "style-src 'self' 'unsafe-inline'",
    "font-src 'self' data:",
    "img-src 'self' data: blob:",
    "media-src 'self' blob:",
    "object-src 'none'",
    "base-uri 'self'",
    "form-action 'self'",
    `frame-ancestors ${frameAncestors}`,
  ].join(';');
}

/** The built web application: its files, and its one page at every address that is not the API's. */
async function webApplication(app: App, { root }: { root: string }) {
  await app.register(fastifyStatic, {
    root,
    preCompressed: true,
    wildcard: false,
    index: false,
    cacheControl: false,
    setHeaders: (reply, path) => {
      const lasting = path.includes('/assets/');
      reply.setHeader(
        'cache-control',
        lasting ? 'public, max-age=31536000, immutable' : 'no-cache',
      );
    },
  });
  const page = readFileSync(join(root, 'index.html'), 'utf8');
  /** Programs that look at an address are told the title of what is open to all; all else is nobody's to list. */
  async function addressed(request: FastifyRequest, reply: FastifyReply) {
    const { token } = TokenParams.parse(request.params);
    const cover = await coverOf(app.services, token);
    if (cover?.listed) reply.removeHeader('x-robots-tag');
    return reply.type(HTML).header('cache-control', 'no-cache').send(withTitle(page, cover));
  }
  app.get('/open/:token', addressed);
  app.get('/open/:token/*', addressed);
  /** The same page for a folder in a frame on another website: of a public door, and nothing else of ours. */
  app.get('/embed/:token', framed);
  app.get('/embed/:token/*', framed);
  async function framed(request: FastifyRequest, reply: FastifyReply) {
    const { token } = TokenParams.parse(request.params);
    const found = await doorOf(app.services.db, token);
    if (found?.door.kind === 'public') {
      reply.removeHeader('x-frame-options');
      reply.header('content-security-policy', policy('*'));
    }
    return reply.type(HTML).sendFile('index.html');
  }
  /** The part with the frame of all pages of people with an account. */
  const first = readdirSync(join(root, 'assets')).find((name) => /^first-.*\.js$/u.test(name));
  app.get('/*', (request, reply) => {
    if (request.url.startsWith('/api/') || request.url.startsWith('/assets/'))
      return reply.code(404).type('application/problem+json').send(problem('not-found'));
    // Whoever has a session will want it: they are told before the page itself can say so.
    if (first && request.headers.cookie)
      reply.header('link', `</assets/${first}>; rel=modulepreload`);
    return reply.type(HTML).sendFile('index.html');
  });
}

const HTML = 'text/html; charset=utf-8';

/** The page with the title of a public folder for link previews (Open Graph); nothing else of it is told. */
function withTitle(page: string, cover: Cover | null): string {
  if (!cover) return page;
  const title = cover.title.replace(/[&<>"]/gu, (sign) => `&#${sign.codePointAt(0)};`);
  return page.replace(
    /<title>.*<\/title>/u,
    () => `<title>${title}</title><meta property="og:title" content="${title}" />`,
  );
}
