import { sql, type SQL } from 'drizzle-orm';
import { at, rows, type Queries } from '../db/database.ts';
import type { AccessParams } from './access/access-sql.ts';

/**
 * How long is kept who has opened what; after that only counts stay. What came in before that is not shown as new any
 * more, since nobody knows whether it has been opened.
 */
const KEPT = sql`interval '1 year'`;

/** Whether item `i`, which came at `since` to where it lies (`p`), has not been opened in the state it has now. */
export const notOpened = ({ me, t }: Pick<AccessParams, 'me' | 't'>, since: SQL): SQL => sql`(
  ${since} > ${t} - ${KEPT} and not exists (
    select from openings o where o.person_id = ${me} and o.placement_id = p.id
      and o.version_id is not distinct from i.current_version_id))`;

/** Makes counts of openings that are older than a year. Resolves to how many there were. */
export async function endOpenings(db: Queries, t: number): Promise<number> {
  const [found] = await rows<{ ended: number }>(
    db,
    sql`with ended as (delete from openings where at <= ${at(t)} - ${KEPT} returning *),
      counted as (
        insert into opening_counts (school_id, placement_id, version_id, kind, visitors, count)
        select school_id, placement_id, version_id, kind, door_id is not null, count(*)
        from ended group by 1, 2, 3, 4, 5
        on conflict on constraint opening_counts_once do update set count = opening_counts.count + excluded.count)
      select count(*)::int as ended from ended`,
  );
  return found!.ended;
}
