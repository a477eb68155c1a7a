import type { CoverNote, Noted } from '@sammlung/contract';
import { and, eq, isNull, sql } from 'drizzle-orm';
import { at, rows } from '../../db/database.ts';
import { grants } from '../../db/schema/index.ts';
import { decidableGrants } from '../../domain/grants.ts';
import { Rights } from '../../domain/access/rights.ts';
import { queueNote } from '../../domain/notes.ts';
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
    const [grant] = await tx
      .select()
      .from(grants)
      .where(and(eq(grants.id, grantId), isNull(grants.takenBackAt)));
    if (!grant) throw new AppError('not-found');
    return queueNote(post, tx, person, [grantId], note, t);
  });
  await post.soon();
  return { people };
}

/** RateLimits the mails of a note once more that did not arrive. */
export async function sendAgain({ db, now, post }: Needs, person: SignedIn, noteId: string) {
  const found = await rows(
    db,
    sql`with mine as (select id from notes where id = ${noteId}::uuid and created_by = ${person.id}::uuid),
      again as (update mails m set state = 'waiting', tries = 0, due_at = ${at(now())} from mine
        where m.note_id = mine.id and m.state = 'failed')
      select id from mine`,
  );
  if (found.length === 0) throw new AppError('not-found');
  await post.soon();
}
