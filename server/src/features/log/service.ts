import { LOG_PAGE, type LOG_ROUTES } from '@sammlung/contract';
import { dayAfter, startOfDay } from '@sammlung/core';
import type { z } from 'zod';
import { forgetBefore } from '../../domain/log.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import { entriesFor } from './queries.ts';

type Needs = Pick<Services, 'db' | 'now'>;
type Query = z.infer<(typeof LOG_ROUTES)['GET /api/log']['query']>;

/** How long the log is kept, in milliseconds. */
const KEPT = 366 * 86_400_000;

const wordsIn = (text = '') => text.toLowerCase().split(/\s+/u).filter(Boolean);

/** Who changed what others see: for teachers of what is theirs, for the office of lists, roles and years. Throws `not-found` for students. */
export async function logFor(
  { db }: Pick<Needs, 'db'>,
  person: SignedIn,
  { thing, who, day, folder, after }: Query,
) {
  if (person.kind === 'student') throw new AppError('not-found');
  const dayFrom = (date: string) => startOfDay(date, person.timeZone);
  const found = await entriesFor(db, person, {
    ...{ thing: wordsIn(thing), who: wordsIn(who), folderId: folder ?? null, after: after ?? null },
    span: day === undefined ? null : { from: dayFrom(day), until: dayFrom(dayAfter(day, 1)) },
    limit: LOG_PAGE + 1,
  });
  const entries = found.slice(0, LOG_PAGE);
  return { entries, next: found.length > LOG_PAGE ? entries.at(-1)!.id : null };
}

/** Deletes what has been kept long enough. */
export async function forgetOld({ db, now }: Needs): Promise<void> {
  await forgetBefore(db, now() - KEPT);
}
