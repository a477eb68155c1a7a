import { sql } from 'drizzle-orm';
import { rows, type Queries } from '../db/database.ts';
import { handedToAudience } from './access/access-sql.ts';

/** The folder of a person, handed out to a class, in which something came last; null where there is none. */
export async function folderOfLastLesson(
  db: Queries,
  personId: string,
  { id: classId, courseId }: { id: string; courseId: string },
) {
  const [found] = await rows<{ id: string; title: string }>(
    db,
    sql`select f.id, f.title from folders f
        cross join lateral (select max(coalesce(i.lesson_date::timestamptz, p.added_at)) as at
          from placements p join items i on i.id = p.item_id where p.folder_id = f.id and p.binned_at is null) last
      where f.owner_id = ${personId}::uuid and f.binned_at is null and last.at is not null
        and (${handedToAudience(sql`f.path`, classId)} or ${handedToAudience(sql`f.path`, courseId)})
      order by last.at desc, f.id limit 1`,
  );
  return found ?? null;
}
