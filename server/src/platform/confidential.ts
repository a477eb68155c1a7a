import { CONFIDENTIAL_WORDS, readWords } from '@sammlung/core';
import { eq } from 'drizzle-orm';
import type { Queries } from '../db/database.ts';
import { teacherSettings } from '../db/schema/index.ts';

/** The words that make a name look confidential to this person: their own, or those of the application. */
export async function confidentialWords(db: Queries, personId: string): Promise<readonly string[]> {
  const [found] = await db
    .select({ words: teacherSettings.confidentialWords })
    .from(teacherSettings)
    .where(eq(teacherSettings.personId, personId));
  return found?.words == null ? CONFIDENTIAL_WORDS : readWords(found.words);
}
