import { sql, type SQL } from 'drizzle-orm';

/** How long what was removed or cleared waits before it is deleted for good. */
export const KEPT_MS = 30 * 24 * 60 * 60 * 1000;

/** Placement `p` is in the Bin when its item lies nowhere else and none was taken out later. */
export const LAST_PLACE = sql`p.binned_at is not null
  and not exists (select from placements q where q.item_id = p.item_id and q.id <> p.id
    and (q.binned_at is null or (q.binned_at, q.id) > (p.binned_at, p.id)))`;

/** Into whose Bin folder `f` goes: its owner’s, or out of the place of a hand-in box the student’s. */
export const binOwner = (f: SQL): SQL =>
  sql`coalesce(${f}.owner_id, (select l.person_id from places l where l.folder_id = ${f}.path[1]))`;
