import type { Binned, IntoBin } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import type { z } from 'zod';
import { rows, uuids, type Queries } from '../../db/database.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import { Rights } from '../access/rights.ts';
import { LAST_PLACE } from '../bin.ts';
import { binFolders } from '../folders.ts';
import { binPlacements } from '../placements.ts';

type Things = z.infer<typeof IntoBin>['things'];

/** The ids of those of a kind, each once. */
export const idsOf = (things: Things, kind: Things[number]['kind']) => [
  ...new Set(things.filter((thing) => thing.kind === kind).map((thing) => thing.id)),
];

/**
 * Takes items away from where they lie, and folders with all below them. From its last place an item goes to the
 * Bin. Who only may add removes their own.
 */
export async function remove(
  { db, now }: Pick<Services, 'db' | 'now'>,
  person: SignedIn,
  things: Things,
): Promise<z.infer<typeof Binned>> {
  const at = { binnedAt: new Date(now()), binnedBy: person.id };
  return db.transaction(async (tx) => {
    const rights = new Rights(tx, person, now());
    await rights.removableFolders(idsOf(things, 'folder'));
    const taken = await rights.placements(idsOf(things, 'placement'));
    if (taken.some((placement) => placement.binned)) throw new AppError('not-found');
    const ids = taken.map((placement) => placement.id);
    await binFolders(tx, idsOf(things, 'folder'), at);
    await binPlacements(tx, ids, at);
    return { lastPlaces: await countLastPlaces(tx, ids) };
  });
}

/** Of these placements, how many are the last place of their item. */
async function countLastPlaces(db: Queries, ids: readonly string[]): Promise<number> {
  const [found] = await rows<{ count: number }>(
    db,
    sql`select count(*)::int as count from placements p where p.id = any (${uuids(ids)}) and ${LAST_PLACE}`,
  );
  return found!.count;
}
