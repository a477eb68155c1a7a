import type { CoverNote, Noted } from '@sammlung/contract';
import { decidableGrants, grantById } from '../../domain/grants.ts';
import { Rights } from '../../domain/access/rights.ts';
import { queueNote, sendFailedAgain } from '../../domain/notes.ts';
import { AppError } from '../../platform/errors.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';

type Needs = Pick<Services, 'db' | 'now' | 'post'>;

/** Sends a note to those to whom something has been handed out. */
export async function sendNote(
  { db, now, post }: Needs,
  person: SignedIn,
  grantId: string,
  note: CoverNote,
): Promise<Noted> {
  const t = now();
  const people = await db.transaction(async (tx) => {
    await decidableGrants(new Rights(tx, person, t), [grantId]);
    if (!(await grantById(tx, grantId))) throw new AppError('not-found');
    return queueNote(post, tx, person, [grantId], note, t);
  });
  await post.soon();
  return { people };
}

/** RateLimits the mails of a note once more that did not arrive. */
export async function sendAgain({ db, now, post }: Needs, person: SignedIn, noteId: string) {
  if (!(await sendFailedAgain(db, noteId, person.id, now()))) throw new AppError('not-found');
  await post.soon();
}
