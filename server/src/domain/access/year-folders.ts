import type { YearFolder } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import { rows, type Queries } from '../../db/database.ts';

/** The folder `f` is not in the Bin, and nothing above it is. */
export const OUTSIDE_BIN = sql`f.binned_at is null and not exists (
  select from folders a where a.id = any (f.path) and a.binned_at is not null)`;

/**
 * The folders of a person’s library by year, topmost first: those that were set to it, and those that its classes have. `only`: such as no
 * other year, and nobody but classes, has.
 */
export function foldersOfYears(db: Queries, personId: string) {
  return rows<YearFolder & { yearId: string }>(
    db,
    sql`with mine as materialized (
        select f.id, f.path, f.title, f.mark, f.year_id, f.position from folders f
        where f.owner_id = ${personId}::uuid and ${OUTSIDE_BIN}),
      handed as materialized (
        select distinct g.folder_id, c.id as class_id, c.year_id from grants g
          join classes c on (c.id = g.class_id or c.course_id = g.course_id) and c.removed_at is null
        where g.folder_id in (select id from mine) and g.taken_back_at is null and g.appearance_id is null),
      of_year as materialized (
        select id, year_id from mine where year_id is not null union select folder_id, year_id from handed),
      top as materialized (
        select m.*, y.year_id as "of" from of_year y join mine m on m.id = y.id
        where not exists (select from of_year o where o.year_id = y.year_id and o.id <> m.id and o.id = any (m.path))),
      within as materialized (
        select t.id, t."of", f.id as below from top t join mine f on f.path @> array[t.id])
      select t.id, t.title, t.mark, t."of" as "yearId",
        coalesce((select json_agg(distinct h.class_id) from handed h join within w on w.below = h.folder_id
          where w.id = t.id and w."of" = t."of" and h.year_id = t."of"), '[]') as classes,
        (select count(*)::int - 1 from within w where w.id = t.id and w."of" = t."of") as folders,
        (select count(*)::int from placements p join within w on w.below = p.folder_id
          where w.id = t.id and w."of" = t."of" and p.binned_at is null) as things,
        not exists (select from of_year o join within w on w.below = o.id where w.id = t.id and w."of" = t."of" and o.year_id <> t."of")
          and not exists (select from handings_out h join within w on w.below = h.folder_id
            where w.id = t.id and w."of" = t."of" and h.audience_kind not in ('class', 'course')) as only
      from top t order by t.position, t.title collate natural_order, t.id`,
  );
}
