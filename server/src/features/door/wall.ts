import type { Behind } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import type { FastifyRequest } from 'fastify';
import { rows, toIso } from '../../db/database.ts';
import { askerThrough, barred, doorOf, wordGiven } from '../../domain/doors.ts';
import { askingOf, targetOf } from '../../domain/requests.ts';
import { asking, keysTable, rightIn, seesPlacement } from '../../domain/access/access-sql.ts';
import type { Services } from '../../services.ts';

/** What stands behind an address: what to open, or why not (the wall). A word about the content is never said. */
export async function behind(
  { db, now, sign }: Pick<Services, 'db' | 'now' | 'sign'>,
  token: string,
  request: Pick<FastifyRequest, 'person' | 'headers'>,
): Promise<Behind> {
  const t = now();
  const { person } = request;
  const found = await doorOf(db, token);
  if (!found) return { state: 'wall', reason: 'unknown', schoolName: null, from: null, ask: null };
  const { door, schoolName } = found;
  const reason = barred(found, person, t, wordGiven(sign, found, request, t));
  if (reason) {
    const from = reason === 'later' ? toIso(door.fromAt) : null;
    const ask =
      person?.schoolId === door.schoolId ? await askingOf(db, person.id, targetOf(door)) : null;
    return { state: 'wall', reason, schoolName, from, ask };
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
  if (!seen) return { state: 'wall', reason: 'held', schoolName, from: null, ask: null };
  const takes = person?.kind === 'student' && person.schoolId === door.schoolId;
  const feed = door.kind === 'public' && door.wordHash === null;
  return { state: 'open', schoolName, ...seen, coverText: door.coverText, feed, takes };
}
