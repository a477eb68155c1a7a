import { sql } from 'drizzle-orm';
import { rows, uuids, type Queries } from '../../db/database.ts';

/** By what somebody signs in: their email address, or their sign-in name. */
export async function signInNameOf(db: Queries, personId: string): Promise<string> {
  const [found] = await rows<{ name: string }>(
    db,
    sql`select coalesce(sign_in_name, email) as name from people where id = ${personId}::uuid`,
  );
  return found!.name;
}

/** What items are called that are where they were, by their placements. */
export async function itemTitles(
  db: Queries,
  placementIds: readonly string[],
): Promise<ReadonlyMap<string, string>> {
  const found = await rows<{ id: string; title: string }>(
    db,
    sql`select p.id, i.title from placements p join items i on i.id = p.item_id
      where p.id = any (${uuids(placementIds)}) and p.binned_at is null`,
  );
  return new Map(found.map(({ id, title }) => [id, title]));
}
