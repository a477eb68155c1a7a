import { SAMPLE_PASSWORD, SAMPLE_SIGN_INS } from '@sammlung/demo/sign-ins';
import { and, eq, inArray, isNull, sql } from 'drizzle-orm';
import type { Queries } from '../../db/database.ts';
import { credentials, people, schools } from '../../db/schema/index.ts';
import type { Services } from '../../services.ts';
import { mailLanguage } from '../../domain/people.ts';
import { PROVIDER } from '../../platform/outside.ts';
import { mayEnter } from '../../platform/sessions.ts';

type Needs = Pick<Services, 'db' | 'settings'>;

/** The sign-ins that the sample school offers; none where it is not loaded. */
export async function sampleSignIns({ db, settings }: Needs) {
  if (!settings.sample) return [];
  const offered = SAMPLE_SIGN_INS.map((s) => s.email);
  const found = await db
    .select({ name: people.name, kind: people.kind, email: people.email })
    .from(people)
    .innerJoin(schools, and(eq(schools.id, people.schoolId), eq(schools.sample, true)))
    .where(inArray(people.email, offered));
  return SAMPLE_SIGN_INS.flatMap(({ email, about }) => {
    const person = found.find((p) => p.email === email);
    return person
      ? [{ name: person.name, kind: person.kind, about, email, password: SAMPLE_PASSWORD }]
      : [];
  });
}

/** How many people may share a sign-in name: one a school. */
const NAMESAKES = 20;

/**
 * What better-auth may know somebody by who gives this address or sign-in name. Sign-in names are unique within a
 * school, so that there can be several. One that nobody has gives itself: wrong answers all take as long.
 */
export async function signInKeys({ db, settings }: Needs, given: string): Promise<string[]> {
  const found = await db
    .select({ key: people.signInKey })
    .from(people)
    .innerJoin(schools, eq(schools.id, people.schoolId))
    .where(
      and(
        given.includes('@')
          ? sql`lower(${people.email}) = ${given.toLowerCase()}`
          : sql`lower(${people.signInName}) = ${given.toLowerCase()} and ${people.email} is null`,
        isNull(people.deactivatedAt),
        mayEnter(settings),
        // Where all others sign in outside, the office can still come in when that fails.
        settings.passwords === 'office' ? eq(people.kind, 'office') : undefined,
      ),
    )
    .limit(NAMESAKES);
  const keys = found.flatMap(({ key }) => key ?? []);
  return keys.length > 0 ? keys : ['nobody@sign-in.invalid'];
}

/** Who has this address and may sign in; null where nobody does. */
export async function personByEmail(
  db: Queries,
  settings: Pick<Needs['settings'], 'sample'>,
  email: string,
) {
  const [found] = await db
    .select({
      id: people.id,
      schoolId: people.schoolId,
      school: schools.name,
      language: mailLanguage(sql`people`),
    })
    .from(people)
    .innerJoin(schools, eq(schools.id, people.schoolId))
    .where(
      and(
        sql`lower(${people.email}) = ${email.toLowerCase()}`,
        isNull(people.deactivatedAt),
        mayEnter(settings),
      ),
    );
  return found ?? null;
}

/** Whose this account at a provider is, and whether they may sign in; null where it is nobody’s. */
export async function personBySubject(
  db: Queries,
  settings: Pick<Needs['settings'], 'sample'>,
  accountId: string,
) {
  const [found] = await db
    .select({
      key: sql<string>`${people.signInKey}`,
      name: people.name,
      enters: sql<boolean>`${people.deactivatedAt} is null and ${mayEnter(settings) ?? sql`true`}`,
    })
    .from(credentials)
    .innerJoin(people, eq(people.id, credentials.userId))
    .innerJoin(schools, eq(schools.id, people.schoolId))
    .where(and(eq(credentials.providerId, PROVIDER), eq(credentials.accountId, accountId)));
  return found ?? null;
}
