import { createHash, randomBytes } from 'node:crypto';
import { and, desc, eq, isNotNull, isNull, sql } from 'drizzle-orm';
import { at, rows, type Queries } from '../../db/database.ts';
import { tokens } from '../../db/schema/index.ts';
import { statement } from '../../db/statement.ts';
import { AppError } from '../../platform/errors.ts';
import { mayEnter, type SignedIn } from '../../platform/sessions.ts';
import type { Settings } from '../../settings.ts';

/** Passwords for programs: named, revocable, random. Nothing else writes their table, and nobody reads a password out of it. */

export type Token = typeof tokens.$inferSelect;

/** So many of them one person has at most. */
const MOST = 50;
/** One that was revoked can be brought back for so long, in milliseconds. */
const UNDO_MS = 10 * 60 * 1000;
/** It is noted at most so often that one was used, in milliseconds. */
const NOTED_MS = 60 * 60 * 1000;

/** Without letters and digits that are read for one another: they are typed on telephones and televisions, too. */
const LETTERS = 'abcdefghjkmnpqrstuvwxyz23456789';
const GROUPS = 6;
const GROUP = 5;

/** A password of 146 random bits in groups that can be typed: `k7m2p-…`. */
function newPassword(): string {
  const letters: string[] = [];
  while (letters.length < GROUPS * GROUP)
    for (const byte of randomBytes(64))
      // What would favour the first letters is left out.
      if (byte < 248 && letters.length < GROUPS * GROUP) letters.push(LETTERS[byte % 31]!);
  return Array.from({ length: GROUPS }, (_, n) =>
    letters.slice(n * GROUP, (n + 1) * GROUP).join(''),
  ).join('-');
}

/** As it is kept: it is random enough that a quick hash tells nothing. */
const hashOf = (password: string) => createHash('sha256').update(password).digest('hex');

const ofPerson = (personId: string) => and(eq(tokens.personId, personId), isNull(tokens.revokedAt));

/** The passwords of a person that hold, the newest first. */
export function tokensOf(db: Queries, personId: string): Promise<Token[]> {
  return db
    .select()
    .from(tokens)
    .where(ofPerson(personId))
    .orderBy(desc(tokens.createdAt), tokens.id);
}

/** Makes one. Resolves to it with its password, which is told this once. Throws `too-many-tokens`. */
export async function addToken(
  tx: Queries,
  person: SignedIn,
  { name, writes }: Pick<Token, 'name' | 'writes'>,
  t: number,
): Promise<{ token: Token; password: string }> {
  const { id: personId, schoolId } = person;
  await lockTokens(tx, personId);
  if ((await tokensOf(tx, personId)).length >= MOST) throw new AppError('too-many-tokens');
  const password = newPassword();
  const [token] = await tx
    .insert(tokens)
    .values({ schoolId, personId, name, writes, hash: hashOf(password), createdAt: new Date(t) })
    .returning();
  return { token: token!, password };
}

/** Programs that use it get in no more. Throws `not-found`. */
export async function revokeToken(db: Queries, personId: string, id: string, t: number) {
  const revoked = await db
    .update(tokens)
    .set({ revokedAt: new Date(t) })
    .where(and(ofPerson(personId), eq(tokens.id, id)))
    .returning({ id: tokens.id });
  if (revoked.length === 0) throw new AppError('not-found');
}

/** Brings one back that was revoked a moment ago. Throws `not-found`, `changed-since`, `too-many-tokens`. */
export async function restoreToken(tx: Queries, personId: string, id: string, t: number) {
  await lockTokens(tx, personId);
  const [found] = await tx
    .select()
    .from(tokens)
    .where(and(eq(tokens.personId, personId), eq(tokens.id, id), isNotNull(tokens.revokedAt)));
  if (!found) throw new AppError('not-found');
  if (found.revokedAt!.getTime() < t - UNDO_MS) throw new AppError('changed-since');
  if ((await tokensOf(tx, personId)).length >= MOST) throw new AppError('too-many-tokens');
  await tx.update(tokens).set({ revokedAt: null }).where(eq(tokens.id, id));
}

async function lockTokens(tx: Queries, personId: string): Promise<void> {
  await tx.execute(
    sql`select pg_advisory_xact_lock(hashtextextended('tokens of ' || ${personId}::text, 0))`,
  );
}

/** Ends all of a person's: whoever changes their password wants nobody to come in by an older one. */
export async function revokeAllTokens(tx: Queries, personId: string): Promise<void> {
  await tx
    .update(tokens)
    .set({ revokedAt: sql`'epoch'` })
    .where(ofPerson(personId));
}

const byHash = (settings: Pick<Settings, 'sample'>) =>
  statement<
    SignedIn & { tokenId: string; writes: boolean; noted: boolean; [key: string]: unknown }
  >(
    () => sql`select p.id, p.name, p.kind, p.school_id as "schoolId", schools.name as "schoolName",
        schools.time_zone as "timeZone", schools.sample, p.language, '' as "sessionId",
        k.id as "tokenId", k.writes,
        coalesce(k.used_at > ${sql.placeholder('noted')}::timestamptz, false) as noted
      from tokens k join people p on p.id = k.person_id join schools on schools.id = p.school_id
      where k.hash = ${sql.placeholder('hash')}::text and k.revoked_at is null and p.deactivated_at is null and ${mayEnter(settings) ?? sql`true`}`,
  );

/** Whose a password is; null for one that is nobody's. Students never change anything by a program. */
export function tokenReader(settings: Pick<Settings, 'sample'>) {
  const find = byHash(settings);
  return async (
    db: Queries,
    password: string,
    t: number,
  ): Promise<{ person: SignedIn; writes: boolean } | null> => {
    const noted = new Date(t - NOTED_MS).toISOString();
    const [found] = await find(db, { hash: hashOf(password), noted });
    if (!found) return null;
    const { tokenId, writes, noted: known, ...person } = found;
    if (!known)
      await rows(db, sql`update tokens set used_at = ${at(t)} where id = ${tokenId}::uuid`);
    return { person, writes: writes && person.kind === 'teacher' };
  };
}
