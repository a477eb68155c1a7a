import { SESSION_ROUTES, SignIn, type NextStep, type PasskeyAnswer } from '@sammlung/contract';
import { PASSWORD_LENGTH } from '@sammlung/core';
import type { FastifyRequest } from 'fastify';
import type { z } from 'zod';
import { changePerson } from '../../domain/people.ts';
import type { App } from '../../app-type.ts';
import { CHALLENGE_COOKIES, headersOf, unlessRefused } from '../../platform/accounts.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { AppError } from '../../platform/errors.ts';
import { signedIn, type SignedIn } from '../../platform/sessions.ts';
import { sampleSignIns, signInKeys } from './queries.ts';
import { comeBack, leaveFor } from './outside.ts';
import { mailPassword } from './forgotten.ts';
import { tellAccountChange } from '../../domain/sign-ins.ts';
import { revokeAllTokens } from '../../domain/programs/tokens.ts';
import {
  challengedPerson,
  setPasswordBy,
  tokenForFirstPassword,
} from '../../platform/passwords.ts';
import {
  answeredChallenge,
  hasAnswered,
  knownPasskey,
  newChallenge,
  relyingParty,
} from '../../platform/passkeys.ts';
import { countAttempt, countCode, isFresh } from '../../platform/rate-limits.ts';

export async function sessionRoutes(app: App) {
  const { accounts, db, now, rateLimits, hashing, settings } = app.services;

  registerRoutes(app, SESSION_ROUTES, {
    'GET /api/session': (request) => ({
      person: request.person && shown(request.person),
    }),
    'POST /api/session': async (request, reply) => {
      const { headers, next } = await hashing(() => enter(request, request.body));
      if (headers) reply.header('set-cookie', headers.getSetCookie());
      return next;
    },
    'POST /api/session/code': async (request, reply) => {
      reply.header('set-cookie', await enterByCode(request, request.body.code));
    },
    'POST /api/session/passkey': () => ({
      challenge: newChallenge(app.services, 'sign in'),
      rpId: relyingParty(app.services.address()).id,
      ...{ timeout: 120_000, userVerification: 'required' as const },
    }),
    'PUT /api/session/passkey': async (request, reply) => {
      reply.header('set-cookie', await enterByPasskey(request, request.body));
    },
    'GET /api/session/ways': () => ({
      outside: settings.provider?.name ?? null,
      passwords: settings.passwords,
    }),
    'POST /api/session/outside': (request, reply) =>
      leaveFor(app.services, request, reply, request.body.to),
    'GET /api/session/outside/callback/school': (request, reply) =>
      comeBack(app.services, request, reply),
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
      await tellAccountChange(app.services, personId, 'password');
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

  /** The headers of a new session, or what comes before it. Throws `wrong-sign-in`. */
  async function enter(
    request: FastifyRequest,
    { email, password }: z.infer<typeof SignIn>,
  ): Promise<{ headers: Headers | null; next: NextStep | null }> {
    const giveBack = await countAttempt(rateLimits, email, request.ip);
    const keys = await signInKeys(app.services, email);
    for (const key of keys) {
      const entered = await unlessRefused(
        accounts.api.signInEmail({
          body: { email: key, password },
          headers: headersOf(request),
          returnHeaders: true,
        }),
      );
      if (!entered) continue;
      await giveBack();
      const { headers, response } = entered;
      const next = 'twoFactorRedirect' in response ? ({ step: 'code' } as const) : null;
      return { headers, next };
    }
    const token = await tokenForFirstPassword(db, keys, password, now());
    if (!token) throw new AppError('wrong-sign-in');
    await giveBack();
    return { headers: null, next: { step: 'password', token } };
  }

  /** The cookies of a new session, by a code of the second step. Throws `wrong-code`, `sign-in-again`, `too-many-tries`. */
  async function enterByCode(request: FastifyRequest, code: string): Promise<string[]> {
    const name = CHALLENGE_COOKIES.find((one) => request.cookies[one]) ?? '';
    const cookie = request.cookies[name];
    const personId = await challengedPerson(db, cookie, now());
    if (!personId) throw new AppError('sign-in-again');
    const giveBack = await countCode(rateLimits, personId, code, request.ip);
    const headers = headersOf(request);
    // Only the challenge counts: whoever else is signed in here goes.
    headers.set('cookie', `${name}=${encodeURIComponent(cookie!)}`);
    const asked = { body: { code }, headers, returnHeaders: true } as const;
    const entered = await unlessRefused(
      /^\d{6}$/u.test(code) ? accounts.api.verifyTOTP(asked) : accounts.api.verifyBackupCode(asked),
    );
    if (!entered) throw new AppError('wrong-code');
    await giveBack();
    return entered.headers.getSetCookie();
  }

  /** The cookies of a new session, by a passkey. Throws `wrong-passkey`, `too-many-tries`. */
  async function enterByPasskey(request: FastifyRequest, answer: PasskeyAnswer): Promise<string[]> {
    const passkey = await knownPasskey(app.services, answer);
    // Nobody guesses what a passkey is called: only what might be in order counts.
    if (!passkey) throw new AppError('wrong-passkey');
    const giveBack = await countAttempt(rateLimits, `passkey ${passkey.id}`, request.ip);
    const fresh = await isFresh(rateLimits, `passkey ${answeredChallenge(answer)}`);
    if (!fresh || !(await hasAnswered(app.services, passkey, answer)))
      throw new AppError('wrong-passkey');
    await giveBack();
    const headers = headersOf(request);
    // Whoever else is signed in here goes.
    headers.delete('cookie');
    const entered = await accounts.api.enter({
      body: { personId: passkey.userId },
      headers,
      returnHeaders: true,
    });
    return entered.headers.getSetCookie();
  }
}

function shown({ id, name, kind, language, schoolId, schoolName, timeZone, sample }: SignedIn) {
  return { id, name, kind, language, school: { id: schoolId, name: schoolName, timeZone, sample } };
}
