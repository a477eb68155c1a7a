import type { SentNote } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import { iso, rows, type Queries } from '../db/database.ts';

const SHOWN = 30;

/**
 * The newest notes of a person, with what has become of their mails. Where a school does not name who has opened what, nobody is told by name
 * that they have not.
 */
export async function sentNotes(db: Queries, personId: string): Promise<SentNote[]> {
  const found = await rows<Omit<SentNote, 'failed'> & { failed: SentNote['failed'] | null }>(
    db,
    sql`select n.id, coalesce(f.title, i.title) as title, coalesce(c.code, k.title, p.name, '') as audience, n.item_id is not null as reminder, n.body,
        ${iso(sql`n.created_at`)} as "sentAt",
        count(m.id) filter (where m.state = 'sent')::int as sent, count(m.id) filter (where m.state = 'waiting')::int as waiting,
        max(m.fault) filter (where m.state = 'waiting') as trying,
        json_agg(json_build_object('name', case when n.item_id is null or s.reach = 'names' then q.name else '' end, 'fault', m.fault))
          filter (where m.state = 'failed') as failed
      from notes n join schools s on s.id = n.school_id left join grants g on g.id = n.grant_id
        left join folders f on f.id = g.folder_id left join items i on i.id = coalesce(g.item_id, n.item_id)
        left join classes c on c.id = g.class_id left join courses k on k.id = g.course_id left join people p on p.id = g.person_id
        left join mails m on m.note_id = n.id and m.person_id <> n.created_by left join people q on q.id = m.person_id
      where n.created_by = ${personId}::uuid
      group by n.id, f.title, i.title, c.code, k.title, p.name
      order by n.created_at desc limit ${SHOWN}`,
  );
  return found.map((n) => ({ ...n, failed: n.failed ?? [] }));
}
