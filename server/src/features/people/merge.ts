import type { Merging } from '@sammlung/contract';
import { folderName, freeTitle } from '@sammlung/core';
import type { Queries } from '../../db/database.ts';
import {
  changeFolder,
  folderNamesIn,
  lockTrees,
  moveLibrary,
  topFoldersOwned,
} from '../../domain/folders.ts';
import { changesBy } from '../../domain/log.ts';
import { mergePeople } from '../../domain/merge.ts';
import { AppError } from '../../platform/errors.ts';
import { endSessions } from '../../platform/passwords.ts';
import { requireOffice, type SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import { moveWholeLibrary, refuseTooDeep } from './hand-over.ts';
import { lockOffice, lockPerson, mergingOf } from './queries.ts';

type Needs = Pick<Services, 'db' | 'now'>;

/** Both records, locked: that which stays can be signed in with, and nobody merges away the account that they are using. */
async function requirePair(tx: Queries, office: SignedIn, to: string, from: string) {
  if (from === to || from === office.id) throw new AppError('not-found');
  const people = new Map<string, NonNullable<Awaited<ReturnType<typeof lockPerson>>>>();
  for (const id of [from, to].sort()) {
    const person = await lockPerson(tx, office.schoolId, id);
    if (!person) throw new AppError('not-found');
    people.set(id, person);
  }
  const [goes, stays] = [people.get(from)!, people.get(to)!];
  if (stays.deactivatedAt !== null) throw new AppError('not-found');
  if (goes.kind !== stays.kind) throw new AppError('kinds-differ');
  return goes;
}

/** The folder that a student has is their desk: that of the other record goes into it. Throws `too-deep`. */
async function moveDesk(tx: Queries, goes: { id: string; name: string }, to: string) {
  const [[desk], [other]] = [await topFoldersOwned(tx, to), await topFoldersOwned(tx, goes.id)];
  if (!desk || !other) return;
  await refuseTooDeep(tx, goes.id);
  const taken = await folderNamesIn(tx, to, desk.id);
  await changeFolder(tx, other.id, { title: freeTitle(folderName(goes.name) ?? '_', taken) });
  await moveLibrary(tx, goes.id, { id: desk.id, ownerId: to });
}

/** What becomes of another record of a person when it is merged into theirs. Throws `kinds-differ`. */
export function merging(
  { db }: Pick<Needs, 'db'>,
  office: SignedIn,
  to: string,
  other: string,
): Promise<Merging> {
  requireOffice(office);
  return db.transaction(async (tx) => {
    await requirePair(tx, office, to, other);
    return mergingOf(tx, other, to);
  });
}

/** Merges another record of a person into theirs. Throws `kinds-differ`, `too-deep`. */
export async function merge(
  { db, now }: Needs,
  office: SignedIn,
  to: string,
  other: string,
): Promise<void> {
  requireOffice(office);
  await db.transaction(async (tx) => {
    const t = now();
    await changesBy(tx, office, t);
    await lockOffice(tx, office.schoolId);
    await lockTrees(tx, [to, other]);
    const goes = await requirePair(tx, office, to, other);
    if (goes.kind === 'student') await moveDesk(tx, goes, to);
    else await moveWholeLibrary(tx, office, goes, to);
    await endSessions(tx, other);
    await mergePeople(tx, { from: other, to }, goes.name, t);
  });
}
