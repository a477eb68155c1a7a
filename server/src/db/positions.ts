import { sql } from 'drizzle-orm';

/** The place after the last item in a folder. */
export function nextPosition(folderId: string) {
  return sql`(select coalesce(max(position), 0) + 1 from placements where folder_id = ${folderId}::uuid)`;
}
