import { createHmac, timingSafeEqual } from 'node:crypto';
import { and, eq, sql } from 'drizzle-orm';
import type { FastifyInstance, FastifyRequest } from 'fastify';
import fp from 'fastify-plugin';
import type { Database } from '../db/database.ts';
import { people, schools, sessions as sessionsTable } from '../db/schema/index.ts';
import { SESSION_COOKIE } from './accounts.ts';
import type { Settings } from '../settings.ts';
import { isApi } from './api.ts';
import { AppError } from './errors.ts';

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

/** Reads the session of every API request in one query, and refuses changes that another site sends. */
export const sessions = fp(
  async (
    app: FastifyInstance,
    {
      db,
      secret,
      secure,
      settings,
      address,
    }: {
      db: Database;
      secret: string;
      secure: boolean;
      settings: Pick<Settings, 'sample'>;
      /** Where browsers reach the application. */
      address: () => string;
    },
  ) => {
    const name = secure ? `__Secure-${SESSION_COOKIE}` : SESSION_COOKIE;
    const byToken = db
      .select({
        id: people.id,
        name: people.name,
        kind: people.kind,
        schoolId: people.schoolId,
        schoolName: schools.name,
        timeZone: schools.timeZone,
        sample: schools.sample,
        language: people.language,
        sessionId: sessionsTable.id,
      })
      .from(sessionsTable)
      .innerJoin(people, eq(people.id, sessionsTable.userId))
      .innerJoin(schools, eq(schools.id, people.schoolId))
      .where(
        and(
          eq(sessionsTable.token, sql.placeholder('token')),
          sql`${sessionsTable.expiresAt} > now()`,
          mayEnter(settings),
        ),
      )
      .prepare('session_by_token');

    app.decorateRequest('person', null);
    app.addHook('onRequest', async (request) => {
      if (!isApi(request)) return;
      if (!['GET', 'HEAD', 'OPTIONS'].includes(request.method))
        refuseOtherSites(request, address());
      const token = readToken(request.cookies[name], secret);
      if (token) request.person = (await byToken.execute({ token }))[0] ?? null;
    });
  },
);

/** Whether people of the school in `schools` may sign in: those of the sample school only while the sample is on. */
export const mayEnter = ({ sample }: Pick<Settings, 'sample'>) =>
  sample ? undefined : eq(schools.sample, false);

/** The person who sent the request; throws `sign-in-needed` when there is none. */
export function signedIn(request: FastifyRequest): SignedIn {
  if (!request.person) throw new AppError('sign-in-needed');
  return request.person;
}

function refuseOtherSites(request: FastifyRequest, address: string) {
  const site = request.headers['sec-fetch-site'];
  if (site !== undefined && site !== 'same-origin' && site !== 'none')
    throw new AppError('wrong-origin');
  const { origin, host } = request.headers;
  if (origin === undefined) return;
  // A server in front may pass on another host than the one that browsers know.
  const ours = [host, new URL(address).host];
  if (!URL.canParse(origin) || !ours.includes(new URL(origin).host))
    throw new AppError('wrong-origin');
}

/** The session token out of the signed cookie; null when it is missing or was tampered with. */
function readToken(value: string | undefined, secret: string): string | null {
  if (value === undefined) return null;
  const dot = value.lastIndexOf('.');
  const token = value.slice(0, dot);
  const given = Buffer.from(value.slice(dot + 1), 'base64');
  const right = createHmac('sha256', secret).update(token).digest();
  return given.length === right.length && timingSafeEqual(given, right) ? token : null;
}
