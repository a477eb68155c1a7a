import type { Erasure } from '@sammlung/contract';
import type { Queries } from '../../db/database.ts';
import { sweep } from '../../domain/contents.ts';
import { erasePerson, erasureOf } from '../../domain/erase.ts';
import { lockTree } from '../../domain/folders.ts';
import { changesBy } from '../../domain/log.ts';
import { schoolFacts } from '../../domain/schools.ts';
import { AppError } from '../../platform/errors.ts';
import { forgetLinks } from '../../platform/passwords.ts';
import { requireOffice, type SignedIn } from '../../platform/sessions.ts';
import { TEXTS } from '../../platform/texts.ts';
import type { Services } from '../../services.ts';
import { lockPerson } from './queries.ts';

type Needs = Pick<Services, 'db' | 'now' | 'settings' | 'storage'>;

/** Somebody who cannot come in any more, locked, and what goes with them. Throws `still-active`. */
async function requireEnded(tx: Queries, office: SignedIn, id: string) {
  requireOffice(office);
  const person = await lockPerson(tx, office.schoolId, id);
  if (!person) throw new AppError('not-found');
  if (person.deactivatedAt === null) throw new AppError('still-active');
  const { entries, ...goes } = await erasureOf(tx, id);
  const first = person.kind !== 'student' && goes.folders + goes.items + entries > 0;
  return { ...goes, first, listed: person.externalId !== null };
}

/** What goes when somebody is erased, and what stays with whom. Throws `still-active`. */
export function erasure({ db }: Pick<Needs, 'db'>, office: SignedIn, id: string): Promise<Erasure> {
  return db.transaction((tx) => requireEnded(tx, office, id));
}

/** Erases somebody. Throws `still-active`, `things-first`. */
export async function erase(
  { db, now, settings, storage }: Needs,
  office: SignedIn,
  id: string,
): Promise<void> {
  const t = now();
  const hashes = await db.transaction(async (tx) => {
    await changesBy(tx, office, t);
    await lockTree(tx, id);
    const { first } = await requireEnded(tx, office, id);
    if (first) throw new AppError('things-first');
    const { language } = await schoolFacts(tx, office.schoolId);
    await forgetLinks(tx, id);
    return erasePerson(tx, id, TEXTS[language ?? settings.language].erased, t);
  });
  await sweep(db, storage, hashes);
}
