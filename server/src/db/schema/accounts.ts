import {
  bigint,
  boolean,
  index,
  integer,
  pgTable,
  text,
  unique,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core';
import { createdAt, id, instant } from './columns.ts';
import { people } from './school.ts';

/** The tables of better-auth; its user is a row of `people`. */

export const sessions = pgTable(
  'sessions',
  {
    id: id(),
    userId: uuid()
      .notNull()
      .references(() => people.id, { onDelete: 'cascade' }),
    token: text().notNull().unique(),
    expiresAt: instant().notNull(),
    ipAddress: text(),
    userAgent: text(),
    createdAt: createdAt(),
    updatedAt: createdAt(),
  },
  (t) => [index().on(t.userId)],
);

/**
 * How people sign in. With the provider `start` it is the word of a printed slip: good for choosing a password, and
 * nothing else. better-auth does not know it, so that a slip never touches a password.
 */
export const credentials = pgTable(
  'credentials',
  {
    id: id(),
    userId: uuid()
      .notNull()
      .references(() => people.id, { onDelete: 'cascade' }),
    accountId: text().notNull(),
    providerId: text().notNull(),
    accessToken: text(),
    refreshToken: text(),
    accessTokenExpiresAt: instant(),
    refreshTokenExpiresAt: instant(),
    scope: text(),
    idToken: text(),
    password: text(),
    createdAt: createdAt(),
    updatedAt: createdAt(),
  },
  (t) => [index().on(t.userId), unique().on(t.providerId, t.accountId)],
);

/** Passkeys (WebAuthn): what somebody signs in with in place of a password and a code. The server has their public keys alone. */
export const passkeys = pgTable(
  'passkeys',
  {
    id: id(),
    userId: uuid()
      .notNull()
      .references(() => people.id, { onDelete: 'cascade' }),
    /** What its owner calls it. */
    name: text().notNull(),
    /** What it calls itself, and its key (COSE), both as base64url. */
    credentialId: text().notNull().unique(),
    publicKey: text().notNull(),
    /** How often it says it was used; some always say 0. */
    counter: bigint({ mode: 'number' }).notNull(),
    transports: text().array().notNull(),
    createdAt: createdAt(),
    usedAt: instant(),
  },
  (t) => [index().on(t.userId)],
);

export const verifications = pgTable(
  'verifications',
  {
    id: id(),
    identifier: text().notNull(),
    value: text().notNull(),
    expiresAt: instant().notNull(),
    createdAt: createdAt(),
    updatedAt: createdAt(),
  },
  (t) => [index().on(t.identifier), index().on(t.value)],
);

/** The second step of signing in (better-auth’s plugin): its secret and recovery codes, encrypted with the secret of the server. */
export const twoFactors = pgTable(
  'two_factors',
  {
    id: id(),
    userId: uuid()
      .notNull()
      .references(() => people.id, { onDelete: 'cascade' }),
    secret: text().notNull(),
    backupCodes: text().notNull(),
    /** Whether a first code has shown that the app has it. */
    verified: boolean().notNull().default(false),
    failedVerificationCount: integer().notNull().default(0),
    lockedUntil: instant(),
  },
  (t) => [uniqueIndex().on(t.userId)],
);

/** Counts of tries that several server processes share (rate-limiter-flexible). */
export const rateLimits = pgTable('rate_limits', {
  key: text().primaryKey(),
  points: integer().notNull().default(0),
  expire: bigint({ mode: 'number' }),
});
