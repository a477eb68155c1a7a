import { sql, type SQL } from 'drizzle-orm';
import { rows, uuids, type Queries } from '../db/database.ts';

/** The order by hand of what is in a folder, and moving things between folders. */

/** A folder or placement with its position, and the folder it is in; null is the top of a library. */
export interface Positioned {
  readonly id: string;
  readonly position: number;
  readonly folderId?: string | null;
}

type Kind = 'folder' | 'placement';

/** The folders or items in a folder, or the folders at the top of a library, in the order they have by hand. */
export function positionsIn(
  db: Queries,
  kind: Kind,
  folderId: string | null,
  ownerId: string,
): Promise<{ id: string; position: number }[]> {
  return rows(
    db,
    kind === 'folder'
      ? sql`select id, position from folders
          where parent_id is not distinct from ${folderId}::uuid and binned_at is null
            and (${folderId}::uuid is not null or owner_id = ${ownerId}::uuid)
          order by position, title collate natural_order, id`
      : sql`select id, position from placements where folder_id = ${folderId}::uuid and binned_at is null
          order by position, id`,
  );
}

/** Gives folders or placements their positions, and, where `move` is set, another folder to be in. */
export async function applyPositions(
  tx: Queries,
  kind: Kind,
  things: readonly Positioned[],
  move: boolean,
): Promise<void> {
  if (things.length === 0) return;
  const table = kind === 'folder' ? sql`folders` : sql`placements`;
  await tx.execute(
    sql`update ${table} t set position = m.position from ${rowsOf(things)} where t.id = m.id`,
  );
  if (!move) return;
  await tx.execute(
    kind === 'folder'
      ? sql`update folders f set parent_id = m.to_, owner_id = case when m.to_ is null then f.owner_id else t.owner_id end
          from ${rowsOf(things)} left join folders t on t.id = m.to_
          where f.id = m.id and f.parent_id is distinct from m.to_`
      : sql`update placements p set folder_id = m.to_ from ${rowsOf(things)}
          where p.id = m.id and p.folder_id <> m.to_`,
  );
}

/** Rows `m (id, to_, position)` for a statement. */
function rowsOf(things: readonly Positioned[]): SQL {
  const to = things.map(({ folderId }) => folderId ?? null);
  return sql`unnest(${uuids(things.map(({ id }) => id))}, ${sql.param(to)}::uuid[],
    ${sql.param(things.map(({ position }) => position))}::float8[]) m (id, to_, position)`;
}
