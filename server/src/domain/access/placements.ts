import { sql } from 'drizzle-orm';
import { rows, type Queries } from '../../db/database.ts';
import { AppError } from '../../platform/errors.ts';
import { accessParams, waysInTable, seesPlacement, type Viewer } from './access-sql.ts';

/** An item where it lies, as far as it is needed to do something with it. Throws `not-found` unless it is seen. */
export async function placementSeen(db: Queries, viewer: Viewer, placementId: string) {
  const params = accessParams(viewer);
  const [found] = await rows<{
    schoolId: string;
    folderId: string;
    itemId: string;
    title: string;
    mark: null;
  }>(
    db,
    sql`with ${waysInTable(params)}
      select p.school_id as "schoolId", p.folder_id as "folderId", p.item_id as "itemId", i.title, null as mark
      from placements p join folders f on f.id = p.folder_id join items i on i.id = p.item_id
      where p.id = ${placementId}::uuid and ${seesPlacement(sql`p`, sql`f`, params)}`,
  );
  if (!found) throw new AppError('not-found');
  return found;
}
