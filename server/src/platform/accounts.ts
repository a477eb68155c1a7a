import { PASSWORD_LENGTH } from '@sammlung/core';
import { hash, verify } from '@node-rs/argon2';
import { betterAuth } from 'better-auth';
import { drizzleAdapter } from 'better-auth/adapters/drizzle';
import type { Database } from '../db/database.ts';
import { credentials, people, sessions, verifications } from '../db/schema/index.ts';

export const SESSION_COOKIE = 'sammlung.session_token';
const DAYS = 24 * 60 * 60;

/** Accounts, passwords (Argon2id) and sessions by better-auth, on our own tables. */
export function accounts(db: Database, secret: string, address: string) {
  return betterAuth({
    secret,
    baseURL: address,
    database: drizzleAdapter(db, {
      provider: 'pg',
      schema: {
        user: people,
        session: sessions,
        account: credentials,
        verification: verifications,
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
    session: { expiresIn: 14 * DAYS, disableSessionRefresh: true },
    advanced: {
      cookiePrefix: 'sammlung',
      useSecureCookies: address.startsWith('https:'),
      database: { generateId: false },
    },
    // Wrong passwords are counted by the session feature, per person and not per school network.
    rateLimit: { enabled: false },
    telemetry: { enabled: false },
    logger: { level: 'error' },
  });
}
export type Accounts = ReturnType<typeof accounts>;
