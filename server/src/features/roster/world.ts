import type { Queries } from '../../db/database.ts';
import { contentsBelow, loadWorld } from '../../domain/access/load-world.ts';
import { handedOutTo } from './queries.ts';

/** The part of a school that is handed out to some classes and courses, with everybody it reaches. */
export async function worldOf(
  db: Queries,
  schoolId: string,
  { classIds, courseIds }: { classIds: readonly string[]; courseIds: readonly string[] },
) {
  const handed = await handedOutTo(db, classIds, courseIds);
  const below = await contentsBelow(
    db,
    handed.flatMap((h) => h.folderId ?? []),
  );
  const scope = {
    folderIds: below.folderIds,
    itemIds: [...new Set([...below.itemIds, ...handed.flatMap((h) => h.itemId ?? [])])],
  };
  const loaded = await loadWorld(db, schoolId, scope, [
    ...classIds.map((id) => ({ kind: 'class', id })),
    ...courseIds.map((id) => ({ kind: 'course', id })),
  ]);
  return { ...loaded, scope };
}
