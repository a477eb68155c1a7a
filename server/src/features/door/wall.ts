import type { Behind } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import { rows } from '../../db/database.ts';
import { askerThrough, barred, doorOf } from '../../platform/access/door.ts';
import { asking, keysTable, rightIn, seesPlacement } from '../../platform/access/twin.ts';
import type { Services } from '../../platform/services.ts';
import type { SignedIn } from '../../platform/sessions.ts';

/** What stands behind an address: what to open, or why not (the wall). A word about the content is never said. */
export async function behind(
  { db, now }: Pick<Services, 'db' | 'now'>,
  token: string,
  person: SignedIn | null,
): Promise<Behind> {
  const t = now();
  const found = await doorOf(db, token);
  if (!found) return { state: 'wall', reason: 'unknown', schoolName: null, from: null };
  const { door, schoolName } = found;
  const reason = barred(found, person, t);
  if (reason) {
    const from = reason === 'later' ? (door.fromAt?.toISOString() ?? null) : null;
    return { state: 'wall', reason, schoolName, from };
  }
  const ask = asking(askerThrough(found, person), t);
  const [seen] = await rows<{ folderId: string | null; placementId: string | null }>(
    db,
    sql`with ${keysTable(ask)}
      select f.id as "folderId", null::uuid as "placementId" from folders f
        where f.id = ${door.folderId}::uuid and ${rightIn(sql`f`, ask)} > 0
      union all
      (select null, p.id from placements p join folders f on f.id = p.folder_id
        where p.item_id = ${door.itemId}::uuid and ${seesPlacement(sql`p`, sql`f`, ask)} limit 1)`,
  );
  if (!seen) return { state: 'wall', reason: 'held', schoolName, from: null };
  return { state: 'open', schoolName, ...seen };
}
