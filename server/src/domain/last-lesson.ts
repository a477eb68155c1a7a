import type { TrayFolder } from '@sammlung/core';
import { sql } from 'drizzle-orm';
import { ms, rows, uuids, type Queries } from '../db/database.ts';

/**
 * For each of some classes the folder, handed out to it, in which its last lesson is: that with the latest lesson, or what came last. One that has
 * none is left out.
 */
export async function foldersOfLastLessons(
  db: Queries,
  folders: readonly TrayFolder[],
  classIds: readonly string[],
): Promise<ReadonlyMap<string, TrayFolder>> {
  const wanted = new Set(classIds);
  const reaching = folders.filter((folder) => folder.classIds.some((id) => wanted.has(id)));
  if (reaching.length === 0) return new Map();
  const found = await rows<{ folderId: string; at: number }>(
    db,
    sql`select p.folder_id as "folderId", ${ms(sql`max(coalesce(i.lesson_date::timestamptz, p.added_at))`)} as at
      from placements p join items i on i.id = p.item_id
      where p.folder_id = any (${uuids(reaching.map(({ id }) => id))}) and p.binned_at is null
      group by p.folder_id`,
  );
  const last = new Map(found.map(({ folderId, at }) => [folderId, at]));
  const best = new Map<string, TrayFolder>();
  for (const folder of reaching) {
    const at = last.get(folder.id);
    if (at === undefined) continue;
    for (const classId of folder.classIds) {
      const known = best.get(classId);
      const before = known && last.get(known.id)!;
      const later = before === undefined || at > before || (at === before && folder.id < known!.id);
      if (wanted.has(classId) && later) best.set(classId, folder);
    }
  }
  return best;
}
