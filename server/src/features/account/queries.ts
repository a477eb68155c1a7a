import { and, desc, eq, gt, isNull, sql } from 'drizzle-orm';
import type { Queries } from '../../db/database.ts';
import { people, schools, sessions } from '../../db/schema/index.ts';
import { mailLanguage } from '../../domain/people.ts';

/** A person with an account, and whether they sign in by a second step; null where there is none. */
export async function accountOf(db: Queries, personId: string) {
  const [found] = await db
    .select({
      name: people.name,
      email: people.email,
      signInName: people.signInName,
      secondStep: people.twoFactorEnabled,
      digest: people.digest,
    })
    .from(people)
    .where(eq(people.id, personId));
  return found!;
}

/** The sessions of a person that have not ended, the newest first. */
export function sessionsOf(db: Queries, personId: string, t: number) {
  return db
    .select({
      id: sessions.id,
      userAgent: sessions.userAgent,
      since: sessions.createdAt,
      until: sessions.expiresAt,
    })
    .from(sessions)
    .where(and(eq(sessions.userId, personId), gt(sessions.expiresAt, new Date(t))))
    .orderBy(desc(sessions.createdAt), desc(sessions.id));
}

/** A person who may confirm an address: they have not been deactivated. Null where there is none. */
export async function mayConfirm(tx: Queries, personId: string) {
  const [found] = await tx
    .select({
      id: people.id,
      name: people.name,
      email: people.email,
      schoolId: people.schoolId,
      school: schools.name,
      language: mailLanguage(sql`people`),
    })
    .from(people)
    .innerJoin(schools, eq(schools.id, people.schoolId))
    .where(and(eq(people.id, personId), isNull(people.deactivatedAt)));
  return found ?? null;
}
