import { createHash, randomBytes } from 'node:crypto';
import { APIError } from 'better-auth/api';
import { verify } from '@node-rs/argon2';
import { and, eq, gt, inArray, like, lte, ne, sql } from 'drizzle-orm';
import type { Queries } from '../db/database.ts';
import { PROVIDER } from './outside.ts';
import { credentials, people, sessions, twoFactors, verifications } from '../db/schema/index.ts';
import type { Accounts } from './accounts.ts';
import { AppError } from './errors.ts';
import { newToken } from './tokens.ts';

const HOUR_MS = 3_600_000;

/** How long a token lives: for setting a password, one asked for, of an invitation, and for a start word; and for a new address. */
export const LINK_HOURS = { password: 2, invitation: 14 * 24, start: 1, email: 24 };

/** better-auth's name for a token that lets a password be set. */
const identifier = (token: string) => `reset-password:${token}`;

/** A token that lets this person set a password once, until it is too old. */
export async function passwordToken(
  db: Queries,
  personId: string,
  kind: keyof typeof LINK_HOURS,
  t: number,
): Promise<string> {
  const token = randomBytes(24).toString('base64url');
  await db.insert(verifications).values({
    identifier: identifier(token),
    value: personId,
    expiresAt: new Date(t + LINK_HOURS[kind] * HOUR_MS),
  });
  return token;
}

/** Gives the token of an invitation its whole time when its mail goes out: it may have waited. Other paths have none. */
export async function renewToken(db: Queries, path: string, t: number): Promise<void> {
  const token = /^\/password\/([\w-]+)/u.exec(path)?.[1];
  if (!token) return;
  await db
    .update(verifications)
    .set({ expiresAt: new Date(t + LINK_HOURS.invitation * HOUR_MS) })
    .where(eq(verifications.identifier, identifier(token)));
}

/**
 * Sets a password by a token from a mail or slip. Whatever else was good for setting one is good for nothing from then
 * on, and all sessions of the person end. Resolves to their id. Throws `link-used`.
 */
export async function setPasswordBy(
  { db, accounts }: { db: Queries; accounts: Accounts },
  token: string,
  password: string,
): Promise<string> {
  const [known] = await db
    .select()
    .from(verifications)
    .where(eq(verifications.identifier, identifier(token)));
  if (!known) throw new AppError('link-used');
  try {
    await accounts.api.resetPassword({ body: { newPassword: password, token } });
  } catch (error) {
    if (error instanceof APIError && error.statusCode < 500) throw new AppError('link-used');
    throw error;
  }
  const personId = known.value;
  await db.delete(credentials).where(and(eq(credentials.userId, personId), isFirstPassword));
  await endSessions(db, personId);
  return personId;
}

/** Ends all sessions of a person, and whatever they could set a password or another address with. */
export async function endSessions(tx: Queries, personId: string): Promise<void> {
  await forgetLinks(tx, personId);
  await tx.delete(sessions).where(eq(sessions.userId, personId));
}

/** What was mailed to a person to set a password or another address with is good for nothing any more. */
export async function forgetLinks(tx: Queries, personId: string): Promise<void> {
  await forgetTokens(tx, [personId]);
  await forgetEmailTokens(tx, personId);
}

/** Ends all sessions of a person but one. */
export async function endOtherSessions(
  tx: Queries,
  personId: string,
  except: string,
): Promise<void> {
  await tx.delete(sessions).where(and(eq(sessions.userId, personId), ne(sessions.id, except)));
}

/** Ends a session of a person; resolves to whether there was one. */
export async function endSession(tx: Queries, personId: string, id: string): Promise<boolean> {
  const ended = await tx
    .delete(sessions)
    .where(and(eq(sessions.userId, personId), eq(sessions.id, id)))
    .returning({ id: sessions.id });
  return ended.length > 0;
}

/** Who has given their password and is asked for a code, by the cookie of better-auth; null where that is over. */
export async function challengedPerson(
  db: Queries,
  cookie: string | undefined,
  t: number,
): Promise<string | null> {
  if (!cookie) return null;
  const [found] = await db
    .select({ personId: verifications.value })
    .from(verifications)
    .where(
      and(
        eq(verifications.identifier, cookie.slice(0, cookie.lastIndexOf('.'))),
        gt(verifications.expiresAt, new Date(t)),
      ),
    );
  return found?.personId ?? null;
}

/** Turns off a person’s second step. */
export async function forgetSecondStep(tx: Queries, personId: string): Promise<void> {
  await tx.delete(twoFactors).where(eq(twoFactors.userId, personId));
}

/** Only the hash of the token is kept; the address stands behind it. */
const emailIdentifier = (token: string, email: string) =>
  `email:${createHash('sha256').update(token).digest('base64url')}:${email}`;
const isEmailToken = like(verifications.identifier, 'email:%');
const emailIn = (identifier: string) => identifier.split(':').slice(2).join(':');

/** A token by which this address becomes that of a person, once and until it is too old. One from before is good for nothing any more. */
export async function emailToken(
  tx: Queries,
  personId: string,
  email: string,
  t: number,
): Promise<string> {
  await forgetEmailTokens(tx, personId);
  const token = newToken();
  await tx.insert(verifications).values({
    identifier: emailIdentifier(token, email),
    value: personId,
    expiresAt: new Date(t + LINK_HOURS.email * HOUR_MS),
  });
  return token;
}

