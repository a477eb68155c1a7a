import { createHmac, timingSafeEqual } from 'node:crypto';
import { sql } from 'drizzle-orm';
import type { FastifyInstance, FastifyRequest } from 'fastify';
import fp from 'fastify-plugin';
import type pg from 'pg';
import { ms, type Database } from '../db/database.ts';
import { statement } from '../db/statement.ts';
import { schools } from '../db/schema/index.ts';
import { SESSION_COOKIE } from './accounts.ts';
import type { Settings } from '../settings.ts';
import { isApi } from './api.ts';
import { AppError } from './errors.ts';
import { listen } from './live/listen.ts';
import { SessionMemory } from './session-memory.ts';

/** Who has signed in. */
export interface SignedIn {
  readonly id: string;
  readonly name: string;
  readonly kind: 'teacher' | 'student' | 'office';
  readonly schoolId: string;
  readonly schoolName: string;
  readonly timeZone: string;
  readonly sample: boolean;
  readonly language: 'en' | 'de' | null;
  readonly sessionId: string;
}

declare module 'fastify' {
  interface FastifyRequest {
    /** Who sent the request; null for somebody without a session. */
    person: SignedIn | null;
  }
}

/** Finds out who sends each request to the API, and refuses changes that another site sends. */
export const sessions = fp(
  async (
    app: FastifyInstance,
    {
      db,
      pool,
      secret,
      secure,
      settings,
      address,
    }: {
      db: Database;
      pool: pg.Pool;
      secret: string;
      secure: boolean;
      settings: Pick<Settings, 'sample'>;
      /** Where browsers reach the application. */
      address: () => string;
    },
  ) => {
    const name = secure ? `__Secure-${SESSION_COOKIE}` : SESSION_COOKIE;
    const byToken = statement<SignedIn & { endsAt: number; [key: string]: unknown }>(
      () => sql`select p.id, p.name, p.kind, p.school_id as "schoolId", schools.name as "schoolName",
          schools.time_zone as "timeZone", schools.sample, p.language, o.id as "sessionId", ${ms(sql`o.expires_at`)} as "endsAt"
        from sessions o join people p on p.id = o.user_id join schools on schools.id = p.school_id
        where o.token = ${sql.placeholder('token')}::text and o.expires_at > now() and p.deactivated_at is null and ${mayEnter(settings) ?? sql`true`}`,
    );
    async function read(cookie: string) {
      const token = readToken(cookie, secret);
      const [found] = token ? await byToken(db, { token }) : [];
      if (!found) return null;
      const { endsAt, ...person } = found;
      return { person, endsAt };
    }

    const memory = new SessionMemory<SignedIn>();
    const hearing = listen(
      pool,
      'sessions',
      (id) => memory.forget(id),
      () => (memory.hears = true),
      (error) => {
        memory.hears = false;
        app.log.error(error);
      },
    );
    void hearing.ready.then(() => (memory.hears = true));
    app.addHook('preClose', () => hearing.stop());

    app.decorateRequest('person', null);
    app.addHook('onRequest', (request, _reply, done) => {
      if (!isApi(request)) return done();
      const reads = READS.has(request.method);
      if (!reads && !isOurs(request, address())) return done(new AppError('wrong-origin'));
      const cookie = request.cookies[name];
      // Whoever changes something is asked for anew.
      request.person = (cookie !== undefined && reads && memory.get(cookie)) || null;
      if (cookie === undefined || request.person) return done();
      memory
        .read(cookie, () => read(cookie))
        .then((person) => {
          request.person = person;
          done();
        }, done);
    });
    // What this process has changed itself it knows before anybody is told that it is done.
    app.addHook('onSend', (request, _reply, _payload, done) => {
      if (isApi(request) && !READS.has(request.method)) memory.forget();
      done();
    });
  },
);

/** Methods that change nothing. */
const READS = new Set(['GET', 'HEAD', 'OPTIONS']);

/** Whether people of the school in `schools` may sign in: those of the sample school only while the sample is on. */
export const mayEnter = ({ sample }: Pick<Settings, 'sample'>) =>
  sample ? undefined : sql`not ${schools.sample}`;

/** The person who sent the request; throws `sign-in-needed` when there is none. */
export function signedIn(request: FastifyRequest): SignedIn {
  if (!request.person) throw new AppError('sign-in-needed');
  return request.person;
}

/** Throws `not-found` for whoever is not of the office. */
export function requireOffice({ kind }: Pick<SignedIn, 'kind'>): void {
  if (kind !== 'office') throw new AppError('not-found');
}

/** Whether a page of ours sent the request, as far as the browser says. */
function isOurs(request: FastifyRequest, address: string): boolean {
  const site = request.headers['sec-fetch-site'];
  if (site !== undefined && site !== 'same-origin' && site !== 'none') return false;
  const { origin, host } = request.headers;
  if (origin === undefined) return true;
  // A server in front may pass on another host than the one that browsers know.
  const ours = [host, new URL(address).host];
  return URL.canParse(origin) && ours.includes(new URL(origin).host);
}

/** The session token out of the signed cookie; null when it was tampered with. */
function readToken(value: string, secret: string): string | null {
  const dot = value.lastIndexOf('.');
  const token = value.slice(0, dot);
  const given = Buffer.from(value.slice(dot + 1), 'base64');
  const right = createHmac('sha256', secret).update(token).digest();
  return given.length === right.length && timingSafeEqual(given, right) ? token : null;
}
