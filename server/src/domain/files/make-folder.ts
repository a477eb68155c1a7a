import type { NewFolder } from '@sammlung/contract';
import { checkName } from '@sammlung/core';
import type { z } from 'zod';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import { Rights } from '../access/rights.ts';
import { addFolder } from '../folders.ts';

/** Makes a folder: at the top of the person's own library, or in a folder to which they may add. */
export async function makeFolder(
  { db, now }: Pick<Services, 'db' | 'now'>,
  person: SignedIn,
  { parentId, title: typed }: z.infer<typeof NewFolder>,
) {
  notOnTop(person, parentId);
  const title = checkedTitle(typed);
  const parent = parentId && (await new Rights(db, person, now()).folder(parentId, 'add'));
  const id = await addFolder(db, {
    schoolId: person.schoolId,
    ownerId: parent ? parent.ownerId : person.id,
    createdBy: person.id,
    parentId,
    title,
  });
  return { id };
}

/** A typed name in the form it is kept in. Throws `name-not-allowed` with each fault. */
export function checkedTitle(typed: string): string {
  const title = typed.normalize('NFC').trim();
  const { faults } = checkName(title);
  if (faults.length > 0)
    throw new AppError('name-not-allowed', {
      faults: faults.map((fault) => ({ field: 'title', fault })),
    });
  return title;
}

/** Throws `not-allowed` for the top of a student's library: they have one folder of their own, the desk, and all else in it. */
export function notOnTop(person: SignedIn, parentId: string | null) {
  if (person.kind === 'student' && parentId === null) throw new AppError('not-allowed');
}
