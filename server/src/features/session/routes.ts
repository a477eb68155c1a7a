import { SESSION_ROUTES, SignIn } from '@sammlung/contract';
import { PASSWORD_LENGTH } from '@sammlung/core';
import { APIError } from 'better-auth/api';
import type { FastifyRequest } from 'fastify';
import type { z } from 'zod';
import { changePerson } from '../../domain/people.ts';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { AppError } from '../../platform/errors.ts';
import { signedIn, type SignedIn } from '../../platform/sessions.ts';
import { sampleSignIns, signInKeys } from './queries.ts';
import { mailPassword } from './forgotten.ts';
import { revokeAllTokens } from '../../domain/programs/tokens.ts';
import { setPasswordBy, tokenForFirstPassword } from '../../platform/passwords.ts';
import { countAttempt } from '../../platform/rate-limits.ts';

export async function sessionRoutes(app: App) {
  const { accounts, db, now, rateLimits, hashing } = app.services;

  registerRoutes(app, SESSION_ROUTES, {
    'GET /api/session': (request) => ({
      person: request.person && shown(request.person),
    }),
    'POST /api/session': async (request, reply) => {
      const { headers, token } = await hashing(() => enter(request, request.body));
      if (token) return { token };
      reply.header('set-cookie', headers!.getSetCookie());
      return null;
    },
    'PUT /api/session/language': (request) =>
      changePerson(db, signedIn(request).id, { language: request.body.language }),
    'POST /api/session/forgotten': (request) =>
      mailPassword(app.services, request.body.email, request.ip),
    'POST /api/session/password': async (request) => {
      const { token, password } = request.body;
      if (password.length < PASSWORD_LENGTH) throw new AppError('password-short');
      const personId = await hashing(() => setPasswordBy(app.services, token, password));
      // Programs that came in by a password of their own have to be let in anew.
      await revokeAllTokens(app.services.db, personId);
    },
    'DELETE /api/session': async (request, reply) => {
      const { headers } = await accounts.api.signOut({
        headers: headersOf(request),
        returnHeaders: true,
      });
      reply.header('set-cookie', headers.getSetCookie());
      // Whoever comes to this browser next finds nothing of what was read here.
      reply.header('clear-site-data', '"cache", "storage"');
    },
    'GET /api/sample': async () => ({
      signIns: await sampleSignIns(app.services),
    }),
  });

  /** The headers of a new session, or the token that the word of a slip is good for. Throws `wrong-sign-in`. */
  async function enter(
    request: FastifyRequest,
    { email, password }: z.infer<typeof SignIn>,
  ): Promise<{ headers?: Headers; token?: string }> {
    const giveBack = await countAttempt(rateLimits, email, request.ip);
    const keys = await signInKeys(app.services, email);
    for (const key of keys) {
      const headers = await signInBy(request, key, password);
      if (!headers) continue;
      await giveBack();
      return { headers };
    }
    const token = await tokenForFirstPassword(db, keys, password, now());
    if (!token) throw new AppError('wrong-sign-in');
    await giveBack();
    return { token };
  }

  /** The headers of the new session; null for a wrong password. */
  async function signInBy(request: FastifyRequest, email: string, password: string) {
    try {
      const { headers } = await accounts.api.signInEmail({
        body: { email, password },
        headers: headersOf(request),
        returnHeaders: true,
      });
      return headers;
    } catch (error) {
      if (!(error instanceof APIError) || error.statusCode >= 500) throw error;
      return null;
    }
  }
}

function headersOf(request: FastifyRequest): Headers {
  const headers = new Headers();
  for (const name of ['cookie', 'user-agent', 'origin', 'host'])
    if (typeof request.headers[name] === 'string') headers.set(name, request.headers[name]);
  headers.set('x-forwarded-for', request.ip);
  return headers;
}

function shown({ id, name, kind, language, schoolId, schoolName, timeZone, sample }: SignedIn) {
  return { id, name, kind, language, school: { id: schoolId, name: schoolName, timeZone, sample } };
}
