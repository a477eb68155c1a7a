import type { CoverNote, Noted, SentNotes } from '@sammlung/contract';
import { and, eq, isNull, sql } from 'drizzle-orm';
import { at, rows } from '../../db/database.ts';
import { grants } from '../../db/schema/index.ts';
import { handingsBehind } from '../../platform/access/handings.ts';
import { Rights } from '../../platform/access/rights.ts';
import { queueNote } from '../../platform/cover-notes.ts';
import { AppError } from '../../platform/errors.ts';
import type { Services } from '../../platform/services.ts';
import type { SignedIn } from '../../platform/sessions.ts';

type Needs = Pick<Services, 'db' | 'now' | 'post'>;

const SHOWN = 30;

/** Sends a note to those to whom something has been handed out. */
export async function sendNote(
  { db, now, post }: Needs,
  person: SignedIn,
  grantId: string,
  note: CoverNote,
): Promise<Noted> {
  const t = now();
  const people = await db.transaction(async (tx) => {
    await handingsBehind(new Rights(tx, person, t), [grantId]);
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

/** The newest notes of a person, with what has become of their mails. */
export async function sentNotes({ db }: Needs, person: SignedIn): Promise<SentNotes> {
  const found = await rows<
    Omit<SentNotes['notes'][number], 'failed'> & {
      failed: SentNotes['notes'][number]['failed'] | null;
    }
  >(
    db,
    sql`select n.id, coalesce(f.title, i.title) as title, coalesce(c.code, k.title, p.name, '') as audience, n.body,
        to_char(n.created_at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') as "sentAt",
        count(m.id) filter (where m.state = 'sent')::int as sent, count(m.id) filter (where m.state = 'waiting')::int as waiting,
        max(m.fault) filter (where m.state = 'waiting') as trying,
        json_agg(json_build_object('name', q.name, 'fault', m.fault)) filter (where m.state = 'failed') as failed
      from notes n join grants g on g.id = n.grant_id
        left join folders f on f.id = g.folder_id left join items i on i.id = g.item_id
        left join classes c on c.id = g.class_id left join courses k on k.id = g.course_id left join people p on p.id = g.person_id
        left join mails m on m.note_id = n.id and m.person_id <> n.created_by left join people q on q.id = m.person_id
      where n.created_by = ${person.id}::uuid
      group by n.id, f.title, i.title, c.code, k.title, p.name
      order by n.created_at desc limit ${SHOWN}`,
  );
  return { notes: found.map((n) => ({ ...n, failed: n.failed ?? [] })) };
}

/** Tries the mails of a note once more that did not arrive. */
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
