import type { GivenCopies, NewCopies } from '@sammlung/contract';
import { checkName } from '@sammlung/core';
import type { z } from 'zod';
import { placementSeen } from '../../domain/access/placements.ts';
import { viewerOf } from '../../domain/access/viewer.ts';
import { copiesById, giveCopies, stopCopies } from '../../domain/boxes.ts';
import { binPlacements, itemById } from '../../domain/placements.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import { copiesIn, placementsOfCopies } from './queries.ts';
import { requireChangeableBox, taughtBox } from './service.ts';

type Needs = Pick<Services, 'db' | 'now'>;

/** What the students of a box have been given copies of. */
export async function given(
  needs: Needs,
  person: SignedIn,
  boxId: string,
): Promise<{ copies: GivenCopies[] }> {
  await taughtBox(needs, person, boxId);
  return { copies: await copiesIn(needs.db, boxId) };
}

/**
 * Gives every student of a box a copy of a file or page that the person sees, also who joins later. Throws `already-here` where they have been
 * given it, `name-not-allowed` for names that cannot be.
 */
export async function give(
  { db, now }: Needs,
  person: SignedIn,
  boxId: string,
  { placement, pattern }: z.infer<typeof NewCopies>,
) {
  // The signs that names may not have are the same whatever the pattern stands for.
  const { faults } = checkName(pattern.replace(/\{(?:title|student|class)\}/gu, 'x').slice(0, 60));
  if (faults.length > 0)
    throw new AppError('name-not-allowed', {
      faults: faults.map((fault) => ({ field: 'pattern', fault })),
    });
  const t = now();
  return db.transaction(async (tx) => {
    await requireChangeableBox({ db: tx }, person, boxId, 'there');
    const { itemId, schoolId } = await placementSeen(tx, viewerOf(person, t), placement);
    const item = await itemById(tx, itemId, true);
    if (schoolId !== person.schoolId || !item?.currentVersionId) throw new AppError('not-found');
    const id = await giveCopies(tx, {
      ...{ schoolId, boxId, itemId, pattern, createdBy: person.id, createdAt: new Date(t) },
    });
    return { id, given: (await placementsOfCopies(tx, id)).length };
  });
}

/** Takes the copies back that nobody has opened: Undo. Whoever joins later gets none; resolves to how many stay. */
export async function takeBack({ db, now }: Needs, person: SignedIn, copiesId: string) {
  const t = now();
  return db.transaction(async (tx) => {
    const copies = await copiesById(tx, copiesId);
    if (!copies) throw new AppError('not-found');
    await requireChangeableBox({ db: tx }, person, copies.boxId, 'there');
    const all = await placementsOfCopies(tx, copiesId);
    const unopened = all.filter(({ opened }) => !opened).map(({ id }) => id);
    await binPlacements(tx, unopened, { binnedAt: new Date(t), binnedBy: person.id });
    await stopCopies(tx, copiesId, t);
    return { kept: all.length - unopened.length };
  });
}
