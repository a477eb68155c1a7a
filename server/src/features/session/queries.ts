import { SAMPLE_PASSWORD, SAMPLE_SIGN_INS } from '@sammlung/demo';
import { and, eq, inArray } from 'drizzle-orm';
import type { Database } from '../../db/database.ts';
import { people, schools } from '../../db/schema/index.ts';

/** The sign-ins that the sample school offers; none where it is not loaded. */
export async function sampleSignIns(db: Database) {
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
