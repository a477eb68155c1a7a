import type { Thing } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import { rows, type Queries } from '../../db/database.ts';

/** The classes to which the thing, or something above it, is handed out: by themselves or through their course. */
export async function classesHandedTo(
  db: Queries,
  { kind, id }: Thing,
): Promise<ReadonlySet<string>> {
  const found = await rows<{ id: string }>(
    db,
    sql`select c.id from grants g join classes c on c.id = g.class_id or c.course_id = g.course_id
      where g.taken_back_at is null and (
        g.folder_id in (
          select unnest(f.path) from folders f where f.id = ${
            kind === 'folder'
              ? sql`${id}::uuid`
              : sql`(select folder_id from placements where id = ${id}::uuid)`
          })
        or g.item_id = (select item_id from placements where id = ${id}::uuid))`,
  );
  return new Set(found.map((c) => c.id));
}
