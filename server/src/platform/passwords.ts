import { randomBytes } from 'node:crypto';
import { APIError } from 'better-auth/api';
import { and, eq, sql } from 'drizzle-orm';
import type { Queries } from '../db/database.ts';
import { credentials, people, sessions, verifications } from '../db/schema/index.ts';
import type { Accounts } from './accounts.ts';
import { AppError } from './errors.ts';

const HOUR_MS = 3_600_000;

/** How long a token for setting a password lives: one asked for, of an invitation, and for a start word. */
export const LINK_HOURS = { password: 2, invitation: 14 * 24, start: 1 };

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

/** Sets a password by a token from a mail, and ends all sessions of the person. Throws `link-used`. */
export async function setPasswordBy(
  { db, accounts }: { db: Queries; accounts: Accounts },
  token: string,
  password: string,
): Promise<void> {
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
  await db.update(credentials).set({ startWord: false }).where(eq(credentials.userId, known.value));
  await db.delete(sessions).where(eq(sessions.userId, known.value));
}

/**
 * Somebody who has signed in with the word of a slip has no session yet: they get a token to choose a password with.
 * Null for everybody else.
 */
export async function tokenForStart(
  db: Queries,
  signInKey: string,
  t: number,
): Promise<string | null> {
  const [found] = await db
    .select({ id: people.id })
    .from(credentials)
    .innerJoin(people, eq(people.id, credentials.userId))
    .where(and(eq(people.signInKey, signInKey), eq(credentials.startWord, true)));
  if (!found) return null;
  await db.delete(sessions).where(eq(sessions.userId, found.id));
  return passwordToken(db, found.id, 'start', t);
}

/** Sets passwords by their hashes, for people who get them printed; their sessions end. */
export async function setStartPasswords(
  db: Queries,
  passwords: readonly { personId: string; hash: string }[],
): Promise<void> {
  for (const { personId, hash } of passwords) {
    const changed = await db
      .update(credentials)
      .set({ password: hash, startWord: true })
      .where(
        sql`${credentials.userId} = ${personId}::uuid and ${credentials.providerId} = 'credential'`,
      )
      .returning({ id: credentials.id });
    if (changed.length === 0)
      await db.insert(credentials).values({
        userId: personId,
        accountId: personId,
        providerId: 'credential',
        password: hash,
        startWord: true,
      });
    await db.delete(sessions).where(eq(sessions.userId, personId));
  }
}
