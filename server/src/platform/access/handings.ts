import type { Thing } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import { rows, uuids, type Queries } from '../../db/database.ts';
import { AppError } from '../errors.ts';
import type { Rights } from './rights.ts';

/** What was or will be handed out: one of the two is null. */
export type Target = {
  readonly schoolId: string;
  readonly folderId: string | null;
  readonly itemId: string | null;
};

/** What handing these things out concerns, when the person may decide who sees each. Throws as `Rights` does. */
export async function targetsOf(rights: Rights, things: readonly Thing[]): Promise<Target[]> {
  const found: Target[] = [];
  for (const { kind, id } of things) {
    if (kind === 'folder') {
      const { schoolId } = await rights.folder(id, 'manage');
      found.push({ schoolId, folderId: id, itemId: null });
    } else {
      const { itemId, folder } = await rights.item(id);
      found.push({ schoolId: folder.schoolId, folderId: null, itemId });
    }
  }
  return found;
}

/**
 * Handings out and doors by their ids, taken back ones too, when the person may decide about each. Whoever may not is
 * not told that there is one: `not-found` for all.
 */
export async function handingsBehind(
  rights: Rights,
  ids: readonly string[],
): Promise<(Target & { id: string })[]> {
  const wanted = [...new Set(ids)];
  const found = await rows<Target & { id: string; placementId: string | null }>(
    rights.db,
    sql`select h.id, h.school_id as "schoolId", h.folder_id as "folderId", h.item_id as "itemId", (
          select p.id from placements p where p.item_id = h.item_id and p.binned_at is null limit 1) as "placementId"
      from (select id, school_id, folder_id, item_id from grants union all
        select id, school_id, folder_id, item_id from doors) h
      where h.id = any (${uuids(wanted)})`,
  );
  if (found.length < wanted.length) throw new AppError('not-found');
  for (const { folderId, placementId } of found) {
    const things: Thing[] = folderId
      ? [{ kind: 'folder', id: folderId }]
      : placementId
        ? [{ kind: 'placement', id: placementId }]
        : [];
    if (things.length === 0) throw new AppError('not-found');
    await targetsOf(rights, things).catch((error: unknown) => {
      throw error instanceof AppError && error.code === 'not-allowed'
        ? new AppError('not-found')
        : error;
    });
  }
  return found;
}

/** Whether every class and course of these is one that is there, for `audience-unknown`. */
export async function refuseRemoved(db: Queries, audienceIds: readonly string[]): Promise<void> {
  const removed = await rows(
    db,
    sql`select id from classes where id = any (${uuids(audienceIds)}) and removed_at is not null
      union all select id from courses where id = any (${uuids(audienceIds)}) and removed_at is not null`,
  );
  if (removed.length > 0) throw new AppError('audience-unknown');
}
