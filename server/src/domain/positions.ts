import { sql } from 'drizzle-orm';

/** The place after the last item in a folder. */
export function nextPosition(folderId: string) {
  return sql`(select coalesce(max(position), 0) + 1 from placements where folder_id = ${folderId}::uuid)`;
}

/** The place after the last folder in a folder, or at the top of a library. */
export function nextFolderPosition(ownerId: string, parentId: string | null) {
  return sql`(select coalesce(max(f.position), 0) + 1 from folders f
    where f.parent_id is not distinct from ${parentId}::uuid and f.owner_id = ${ownerId}::uuid)`;
}
