import { sql } from 'drizzle-orm';
import { uuids, type Queries } from '../../db/database.ts';
import type { ItemRecord } from '../../domain/access/below.ts';
import type { Viewer } from '../../domain/access/access-sql.ts';

/** Notes that somebody took these along; once an hour for the same is enough. */
export async function noteTaken(db: Queries, viewer: Viewer, items: readonly ItemRecord[]) {
  // Whoever looks as somebody else leaves no trace of them.
  if (items.length === 0 || viewer.only) return;
  const doorId = viewer.personId ? null : (viewer.doorIds[0] ?? null);
  await db.execute(sql`
    insert into openings (school_id, placement_id, version_id, person_id, door_id, kind)
    select ${items[0]!.schoolId}::uuid, x.p, x.v, ${viewer.personId}::uuid, ${doorId}::uuid, 'downloaded'
    from unnest(${uuids(items.map((i) => i.placementId))}, ${sql.param(items.map((i) => i.versionId))}::uuid[]) x (p, v)
    where not exists (
      select from openings o where o.placement_id = x.p and o.version_id is not distinct from x.v
        and o.person_id is not distinct from ${viewer.personId}::uuid
        and o.door_id is not distinct from ${doorId}::uuid
        and o.kind = 'downloaded' and o.at > now() - interval '1 hour')`);
}
