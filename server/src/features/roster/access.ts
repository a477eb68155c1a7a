import type { Invited, Slips } from '@sammlung/contract';
import type { z } from 'zod';
import type { Queries } from '../../db/database.ts';
import {
  giveFirstPasswords,
  INVITATION_DAYS,
  newFirstPasswords,
  queueInvitations,
} from '../../domain/sign-ins.ts';
import { requireManagedClass } from '../../domain/managed.ts';
import { changesBy } from '../../domain/log.ts';
import { AppError } from '../../platform/errors.ts';
import type { Words } from '../../platform/texts.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { accountsOf, lastingMembers, type Account } from './queries.ts';

/**
 * Sends members of a class a mail by which they set their first password. Whoever has no address needs a slip; whose
 * account is in use, or not the person's to manage, is named and gets none.
 */
export async function invite(
  { db, now, post }: Pick<Services, 'db' | 'now' | 'post'>,
  person: SignedIn,
  classId: string,
  ids: readonly string[],
): Promise<z.infer<typeof Invited>> {
  const t = now();
  const invited = await db.transaction(async (tx) => {
    const { code, course } = await requireManagedClass(tx, person, classId);
    const { found, others } = await membersNamed(tx, person, classId, ids, t, (a) => !a.inUse);
    const reachable = found.filter((p) => p.email !== null);
    const says = ({ invitation }: Words) => ({
      subject: invitation.subject(course.title, person.schoolName),
      body: invitation.body(person.name, code, course.title, INVITATION_DAYS),
    });
    await queueInvitations(tx, post, person.schoolId, reachable, says, t);
    return { sent: reachable.length, without: found.length - reachable.length, others };
  });
  await post.soon();
  return invited;
}

/**
 * New start words for members of a class, to be printed: shown this once. Whoever uses their account already gets one
 * from the office only, and keeps the old password until they choose a new one by it; whom the person may not give one is
 * named.
 */
export async function printSlips(
  { db, now, hashing }: Pick<Services, 'db' | 'now' | 'hashing'>,
  person: SignedIn,
  classId: string,
  ids: readonly string[],
): Promise<Slips> {
  const t = now();
  const fits = (account: Account) => person.kind === 'office' || !account.inUse;
  await requireManagedClass(db, person, classId);
  const asked = await membersNamed(db, person, classId, ids, t, fits);
  const passwords = await newFirstPasswords(
    hashing,
    asked.found.map(({ id }) => id),
  );
  return db.transaction(async (tx) => {
    await changesBy(tx, person, t);
    await requireManagedClass(tx, person, classId);
    const { found, others } = await membersNamed(
      tx,
      person,
      classId,
      [...passwords.keys()],
      t,
      fits,
    );
    return {
      slips: await giveFirstPasswords(tx, found, passwords),
      others: [...asked.others, ...others],
    };
  });
}

/**
 * People who belong to the class now or later, by their ids: those whose accounts the person manages and `fits` takes,
 * and the names of the others. Throws `not-found` for anybody who does not belong to it.
 */
async function membersNamed(
  tx: Queries,
  person: SignedIn,
  classId: string,
  ids: readonly string[],
  t: number,
  fits: (account: Account) => boolean,
) {
  const members = await lastingMembers(tx, classId, ids, t);
  if (members.length < new Set(ids).size) throw new AppError('not-found');
  const accounts = await accountsOf(tx, person, ids);
  const may = ({ id }: { id: string }) => {
    const account = accounts.get(id);
    return account !== undefined && account.managed && fits(account);
  };
  return {
    found: members.filter(may),
    others: members.filter((member) => !may(member)).map(({ name }) => name),
  };
}
