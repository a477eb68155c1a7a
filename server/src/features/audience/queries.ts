import { sql } from 'drizzle-orm';
import { rows, type Queries } from '../../db/database.ts';

/** Titles of items that lie directly in a folder, with their placement. */
export function itemsDirectlyIn(db: Queries, folderId: string) {
  return rows<{ placementId: string; itemId: string; title: string }>(
    db,
    sql`select p.id as "placementId", i.id as "itemId", i.title
      from placements p join items i on i.id = p.item_id
      where p.folder_id = ${folderId}::uuid and p.binned_at is null order by i.title collate natural_order`,
  );
}
