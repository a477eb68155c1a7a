import type { NewRemark, Phrases, Remarks } from '@sammlung/contract';
import type { z } from 'zod';
import type { Queries } from '../../db/database.ts';
import { folderFor } from '../../domain/access/folders.ts';
import { placementSeen } from '../../domain/access/placements.ts';
import { viewerOf } from '../../domain/access/viewer.ts';
import {
  addRemark,
  changeRemark,
  countRemarks,
  noteRead,
  remarkById,
  remarksAbout,
  type RemarkRecord,
} from '../../domain/remarks.ts';
import { phrasesOf, setPhrases } from '../../domain/teacher-settings.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';

type Needs = Pick<Services, 'db' | 'now'>;

/** So many remarks can be written about one thing. */
const MOST_REMARKS = 1000;

/** A thing in a place that the person sees: the student of it, or a teacher of the class. Throws `not-found`. */
async function thingInPlace(db: Queries, person: SignedIn, placementId: string, t: number) {
  const viewer = viewerOf(person, t);
  const { schoolId, folderId } = await placementSeen(db, viewer, placementId);
  // Of what is in a library or on a desk nobody writes remarks.
  const folder = await folderFor(db, viewer, folderId);
  if (folder.placeId === null) throw new AppError('not-found');
  return { schoolId, placementId };
}

export async function listRemarks(
  { db, now }: Needs,
  person: SignedIn,
  placementId: string,
): Promise<Remarks> {
  await thingInPlace(db, person, placementId, now());
  return { remarks: await remarksAbout(db, placementId, person.id) };
}

/** Writes a remark, or answers one about the same thing. Throws `not-found`, `too-many`. */
export async function write(
  { db, now }: Needs,
  person: SignedIn,
  placementId: string,
  { body, point, replyTo }: z.infer<typeof NewRemark>,
) {
  const t = now();
  return db.transaction(async (tx) => {
    const thing = await thingInPlace(tx, person, placementId, t);
    if ((await countRemarks(tx, placementId)) >= MOST_REMARKS) throw new AppError('too-many');
    const answered = replyTo === null ? null : await remarkById(tx, replyTo);
    if (replyTo !== null && (answered?.placementId !== placementId || answered.removedAt))
      throw new AppError('not-found');
    // An answer to an answer stands with it.
    const under = answered ? (answered.replyTo ?? answered.id) : null;
    const remark = { ...thing, body, point: under ? null : point, replyTo: under };
    return { id: await addRemark(tx, { ...remark, createdBy: person.id }, t) };
  });
}

/** Notes that the person has read all that is written about a thing now. */
export async function markRead({ db, now }: Needs, person: SignedIn, placementId: string) {
  const t = now();
  const thing = await thingInPlace(db, person, placementId, t);
  await noteRead(db, { ...thing, personId: person.id }, t);
}

/** A remark of the person’s own, about a thing that they still see. Throws `not-found`, `not-allowed`. */
async function ownRemark(
  { db, now }: Needs,
  person: SignedIn,
  remarkId: string,
  removed: boolean,
): Promise<RemarkRecord> {
  const found = await remarkById(db, remarkId);
  if (!found || (found.removedAt !== null) !== removed) throw new AppError('not-found');
  await thingInPlace(db, person, found.placementId, now());
  if (found.createdBy !== person.id) throw new AppError(removed ? 'not-found' : 'not-allowed');
  return found;
}

/** Gives a remark other words. */
export async function changeBody(needs: Needs, person: SignedIn, remarkId: string, body: string) {
  const { id } = await ownRemark(needs, person, remarkId, false);
  await changeRemark(needs.db, id, { body, editedAt: new Date(needs.now()) });
}

/** Removes a remark. */
export async function remove(needs: Needs, person: SignedIn, remarkId: string) {
  const { id } = await ownRemark(needs, person, remarkId, false);
  await changeRemark(needs.db, id, { removedAt: new Date(needs.now()) });
}

/** Undoes the removal of a remark. */
export async function restore(needs: Needs, person: SignedIn, remarkId: string) {
  const { id } = await ownRemark(needs, person, remarkId, true);
  await changeRemark(needs.db, id, { removedAt: null });
}

/** What a teacher often writes. */
export async function phrases({ db }: Needs, person: SignedIn): Promise<Phrases> {
  requireTeacher(person);
  return { phrases: await phrasesOf(db, person.id) };
}

/** Sets it. */
export async function savePhrases(
  { db }: Needs,
  person: SignedIn,
  wanted: readonly string[],
): Promise<void> {
  requireTeacher(person);
  await setPhrases(db, person, wanted);
}

function requireTeacher(person: SignedIn) {
  if (person.kind !== 'teacher') throw new AppError('not-found');
}