/** Whose address a token makes which; null where it is good for nothing. Nobody else has it from then on. */
export async function takeEmailToken(
  tx: Queries,
  token: string,
  t: number,
): Promise<{ personId: string; email: string } | null> {
  const [found] = await tx
    .delete(verifications)
    .where(
      and(
        sql`starts_with(${verifications.identifier}, ${emailIdentifier(token, '')})`,
        gt(verifications.expiresAt, new Date(t)),
      ),
    )
    .returning();
  return found ? { personId: found.value, email: emailIn(found.identifier) } : null;
}

/** The address that waits to be confirmed by a person; null where none does. */
export async function newEmailOf(db: Queries, personId: string, t: number): Promise<string | null> {
  const [found] = await db
    .select({ identifier: verifications.identifier })
    .from(verifications)
    .where(
      and(
        isEmailToken,
        eq(verifications.value, personId),
        gt(verifications.expiresAt, new Date(t)),
      ),
    );
  return found ? emailIn(found.identifier) : null;
}

/** An address that waits to be confirmed waits no more. */
export async function forgetEmailTokens(db: Queries, personId: string): Promise<void> {
  await db.delete(verifications).where(and(isEmailToken, eq(verifications.value, personId)));
}

/** Gives somebody who has no password yet this one, by its hash. */
export async function setPassword(tx: Queries, personId: string, password: string): Promise<void> {
  await tx
    .insert(credentials)
    .values({ userId: personId, accountId: personId, providerId: 'credential', password });
}

/** Tokens with which these people could set a password are good for nothing any more. */
async function forgetTokens(db: Queries, personIds: readonly string[]): Promise<void> {
  await db
    .delete(verifications)
    .where(
      and(
        inArray(verifications.value, [...personIds]),
        like(verifications.identifier, identifier('%')),
      ),
    );
}

const START = 'start';
/**
 * Joins somebody to their account at a provider; false where they are joined to another account there already, or the account to somebody
 * else.
 */
export async function joinOutside(
  tx: Queries,
  personId: string,
  issuer: string,
  accountId: string,
): Promise<boolean> {
  // Two that come at the same time are one after the other.
  await tx.select({ id: people.id }).from(people).where(eq(people.id, personId)).for('update');
  const [other] = await tx
    .select({ id: credentials.id })
    .from(credentials)
    .where(
      and(
        eq(credentials.userId, personId),
        eq(credentials.providerId, PROVIDER),
        sql`starts_with(${credentials.accountId}, ${`${issuer} `})`,
      ),
    );
  if (other) return false;
  const made = await tx
    .insert(credentials)
    .values({ userId: personId, providerId: PROVIDER, accountId })
    .onConflictDoNothing()
    .returning({ id: credentials.id });
  return made.length > 0;
}

const isFirstPassword = eq(credentials.providerId, START);

/**
 * Whoever gives the word of their slip gets no session but a token to choose a password with; null for any other word.
 * `signInKeys`: what better-auth may know the person by.
 */
export async function tokenForFirstPassword(
  db: Queries,
  signInKeys: readonly string[],
  word: string,
  t: number,
): Promise<string | null> {
  const found = await db
    .select({ id: people.id, hash: credentials.password })
    .from(credentials)
    .innerJoin(people, eq(people.id, credentials.userId))
    .where(and(inArray(people.signInKey, [...signInKeys]), isFirstPassword));
  for (const { id, hash } of found)
    if (hash !== null && (await verify(hash, word))) return passwordToken(db, id, 'start', t);
  return null;
}

/**
 * Gives people the words of their slips, by their hashes. Words and tokens from before are good for nothing any more; a
 * password, and whoever has signed in with it, stays.
 */
export async function setFirstPasswords(
  db: Queries,
  words: readonly { personId: string; hash: string }[],
): Promise<void> {
  if (words.length === 0) return;
  const ids = words.map(({ personId }) => personId);
  await forgetTokens(db, ids);
  await db
    .insert(credentials)
    .values(
      words.map(({ personId, hash }) => ({
        userId: personId,
        accountId: personId,
        providerId: START,
        password: hash,
      })),
    )
    .onConflictDoUpdate({
      target: [credentials.providerId, credentials.accountId],
      set: { password: sql`excluded.password` },
    });
}

const BEGIN_HOURS = 24;
/** Only its hash is kept: whoever reads the database cannot begin a school by it. */
const beginIdentifier = (token: string) =>
  `begin:${createHash('sha256').update(token).digest('base64url')}`;
const isBeginToken = like(verifications.identifier, 'begin:%');

/** A token by which a school can begin, for a day. Those from before stay good: other processes have printed them. */
export async function beginToken(db: Queries, t: number): Promise<string> {
  const token = newToken();
  await db
    .delete(verifications)
    .where(and(isBeginToken, lte(verifications.expiresAt, new Date(t))));
  await db.insert(verifications).values({
    identifier: beginIdentifier(token),
    value: 'school',
    expiresAt: new Date(t + BEGIN_HOURS * HOUR_MS),
  });
  return token;
}

/** Until when such a token is good, in milliseconds; null where it is good for nothing. */
export async function beginUntil(db: Queries, token: string, t: number): Promise<number | null> {
  const [found] = await db
    .select({ expiresAt: verifications.expiresAt })
    .from(verifications)
    .where(eq(verifications.identifier, beginIdentifier(token)));
  const until = found?.expiresAt.getTime() ?? 0;
  return until > t ? until : null;
}

/** No school can begin by any token any more. */
export async function forgetBeginTokens(db: Queries): Promise<void> {
  await db.delete(verifications).where(isBeginToken);
}
