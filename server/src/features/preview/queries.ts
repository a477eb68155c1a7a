import { sql } from 'drizzle-orm';
import { rows, type Queries } from '../../db/database.ts';
import { previews, texts } from '../../db/schema/index.ts';
import {
  accessParams,
  seesPlacement,
  waysInTable,
  type Viewer,
} from '../../domain/access/access-sql.ts';
import { isPreparable } from '../../domain/previews.ts';
import type { Form } from '../../platform/storage.ts';

/** What was made of the file at a placement, as far as the viewer sees it: where it is kept, and its type. */
export async function madeFor(
  db: Queries,
  viewer: Viewer,
  placement: string,
  form: Exclude<Form, 'line'>,
): Promise<{ schoolId: string; hash: string; type: string | null } | null> {
  const params = accessParams(viewer);
  const [found] = await rows<{ schoolId: string; hash: string; type: string | null }>(
    db,
    sql`with ${waysInTable(params)}
      select w.school_id as "schoolId", w.hash, ${form === 'small' ? sql`w.small` : sql`w.shown`} as type
      from placements p join folders f on f.id = p.folder_id join items i on i.id = p.item_id
        join versions v on v.id = i.current_version_id
        join previews w on w.school_id = v.school_id and w.hash = v.hash
      where p.id = ${placement}::uuid and ${seesPlacement(sql`p`, sql`f`, params)}`,
  );
  return found ?? null;
}

/** Contents that wait to be prepared, those that have waited longest first. */
export function waitingContents(db: Queries) {
  return rows<{ schoolId: string; hash: string }>(
    db,
    sql`select school_id as "schoolId", hash from previews where state = 'waiting' order by created_at limit 1000`,
  );
}

/** Notes every content that is not noted: of an older state of the tables, or of the sample. */
export async function noteAll(db: Queries) {
  const types = await rows<{ mediaType: string }>(
    db,
    sql`select media_type as "mediaType" from versions union select media_type from tray_files`,
  );
  const fit = types.map((t) => t.mediaType).filter(isPreparable);
  await db.execute(sql`
    insert into previews (school_id, hash, media_type)
    select distinct on (school_id, hash) school_id, hash, media_type from (
      select school_id, hash, media_type from versions
      union all select school_id, hash, media_type from tray_files where hash is not null) contents
    where media_type = any (${sql.param(fit)}::text[])
    on conflict do nothing`);
}

/** Has what was left out when programs could not be confined wait again, now that it need not be left out. */
export async function takeUp(db: Queries) {
  await db.execute(
    sql`update previews set state = 'waiting', fault = null, tries = 0 where fault = 'off'`,
  );
}

/** Counts a try at a content that waits; null where it waits no more. */
export async function beginPreparing(
  db: Queries,
  schoolId: string,
  hash: string,
): Promise<{ mediaType: string; tries: number } | null> {
  const [row] = await rows<{ mediaType: string; tries: number }>(
    db,
    sql`update previews set tries = tries + 1
      where school_id = ${schoolId}::uuid and hash = ${hash} and state = 'waiting'
      returning media_type as "mediaType", tries`,
  );
  return row ?? null;
}

/** Notes what a content says. */
export async function noteText(tx: Queries, text: typeof texts.$inferInsert): Promise<void> {
  await tx.insert(texts).values(text).onConflictDoNothing();
}

/** Notes what came of preparing a content. */
export async function endPreparing(
  db: Queries,
  schoolId: string,
  hash: string,
  values: Partial<typeof previews.$inferInsert>,
) {
  await db
    .update(previews)
    .set(values)
    .where(sql`${previews.schoolId} = ${schoolId}::uuid and ${previews.hash} = ${hash}`);
}
