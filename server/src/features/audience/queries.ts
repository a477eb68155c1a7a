import type { AudienceChoice } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import { at, rows, type Queries } from '../../db/database.ts';
import { active, isActive } from '../../domain/people.ts';
import { inSpan } from '../../domain/spans.ts';
import type { SignedIn } from '../../platform/sessions.ts';

const SHOWN = 30;

/** Titles of items that lie directly in a folder, with their placement. */
export function itemsDirectlyIn(db: Queries, folderId: string) {
  return rows<{ placementId: string; itemId: string; title: string }>(
    db,
    sql`select p.id as "placementId", i.id as "itemId", i.title
      from placements p join items i on i.id = p.item_id
      where p.folder_id = ${folderId}::uuid and p.binned_at is null order by i.title collate natural_order`,
  );
}

/** Audiences of a person's school in whose names all of what was typed is; without words, those that are their own. */
export async function audiencesNamed(
  db: Queries,
  person: SignedIn,
  typed: string,
  t: number,
): Promise<(AudienceChoice & { rank: number })[]> {
  const words = typed.toLowerCase().split(/\s+/u).filter(Boolean);
  const all = words.length > 0;
  const named = (name: ReturnType<typeof sql>) =>
    sql.join(
      [sql`true`, ...words.map((word) => sql`position(${word}::text in lower(${name})) > 0`)],
      sql` and `,
    );
  const here = inSpan(sql`m`, at(t));
  const taught = sql`exists (select from course_teachers t where t.course_id = k.id and t.person_id = ${person.id}::uuid)`;
  return rows<AudienceChoice & { rank: number }>(
    db,
    sql`select * from (
      select 0 as rank, 'class' as kind, c.id, c.code as label, c.colour, k.title as about,
        (select count(distinct m.person_id)::int from memberships m where m.class_id = c.id and ${here} and ${isActive(sql`m.person_id`)}) as people
      from classes c join courses k on k.id = c.course_id join years y on y.id = c.year_id
      where c.school_id = ${person.schoolId}::uuid and y.closed_at is null and c.removed_at is null
        and (${all} or ${taught}) and ${named(sql`c.code || ' ' || k.title`)}
      union all
      select 1, 'course', k.id, k.title, k.colour, '',
        (select count(distinct m.person_id)::int from memberships m join classes c on c.id = m.class_id
          where c.course_id = k.id and ${here} and ${isActive(sql`m.person_id`)})
      from courses k join years y on y.id = k.year_id
      where k.school_id = ${person.schoolId}::uuid and y.closed_at is null and k.removed_at is null
        and (${all} or ${taught}) and ${named(sql`k.title`)}
      union all
      select 2, 'person', p.id, p.name, null, p.kind::text, 1
      from people p where ${all} and p.school_id = ${person.schoolId}::uuid and p.id <> ${person.id}::uuid
        and ${active(sql`p`)} and ${named(sql`p.name`)}
      union all
      select 3, v.kind, s.id, '', null, '', (select count(*)::int from people p where p.school_id = s.id
        and p.id <> ${person.id}::uuid and ${active(sql`p`)} and (v.kind = 'school' or p.kind <> 'student'))
      from schools s, (values ('staff'), ('school')) v (kind) where not ${all} and s.id = ${person.schoolId}::uuid
    ) found order by rank, label collate natural_order limit ${all ? SHOWN : 500}`,
  );
}
