import type { TrayRules } from '@sammlung/contract';
import { CONFIDENTIAL_WORDS, DEFAULT_PATTERN, readWords } from '@sammlung/core';
import { eq } from 'drizzle-orm';
import type { Queries } from '../db/database.ts';
import { teacherSettings } from '../db/schema/index.ts';
import { AppError } from '../platform/errors.ts';
import type { SignedIn } from '../platform/sessions.ts';

/** What somebody who teaches has set once for all: nothing else writes it. */

async function settingsOf(db: Queries, personId: string) {
  const [found] = await db
    .select()
    .from(teacherSettings)
    .where(eq(teacherSettings.personId, personId));
  return found ?? null;
}

/** How somebody lays out folders for their classes. */
export interface LayoutSettings {
  readonly pattern: string;
  readonly purpose: string;
  readonly outline: string;
}

/** How a person laid out folders last; null for whoever never did. */
export async function layoutOf(db: Queries, personId: string): Promise<LayoutSettings | null> {
  const found = await settingsOf(db, personId);
  return found && { pattern: found.namingPattern, purpose: found.purpose, outline: found.outline };
}

/** Notes how a person laid out folders, to begin with it next time. */
export async function setLayout(
  tx: Queries,
  { id: personId, schoolId }: Pick<SignedIn, 'id' | 'schoolId'>,
  { pattern: namingPattern, purpose, outline }: LayoutSettings,
): Promise<void> {
  const set = { namingPattern, purpose, outline };
  await tx
    .insert(teacherSettings)
    .values({ schoolId, personId, ...set })
    .onConflictDoUpdate({ target: teacherSettings.personId, set });
}

/** The words that make a name look confidential to this person: their own, or those of the application. */
export async function confidentialWords(db: Queries, personId: string): Promise<readonly string[]> {
  const found = await settingsOf(db, personId);
  return found?.confidentialWords ? readWords(found.confidentialWords) : CONFIDENTIAL_WORDS;
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

/** When things of each kind go out, and how lessons are titled, as far as this person has set it. */
export async function trayRulesOf(db: Queries, personId: string): Promise<Partial<TrayRules>> {
  const found = await settingsOf(db, personId);
  return {
    ...(found?.titlePattern && { titlePattern: found.titlePattern }),
    ...(found?.goesOut ? { goesOut: found.goesOut as TrayRules['goesOut'] } : {}),
  };
}

/** Sets them. */
export async function setTrayRules(
  db: Queries,
  { id: personId, schoolId }: Pick<SignedIn, 'id' | 'schoolId'>,
  { titlePattern, goesOut }: TrayRules,
): Promise<void> {
  const set = { titlePattern, goesOut };
  await db
    .insert(teacherSettings)
    .values({ schoolId, personId, namingPattern: DEFAULT_PATTERN, ...set })
    .onConflictDoUpdate({ target: teacherSettings.personId, set });
}

/** What this person often writes about work that is handed in. */
export async function phrasesOf(db: Queries, personId: string): Promise<string[]> {
  return (await settingsOf(db, personId))?.phrases ?? [];
}

/** Sets it. */
export async function setPhrases(
  db: Queries,
  { id: personId, schoolId }: Pick<SignedIn, 'id' | 'schoolId'>,
  wanted: readonly string[],
): Promise<void> {
  const set = { phrases: [...wanted] };
  await db
    .insert(teacherSettings)
    .values({ schoolId, personId, namingPattern: DEFAULT_PATTERN, ...set })
    .onConflictDoUpdate({ target: teacherSettings.personId, set });
}
