import type { FastifyReply, FastifyRequest } from 'fastify';
import { tidyDavFiles } from '../domain/programs/dav-files.ts';
import { tokenReader } from '../domain/programs/tokens.ts';
import { sweep } from '../domain/contents.ts';
import { AppError, ruleBroken } from '../platform/errors.ts';
import { countAttempt } from '../platform/rate-limits.ts';
import type { App } from '../app-type.ts';
import { mkcol, destroy } from './change.ts';
import { asDavError, DavError, readOnly } from './errors.ts';
import { lock, unlock } from './locking.ts';
import { ROOT } from './paths.ts';
import { proppatch } from './proppatch.ts';
import { put } from './put.ts';
import { get, propfind } from './read.ts';
import { DavRequest } from './request.ts';
import { copy, move } from './transfer.ts';
import { document, element } from './xml.ts';

type Verb = (dav: DavRequest, reply: FastifyReply) => Promise<unknown>;
const VERBS: Readonly<Record<string, Verb>> = {
  GET: get,
  PUT: put,
  DELETE: destroy,
  PROPFIND: propfind,
  PROPPATCH: proppatch,
  MKCOL: mkcol,
  COPY: copy,
  MOVE: move,
  LOCK: lock,
  UNLOCK: unlock,
};
const READS = new Set(['GET', 'HEAD', 'PROPFIND']);
/** Those that Fastify does not know by itself. */
const MORE = ['PROPFIND', 'PROPPATCH', 'MKCOL', 'COPY', 'MOVE', 'LOCK', 'UNLOCK'];

/** Folders for programs (WebDAV, RFC 4918 classes 1 and 2): what a person has on the screen, as a network drive. */
export async function webdav(app: App) {
  const { services } = app;
  for (const method of MORE) app.addHttpMethod(method, { hasBody: true });
  await services.jobs?.schedule('tidy-programs', '40 2 * * *', async () => {
    await sweep(services.db, services.storage, await tidyDavFiles(services.db, services.now()));
  });
  await app.register(async (scope) => {
    const personOf = tokenReader(services.settings);
    /** When passwords were right, the last one at the end. */
    const right = new Map<string, number>();
    const asking = new Map<string, ReturnType<typeof personOf>>();
    // Bodies are read where they are wanted, and stored as they come.
    scope.removeAllContentTypeParsers();
    scope.addContentTypeParser('*', (_request, _body, done) => done(null));
    scope.setErrorHandler(answer);
    for (const url of [ROOT, `${ROOT}/*`]) {
      scope.options(url, (_request, reply) =>
        reply
          .headers({ dav: '1, 2', 'ms-author-via': 'DAV', allow: `OPTIONS, HEAD, ${ALLOW}` })
          .code(200)
          .send(),
      );
      for (const [method, verb] of Object.entries(VERBS))
        scope.route({
          // Packing a long list takes longer than sending it.
          ...{ method, url, compress: false as const },
          handler: async (request: FastifyRequest, reply: FastifyReply) => {
            const { person, writes } = await whose(request);
            reply.header('dav', '1, 2');
            if (!writes && !READS.has(method)) throw readOnly();
            return verb(new DavRequest(services, request, person), reply);
          },
        });
    }

    /** Who a request is from, by a password for programs. One that was not right a moment ago is counted before it is looked at. */
    async function whose(request: FastifyRequest) {
      const given = credentials(request.headers.authorization);
      if (!given) throw unknown();
      const found = await (asking.get(given.password) ?? ask(request, given));
      if (!found) throw unknown();
      return found;
    }

    /** Those who come at once with the same password are one try. */
    function ask(request: FastifyRequest, { name, password }: Credentials) {
      const answer = judge(request, name, password).finally(() => asking.delete(password));
      asking.set(password, answer);
      return answer;
    }

    async function judge(request: FastifyRequest, name: string, password: string) {
      const { db, now, rateLimits } = services;
      const isKnown = (right.get(password) ?? 0) > now() - KNOWN_MS;
      const giveBack = isKnown
        ? null
        : await countAttempt(rateLimits, `programs ${name}`, request.ip);
      const found = await personOf(db, password, now());
      right.delete(password);
      if (!found) return null;
      right.set(password, now());
      if (right.size > MOST_KNOWN) right.delete(right.keys().next().value!);
      await giveBack?.();
      return found;
    }
  });
}

/** A password that was right is not counted for so long, in milliseconds; so many of them are remembered. */
const KNOWN_MS = 10 * 60 * 1000;
const MOST_KNOWN = 5000;

const ALLOW = Object.keys(VERBS).join(', ');

const unknown = () =>
  new DavError(401, 'Sign in with your email address and a password for programs.', {
    headers: { 'www-authenticate': 'Basic realm="Sammlung", charset="UTF-8"' },
  });

interface Credentials {
  readonly name: string;
  readonly password: string;
}

/** The name and password of HTTP's basic scheme (RFC 7617). */
function credentials(header: string | undefined): Credentials | null {
  const [, encoded] = /^Basic +([A-Za-z0-9+/=_-]{1,2000})$/iu.exec(header ?? '') ?? [];
  if (!encoded) return null;
  const text = Buffer.from(encoded, 'base64').toString('utf8');
  const colon = text.indexOf(':');
  return colon < 0 ? null : { name: text.slice(0, colon), password: text.slice(colon + 1) };
}

/** Tells a program what went wrong: in words, and where RFC 4918 has a name for it, by that. */
function answer(
  error: Error & { statusCode?: number },
  request: FastifyRequest,
  reply: FastifyReply,
) {
  // Whoever still sends hears no answer.
  request.raw.resume();
  const rule = ruleBroken(error);
  const known = rule ? new AppError(rule) : error;
  const told = known instanceof AppError ? asDavError(known) : known;
  if (told instanceof DavError) {
    const { status, message, more } = told;
    reply.code(status).headers({ 'cache-control': 'no-store', ...more.headers });
    return more.condition
      ? reply
          .type('application/xml; charset=utf-8')
          .send(document('error', element(more.condition)))
      : reply.type('text/plain; charset=utf-8').send(`${message}\n`);
  }
  const status = error.statusCode ?? 500;
  if (status >= 500) request.log.error(error);
  return reply
    .code(status)
    .type('text/plain; charset=utf-8')
    .send(status < 500 ? 'The request could not be read.\n' : 'Something went wrong.\n');
}
