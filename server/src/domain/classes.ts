import type { Colour } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import { at, rows, type Queries } from '../db/database.ts';
import { isActive } from './people.ts';
import { inSpan } from './spans.ts';

/** The classes of a teacher in years that are open, with how many belong to each at `t`. */
export function classesTaught(db: Queries, teacherId: string, t: number) {
  return rows<{
    id: string;
    code: string;
    colour: Colour;
    course: string;
    courseId: string;
    yearId: string;
    /** Calendar year its school year begins in. */
    year: number;
    students: number;
  }>(
    db,
    sql`select c.id, c.code, c.colour, k.title as course, k.id as "courseId", y.id as "yearId", extract(year from y.first_day)::int as year, (
          select count(distinct m.person_id)::int from memberships m where m.class_id = c.id
            and ${inSpan(sql`m`, at(t))} and ${isActive(sql`m.person_id`)}) as students
      from course_teachers ct join courses k on k.id = ct.course_id join years y on y.id = k.year_id
        join classes c on c.course_id = k.id
      where ct.person_id = ${teacherId}::uuid and y.closed_at is null and c.removed_at is null
      order by k.title collate natural_order, c.code collate natural_order`,
  );
}
