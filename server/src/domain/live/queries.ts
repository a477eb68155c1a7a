import { sql } from 'drizzle-orm';
import { at, rows, uuids, type Queries } from '../../db/database.ts';

/** What has changed, as the database says it on the channel `live`; see the migration of that name. */
export interface LiveChange {
  readonly what: 'folder' | 'below' | 'door' | 'person' | 'class' | 'school';
  readonly schoolId: string;
  readonly id: string;
}

/** Which of the sessions still hold. */
export async function sessionsThatHold(
  db: Queries,
  ids: readonly string[],
): Promise<ReadonlySet<string>> {
  const found = await rows<{ id: string }>(
    db,
    sql`select id from sessions where id = any (${uuids(ids)}) and expires_at > now()`,
  );
  return new Set(found.map((s) => s.id));
}

/** Where folders lie: their parent and their path. */
export function folderPaths(db: Queries, ids: readonly string[]) {
  return rows<{ id: string; parentId: string | null; path: string[] }>(
    db,
    sql`select id, parent_id as "parentId", to_json(path) as path from folders where id = any (${uuids(ids)})`,
  );
}

/**
 * The audiences, as `kind:id`, that decide who sees what in a folder and in the folders directly in it: two people
 * who belong to the same of them see the same there.
 */
export async function audiencesOf(db: Queries, folderId: string): Promise<ReadonlySet<string>> {
  const found = await rows<{ name: string }>(
    db,
    sql`with here as materialized (
        select b.id, b.path from folders b where b.id = ${folderId}::uuid or b.parent_id = ${folderId}::uuid
        union select c.id, c.path from folders b join folders c on c.parent_id = b.id where b.parent_id = ${folderId}::uuid)
      select distinct audience_kind || ':' || audience_id as name from handings_out
      where folder_id in (select unnest(path) from here)
        or item_id in (select p.item_id from placements p join here on here.id = p.folder_id)`,
  );
  return new Set(found.map((a) => a.name));
}

/** The audiences to which something in a folder, above or below it is handed out, or was once. */
export async function audiencesEver(db: Queries, folderId: string): Promise<ReadonlySet<string>> {
  const found = await rows<{ name: string }>(
    db,
    sql`with below as materialized (select id, path from folders where path @> array[${folderId}::uuid])
      select distinct audience_kind || ':' || audience_id as name from grants
      where folder_id in (select unnest(path) from below)
        or item_id in (select p.item_id from placements p join below on below.id = p.folder_id)
      union select 'door:' || id from doors where folder_id in (select unnest(path) from below)
        or item_id in (select p.item_id from placements p join below on below.id = p.folder_id)`,
  );
  return new Set(found.map((a) => a.name));
}

/** What began or ended after `from`, up to `to`, by itself. */
export function scheduledChanges(db: Queries, from: number, to: number) {
  const startsOrEnds = (row: string) => {
    const inSpan = (column: string) =>
      sql`(${sql.raw(`${row}.${column}`)} > ${at(from)} and ${sql.raw(`${row}.${column}`)} <= ${at(to)})`;
    return sql`(${inSpan('from_at')} or ${inSpan('until_at')})`;
  };
  return rows<LiveChange & Record<string, unknown>>(
    db,
    sql`with handed as materialized (
        select school_id, folder_id, item_id from grants g where ${startsOrEnds('g')}
        union all select school_id, folder_id, item_id from doors d where ${startsOrEnds('d')}),
      released as materialized (select school_id, folder_id, placement_id from class_releases r where ${startsOrEnds('r')})
    select 'below' as what, school_id as "schoolId", id from folders f where ${startsOrEnds('f')}
    union select 'below', school_id, folder_id from handed where folder_id is not null
    union select 'below', school_id, folder_id from released where folder_id is not null
    union select 'folder', school_id, folder_id from placements p where ${startsOrEnds('p')}
    union select 'folder', p.school_id, p.folder_id from handed join placements p on p.item_id = handed.item_id
    union select 'folder', p.school_id, p.folder_id from released join placements p on p.id = released.placement_id
    union select 'door', school_id, id from doors d where ${startsOrEnds('d')}
    union select 'class', school_id, class_id from appearances a where ${startsOrEnds('a')}
    union select 'person', school_id, person_id from memberships m where ${startsOrEnds('m')}`,
  );
}
