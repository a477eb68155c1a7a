import { CONFIDENTIAL_WORDS, DEFAULT_PATTERN, readWords } from '@sammlung/core';
import { eq } from 'drizzle-orm';
import type { Queries } from '../db/database.ts';
import { teacherSettings } from '../db/schema/index.ts';
import { AppError } from '../platform/errors.ts';
import type { SignedIn } from '../platform/sessions.ts';

/** The words that make a name look confidential to this person: their own, or those of the application. */
export async function confidentialWords(db: Queries, personId: string): Promise<readonly string[]> {
  const [found] = await db
    .select({ words: teacherSettings.confidentialWords })
    .from(teacherSettings)
    .where(eq(teacherSettings.personId, personId));
  return found?.words ? readWords(found.words) : CONFIDENTIAL_WORDS;
}

/** Another list for this person; an empty one stands for that of the application. For people who teach. */
export async function setConfidentialWords(
  db: Queries,
  person: SignedIn,
  words: readonly string[],
): Promise<void> {
  if (person.kind === 'student') throw new AppError('not-found');
  const confidentialWords = words.length === 0 ? null : words.join('\n');
  await db
    .insert(teacherSettings)
    .values({
      schoolId: person.schoolId,
      personId: person.id,
      namingPattern: DEFAULT_PATTERN,
      confidentialWords,
    })
    .onConflictDoUpdate({ target: teacherSettings.personId, set: { confidentialWords } });
}
