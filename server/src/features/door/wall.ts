import type { Behind } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import type { FastifyRequest } from 'fastify';
import { rows, toIso } from '../../db/database.ts';
import { viewerThrough, denialReason, doorOf, passwordGiven } from '../../domain/doors.ts';
import { askingOf, targetOf } from '../../domain/requests.ts';
import {
  accessParams,
  waysInTable,
  rightIn,
  seesPlacement,
} from '../../domain/access/access-sql.ts';
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
  const reason = denialReason(found, person, t, passwordGiven(sign, found, request, t));
  if (reason) {
    const from = reason === 'later' ? toIso(door.fromAt) : null;
    const ask =
      person?.schoolId === door.schoolId ? await askingOf(db, person.id, targetOf(door)) : null;
    return { state: 'wall', reason, schoolName, from, ask };
  }
  const params = accessParams(viewerThrough(found, person, t));
  const [seen] = await rows<{ folderId: string | null; placementId: string | null }>(
    db,
    sql`with ${waysInTable(params)}
      select f.id as "folderId", null::uuid as "placementId" from folders f
        where f.id = ${door.folderId}::uuid and ${rightIn(sql`f`, params)} > 0
      union all
      (select null, p.id from placements p join folders f on f.id = p.folder_id
        where p.item_id = ${door.itemId}::uuid and ${seesPlacement(sql`p`, sql`f`, params)} limit 1)`,
  );
  if (!seen) return { state: 'wall', reason: 'held', schoolName, from: null, ask: null };
  const takes = person?.kind === 'student' && person.schoolId === door.schoolId;
  const feed = door.kind === 'public' && door.wordHash === null;
  return { state: 'open', schoolName, ...seen, coverText: door.coverText, feed, takes };
}
