import type { IncomingMessage, ServerResponse } from 'node:http';
import compress from '@fastify/compress';
import cookie from '@fastify/cookie';
import Fastify, { LogController, type FastifyBaseLogger } from 'fastify';
import helmet, { type HelmetOptions } from 'helmet';
import { serializerCompiler, validatorCompiler } from 'fastify-type-provider-zod';
import type { Registry } from 'prom-client';
import type { ErrorCode } from '@sammlung/contract';
import { isApi } from './platform/api.ts';
import type { App, RouteFacts } from './app-type.ts';
import { characters } from './platform/characters.ts';
import { errors } from './platform/errors.ts';
import { FEATURE_ROUTES } from './feature-routes.ts';
import { startServices, type ServiceNeeds } from './start-services.ts';
import { sessions } from './platform/sessions.ts';
import type { Settings } from './settings.ts';
import { policy, webApplication } from './web.ts';
import { figures } from './watching/figures.ts';
import { health } from './watching/health.ts';
import { webdav } from './webdav/plugin.ts';

export interface AppNeeds extends ServiceNeeds {
  /** Where errors, and at the level `info` requests, are written down. */
  readonly log?: FastifyBaseLogger;
  /** Counts requests and the like for Prometheus; given to whoever answers it. */
  readonly onFigures?: (registry: Registry) => void;
  /** Holds replies that the database has made against the contract. */
  readonly checksReplies?: boolean;
  /** Is told of each error that is answered, with the route as it stands in the contract. */
  readonly onProblem?: (route: string, code: ErrorCode) => void;
}

/** The headers that helmet sets, which are the same for all replies: it is asked once. */
function helmetHeaders(options: HelmetOptions): Record<string, string> {
  const headers: Record<string, string> = {};
  const reply = {
    setHeader: (name: string, value: string) => (headers[name.toLowerCase()] = value),
    removeHeader: () => undefined,
  };
  helmet(options)({} as IncomingMessage, reply as unknown as ServerResponse, (error) => {
    if (error) throw error;
  });
  return headers;
}

/** Whether the word of a server in front is taken for where a request comes from, by its address and place in the row. */
function trusted(proxies: Settings['proxies']) {
  return typeof proxies === 'number' ? (_: string, hop: number) => hop < proxies : [...proxies];
}

/** Writes a line for each request: by its route, since an address may hold a token, and by what nobody is known. */
function logRequests(app: App): void {
  app.addHook('onResponse', (request, reply, done) => {
    const { method, routeOptions } = request;
    request.log.info({
      ...{ method, route: routeOptions.url ?? 'none', status: reply.statusCode },
      ms: Math.round(reply.elapsedTime),
    });
    done();
  });
}

/** The whole application, not yet listening. */
export async function buildApp(needs: AppNeeds): Promise<App> {
  const { settings, db, pool, secret, log, checksReplies = false, onProblem } = needs;
  const app: App = Fastify({
    ...(log ? { loggerInstance: log } : { logger: false }),
    // Lines of our own, which have no addresses (`logRequests`).
    logController: new LogController({ disableRequestLogging: true }),
    bodyLimit: 1 << 20,
    routerOptions: { maxParamLength: 300 },
    forceCloseConnections: true,
    trustProxy: trusted(settings.proxies),
  });
  const routeList: RouteFacts[] = [];
  app.decorate('routeList', routeList);
  app.decorate('checksReplies', checksReplies);
  app.addHook('onRoute', ({ method, url }) => {
    for (const verb of [method].flat()) routeList.push({ method: verb, url });
  });
  app.setValidatorCompiler(validatorCompiler);
  app.setSerializerCompiler(serializerCompiler);
  await startServices(app, needs);
  const { address } = app.services;
  if (needs.onFigures) needs.onFigures(figures(app, pool));
  if (log?.level === 'info') logRequests(app);
  health(app);

  await app.register(errors, { onProblem });
  await app.register(characters);
  await app.register(cookie);
  await app.register(compress, { encodings: ['gzip'], threshold: 1024, zlibOptions: { level: 4 } });
  const headers = {
    ...helmetHeaders({
      contentSecurityPolicy: false,
      strictTransportSecurity: settings.address?.startsWith('https:') ?? false,
      referrerPolicy: { policy: 'same-origin' },
      // For browsers that nobody has had for years.
      xDnsPrefetchControl: false,
      xDownloadOptions: false,
      xPermittedCrossDomainPolicies: false,
      xXssProtection: false,
    }),
    'x-robots-tag': 'noindex, nofollow',
    'content-security-policy': policy("'none'"),
  };
  app.addHook('onRequest', (_request, reply, done) => {
    reply.headers(headers);
    done();
  });
  await app.register(sessions, {
    db,
    pool,
    secret,
    settings,
    address,
    secure: settings.address?.startsWith('https:') ?? false,
  });
  app.addHook('onSend', (request, reply, _payload, done) => {
    if (isApi(request) && !reply.hasHeader('cache-control'))
      reply.header('cache-control', 'no-store');
    done();
  });

  for (const routes of FEATURE_ROUTES) await app.register(routes);
  await webdav(app);
  if (settings.web) await app.register(webApplication, { folder: settings.web });
  return app;
}
