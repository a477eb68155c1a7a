import type { GrantChange, HandedOut, HandOut } from '@sammlung/contract';
import type { z } from 'zod';
import { toIso } from '../../db/database.ts';
import {
  changeTerms,
  decidableGrants,
  grantById,
  putGrants,
  restoreGrants,
  takeBackGrants,
  targetsOf,
} from '../../domain/grants.ts';
import { Rights } from '../../domain/access/rights.ts';
import { queueNote, withdrawNotes } from '../../domain/notes.ts';
import { AppError } from '../../platform/errors.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { refuseEndBeforeStart } from '../../domain/spans.ts';
import { changesBy } from '../../domain/log.ts';

type Needs = Pick<Services, 'db' | 'now' | 'post'>;

/**
 * Hands things out to audiences, all or none; what an audience has already gets the new terms. Throws
 * `audience-unknown`, `level-not-possible` and `ends-before-start`.
 */
export async function handOut(
  { db, now, post }: Needs,
  person: SignedIn,
  { things, audiences, level, from, until, note }: z.infer<typeof HandOut>,
): Promise<HandedOut> {
  const t = now();
  if (level !== 'view' && things.some((x) => x.kind !== 'folder'))
    throw new AppError('level-not-possible');
  if (level !== 'view' && audiences.some((a) => a.kind !== 'staff' && a.kind !== 'person'))
    throw new AppError('level-not-possible');
  refuseEndBeforeStart({ from, until });
  const result = await db.transaction(async (tx) => {
    const targets = await targetsOf(new Rights(tx, person, t), things);
    const terms = { level, from, until };
    const put = await putGrants(tx, targets, audiences, terms, { personId: person.id, t });
    const ids = [...put.made, ...put.changed.map(({ id }) => id)];
    const noted =
      note === null || ids.length === 0 ? 0 : await queueNote(post, tx, person, ids, note, t);
    return { ...put, noted };
  });
  if (result.noted > 0) await post.soon();
  return result;
}

/** Gives a handing out other dates or another level. Returns what it had before. Throws as `handOut` does. */
export async function changeGrant(
  { db, now }: Needs,
  person: SignedIn,
  grantId: string,
  change: GrantChange,
): Promise<GrantChange> {
  refuseEndBeforeStart(change);
  return db.transaction(async (tx) => {
    await changesBy(tx, person, now());
    await decidableGrants(new Rights(tx, person, now()), [grantId]);
    const known = await grantById(tx, grantId);
    if (!known) throw new AppError('not-found');
    const colleagues = known.audienceKind === 'staff' || known.audienceKind === 'person';
    if (change.level !== 'view' && !(colleagues && known.folderId))
      throw new AppError('level-not-possible');
    await changeTerms(tx, grantId, change);
    return { level: known.level, from: toIso(known.fromAt), until: toIso(known.untilAt) };
  });
}

export async function takeBack({ db, now }: Needs, person: SignedIn, ids: readonly string[]) {
  const t = now();
  await db.transaction(async (tx) => {
    await decidableGrants(new Rights(tx, person, t), ids);
    await takeBackGrants(tx, ids, { personId: person.id, t });
    await withdrawNotes(tx, ids);
  });
}

/** Undoes a taking back: the handings out are in force again as they were. */
export async function handOutAgain({ db, now }: Needs, person: SignedIn, ids: readonly string[]) {
  await db.transaction(async (tx) => {
    await changesBy(tx, person, now());
    await decidableGrants(new Rights(tx, person, now()), ids);
    await restoreGrants(tx, ids);
  });
}
