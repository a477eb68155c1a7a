import { randomInt } from 'node:crypto';
import { PASSWORD_LENGTH } from '@sammlung/core';
import { hash, verify } from '@node-rs/argon2';
import { betterAuth, type BetterAuthOptions, type BetterAuthPlugin } from 'better-auth';
import { drizzleAdapter } from 'better-auth/adapters/drizzle';
import { twoFactor } from 'better-auth/plugins/two-factor';
import { APIError, createAuthEndpoint } from 'better-auth/api';
import { setSessionCookie } from 'better-auth/cookies';
import type { FastifyRequest } from 'fastify';
import { z } from 'zod';
import type { Database } from '../db/database.ts';
import { AppError } from './errors.ts';
import { credentials, people, sessions, twoFactors, verifications } from '../db/schema/index.ts';

export const SESSION_COOKIE = 'sammlung.session_token';
/** What tells, between the two steps of signing in, that the password was right. */
export const CHALLENGE_COOKIES = ['sammlung.two_factor', '__Secure-sammlung.two_factor'] as const;
const DAYS = 24 * 60 * 60;

/** What everything by better-auth has in common: our own tables, sessions, and their cookies. */
export const accountOptions = (db: Database, secret: string, address: string) =>
  ({
    secret,
    baseURL: address,
    database: drizzleAdapter(db, {
      provider: 'pg',
      schema: {
        user: people,
        session: sessions,
        account: credentials,
        verification: verifications,
        twoFactor: twoFactors,
      },
    }),
    user: {
      // Whoever has no mail address signs in by a name: both are in this column.
      fields: { email: 'signInKey' },
      additionalFields: {
        schoolId: { type: 'string', required: true },
        kind: { type: 'string', required: true },
      },
    },
    session: { expiresIn: 14 * DAYS, disableSessionRefresh: true },
    advanced: {
      cookiePrefix: 'sammlung',
      useSecureCookies: address.startsWith('https:'),
      database: { generateId: false },
    },
    // Wrong passwords are counted by the session feature, per person and not per school network.
    rateLimit: { enabled: false },
    appName: 'Sammlung',
    telemetry: { enabled: false },
    logger: { level: 'error' },
  }) as const satisfies BetterAuthOptions;

/** Accounts, passwords (Argon2id) and sessions by better-auth. */
export function accounts(db: Database, secret: string, address: string) {
  return betterAuth({
    ...accountOptions(db, secret, address),
    emailAndPassword: {
      enabled: true,
      disableSignUp: true,
      minPasswordLength: PASSWORD_LENGTH,
      maxPasswordLength: 256,
      password: {
        hash: (password) => hash(password),
        verify: ({ hash: known, password }) => verify(known, password),
      },
    },
    plugins: [
      enter,
      twoFactor({
        backupCodeOptions: {
          customBackupCodesGenerate: () => Array.from({ length: 10 }, newRecoveryCode),
        },
      }),
    ],
  });
}

/** A session for somebody who has shown who they are by something else than a password: nobody asks for it but our own code. */
const enter = {
  id: 'enter',
  endpoints: {
    enter: createAuthEndpoint(
      '/enter',
      {
        method: 'POST',
        body: z.object({ personId: z.string() }),
        metadata: { SERVER_ONLY: true },
      },
      async (ctx) => {
        const { internalAdapter } = ctx.context;
        const user = await internalAdapter.findUserById(ctx.body.personId);
        if (!user) throw new Error('A session for nobody');
        const session = await internalAdapter.createSession(user.id);
        await setSessionCookie(ctx, { session, user });
      },
    ),
  },
} satisfies BetterAuthPlugin;

/** Without what can be taken for something else: 49 bits. */
const LETTERS = 'abcdefghjkmnpqrstuvwxyz23456789';
const newRecoveryCode = (): string =>
  Array.from({ length: 10 }, () => LETTERS[randomInt(LETTERS.length)]).join('');

/** What better-auth is told of a request. */
export function headersOf(request: FastifyRequest): Headers {
  const headers = new Headers();
  for (const name of ['cookie', 'user-agent', 'origin', 'host'])
    if (typeof request.headers[name] === 'string') headers.set(name, request.headers[name]);
  headers.set('x-forwarded-for', request.ip);
  return headers;
}

/** What better-auth answers; null where it refuses. Throws what is not a refusal, and `too-many-tries`. */
export async function unlessRefused<T>(answer: Promise<T>): Promise<T | null> {
  try {
    return await answer;
  } catch (error) {
    if (!(error instanceof APIError) || error.statusCode >= 500) throw error;
    if (error.statusCode === 429) throw new AppError('too-many-tries');
    return null;
  }
}
export type Accounts = ReturnType<typeof accounts>;
