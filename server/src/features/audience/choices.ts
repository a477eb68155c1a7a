import type { AudienceChoices } from '@sammlung/contract';
import { AppError } from '../../platform/errors.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { audiencesNamed } from './queries.ts';

/**
 * Whom a teacher can hand out to. Without words: their own classes and courses, staff and school. With words: classes,
 * courses and people of the school in whose names all the words stand.
 */
export async function audienceChoices(
  { db, now }: Pick<Services, 'db' | 'now'>,
  person: SignedIn,
  typed: string,
): Promise<AudienceChoices> {
  if (person.kind === 'student') throw new AppError('not-found');
  const found = await audiencesNamed(db, person, typed, now());
  return { audiences: found.map(({ rank: _rank, ...choice }) => choice) };
}
