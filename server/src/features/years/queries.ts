import type { Colour, YearClosing, YearRow } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import { at, iso, rows, type Queries } from '../../db/database.ts';
import { inSpan } from '../../domain/spans.ts';

/** The classes `c` of year `y` that are there. */
const CLASSES = sql`classes c join courses k on k.id = c.course_id and k.removed_at is null
  where c.year_id = y.id and c.removed_at is null`;

/** The years of a school with how many classes and students they have, the newest first. */
export function yearsOf(db: Queries, schoolId: string, t: number): Promise<YearRow[]> {
  return rows<YearRow & Record<string, unknown>>(
    db,
    sql`select y.id, y.label, y.first_day as "firstDay", y.last_day as "lastDay", ${iso(sql`y.closed_at`)} as "closedAt",
        (select count(*)::int from ${CLASSES}) as classes,
        (select count(distinct m.person_id)::int from memberships m join people p on p.id = m.person_id and p.deactivated_at is null
          where m.class_id in (select c.id from ${CLASSES}) and ${inSpan(sql`m`, sql`least(y.closed_at, ${at(t)})`)}) as students
      from years y where y.school_id = ${schoolId}::uuid order by y.first_day desc, y.label desc`,
  );
}

/** The courses of a year with their teachers who may come in, and their classes. */
export function coursesOfYear(db: Queries, yearId: string) {
  return rows<{
    id: string;
    title: string;
    colour: Colour;
    teachers: { id: string; name: string }[];
    classes: { id: string; code: string; colour: Colour; language: 'en' | 'de' | null }[];
  }>(
    db,
    sql`select k.id, k.title, k.colour, coalesce((
          select json_agg(json_build_object('id', p.id, 'name', p.name) order by p.name) from course_teachers x
            join people p on p.id = x.person_id and p.deactivated_at is null where x.course_id = k.id), '[]') as teachers,
        coalesce((select json_agg(json_build_object('id', c.id, 'code', c.code, 'colour', c.colour, 'language', c.language)
            order by c.code collate natural_order) from classes c where c.course_id = k.id and c.removed_at is null), '[]') as classes
      from courses k where k.year_id = ${yearId}::uuid and k.removed_at is null
      order by k.title collate natural_order, k.id`,
  );
}

/** What the classes of a year have at `t`. */
export async function closingOf(db: Queries, yearId: string, t: number): Promise<YearClosing> {
  const [found] = await rows<YearClosing & Record<string, unknown>>(
    db,
    sql`with here as materialized (
        select c.id, c.course_id from years y, ${CLASSES} and y.id = ${yearId}::uuid)
      select (select count(*)::int from here) as classes,
        (select count(distinct m.person_id)::int from memberships m join people p on p.id = m.person_id and p.deactivated_at is null
          where m.class_id in (select id from here) and ${inSpan(sql`m`, at(t))}) as students,
        (select count(distinct coalesce(g.folder_id, g.item_id))::int from grants g
          where g.taken_back_at is null and ${inSpan(sql`g`, at(t))}
            and (g.class_id in (select id from here) or g.course_id in (select course_id from here))) as things,
        (select count(*)::int from boxes b where b.class_id in (select id from here)
          and b.closed_at is null and b.removed_at is null and (b.ends_at is null or b.takes_late or b.ends_at > ${at(t)})) as boxes`,
  );
  return found!;
}

/** A year of a school, locked until the transaction ends; null where there is none. */
export async function lockYear(tx: Queries, schoolId: string, id: string) {
  const [found] = await rows<{ id: string; closed: boolean }>(
    tx,
    sql`select id, closed_at is not null as closed from years where id = ${id}::uuid and school_id = ${schoolId}::uuid for update`,
  );
  return found ?? null;
}
