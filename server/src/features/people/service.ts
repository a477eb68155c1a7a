import {
  PEOPLE_PAGE,
  type Invited,
  type NewPerson,
  type People,
  type PersonChange,
  type PersonRow,
  type Slips,
} from '@sammlung/contract';
import type { z } from 'zod';
import type { Queries } from '../../db/database.ts';
import { closeDoorsOf, reopenDoorsOf } from '../../domain/doors.ts';
import { closeFeedsOf } from '../../domain/feeds.ts';
import { addPeople, changePerson as writePerson, emailTaken } from '../../domain/people.ts';
import { revokeAllTokens } from '../../domain/programs/tokens.ts';
import {
  giveFirstPasswords,
  INVITATION_DAYS,
  newFirstPasswords,
  queueInvitations,
  tellAccountChange,
} from '../../domain/sign-ins.ts';
import { changesBy } from '../../domain/log.ts';
import { AppError } from '../../platform/errors.ts';
import { endSessions, forgetSecondStep } from '../../platform/passwords.ts';
import { mailsGoOut } from '../../platform/mail.ts';
import { requireOffice, type SignedIn } from '../../platform/sessions.ts';
import type { Words } from '../../platform/texts.ts';
import type { Services } from '../../services.ts';
import {
  activePeople,
  hasLibrary,
  lockOffice,
  lockPerson,
  peopleFound,
  personFound,
  type Wanted,
} from './queries.ts';

type Needs = Pick<Services, 'db' | 'now'>;

/** So many words are looked for at most; more make nobody easier to find. */
const WORDS = 8;

/** A page of the people of a school. */
export async function findPeople(
  { db, settings }: Pick<Services, 'db' | 'settings'>,
  person: SignedIn,
  query: Partial<Pick<Wanted, 'kind' | 'after'>> & { words?: string; ended?: 'true' | 'false' },
): Promise<People> {
  requireOffice(person);
  const words = (query.words ?? '').normalize('NFC').toLowerCase().split(/\s+/u).filter(Boolean);
  const found = await peopleFound(db, person.schoolId, {
    words: words.slice(0, WORDS),
    kind: query.kind,
    ended: query.ended === 'true',
    after: query.after,
    limit: PEOPLE_PAGE + 1,
  });
  const people = found.slice(0, PEOPLE_PAGE);
  const next = found.length > PEOPLE_PAGE ? people.at(-1)!.id : null;
  const mails = mailsGoOut(settings, person);
  return { people, next, mails };
}

export async function personOf(
  { db }: Pick<Needs, 'db'>,
  person: SignedIn,
  id: string,
): Promise<PersonRow> {
  requireOffice(person);
  const found = await personFound(db, person.schoolId, id);
  if (!found) throw new AppError('not-found');
  return found;
}

async function refuseEmailTaken(tx: Queries, email: string | null | undefined, except?: string) {
  if (email && (await emailTaken(tx, email, except)))
    throw new AppError('email-taken', { faults: [{ field: 'email', fault: 'email-taken' }] });
}

/** Adds somebody. Throws `email-taken`. */
export async function addPerson(
  { db, now }: Needs,
  person: SignedIn,
  wanted: z.infer<typeof NewPerson>,
) {
  requireOffice(person);
  return db.transaction(async (tx) => {
    await changesBy(tx, person, now());
    await refuseEmailTaken(tx, wanted.email);
    const [id] = await addPeople(tx, [{ schoolId: person.schoolId, ...wanted }]);
    return { id: id! };
  });
}

/** A person whom the office changes, locked. Throws `not-found`. */
async function requirePerson(tx: Queries, office: SignedIn, id: string) {
  requireOffice(office);
  const found = await lockPerson(tx, office.schoolId, id);
  if (!found) throw new AppError('not-found');
  return found;
}

/** Somebody has to be left in the office. Throws `last-office`. */
async function refuseLastOffice(tx: Queries, office: SignedIn, id: string) {
  const accounts = await lockOffice(tx, office.schoolId);
  if (accounts.every((account) => account.id === id)) throw new AppError('last-office');
}

/** Changes somebody. Who does other work from now on comes in anew. Throws `email-taken`, `last-office`, `kind-fixed`. */
export async function changePerson(
  { db, now }: Needs,
  office: SignedIn,
  id: string,
  change: PersonChange,
): Promise<void> {
  await db.transaction(async (tx) => {
    await changesBy(tx, office, now());
    requireOffice(office);
    const becomes = change.kind;
    // Before the person: all who take office accounts away hold them in the same order.
    if (becomes === 'teacher') await lockOffice(tx, office.schoolId);
    const person = await requirePerson(tx, office, id);
    await refuseEmailTaken(tx, change.email, id);
    if (becomes !== undefined && becomes !== person.kind) {
      if (becomes === 'teacher' && person.kind === 'office' && person.deactivatedAt === null)
        await refuseLastOffice(tx, office, id);
      if (person.kind === 'student' || (await hasLibrary(tx, id))) throw new AppError('kind-fixed');
      await endSessions(tx, id);
    }
    if (Object.keys(change).length > 0) await writePerson(tx, id, change);
  });
}

/** Invites people to choose a password, by mail. Who has one already is named and gets none. */
export async function invitePeople(
  { db, now, post }: Pick<Services, 'db' | 'now' | 'post'>,
  office: SignedIn,
  ids: readonly string[],
): Promise<Invited> {
  requireOffice(office);
  const t = now();
  const invited = await db.transaction(async (tx) => {
    const all = await activePeople(tx, office.schoolId, ids);
    if (all.length < new Set(ids).size) throw new AppError('not-found');
    const fresh = all.filter(({ ready }) => !ready);
    const reachable = fresh.filter(({ email }) => email !== null);
    const says = ({ welcome }: Words) => ({
      subject: welcome.subject(office.schoolName),
      body: welcome.body(office.name, office.schoolName, INVITATION_DAYS),
    });
    await queueInvitations(tx, post, office.schoolId, reachable, says, t);
    return {
      sent: reachable.length,
      without: fresh.length - reachable.length,
      others: all.filter(({ ready }) => ready).map(({ name }) => name),
    };
  });
  await post.soon();
  return invited;
}

/** First passwords for people, to be printed. Who has a password already keeps it until they choose a new one by this. */
export async function printPeopleSlips(
  { db, now, hashing }: Pick<Services, 'db' | 'now' | 'hashing'>,
  office: SignedIn,
  ids: readonly string[],
): Promise<Slips> {
  requireOffice(office);
  const asked = await activePeople(db, office.schoolId, ids);
  if (asked.length < new Set(ids).size) throw new AppError('not-found');
  const passwords = await newFirstPasswords(
    hashing,
    asked.map(({ id }) => id),
  );
  return db.transaction(async (tx) => {
    await changesBy(tx, office, now());
    const found = await activePeople(tx, office.schoolId, ids);
    return {
      slips: await giveFirstPasswords(tx, found, passwords),
      others: asked.filter(({ id }) => !found.some((one) => one.id === id)).map(({ name }) => name),
    };
  });
}

/**
 * Lets somebody in no more. What is theirs stays, and what they have handed out; who comes in by what they had does not come in any more.
 * Throws `last-office`.
 */
export async function deactivate({ db, now }: Needs, office: SignedIn, id: string): Promise<void> {
  const t = now();
  await db.transaction(async (tx) => {
    await changesBy(tx, office, t);
    requireOffice(office);
    await lockOffice(tx, office.schoolId);
    const person = await requirePerson(tx, office, id);
    if (person.deactivatedAt !== null) return;
    if (person.kind === 'office') await refuseLastOffice(tx, office, id);
    await writePerson(tx, id, { deactivatedAt: new Date(t) });
    await endSessions(tx, id);
    await revokeAllTokens(tx, id);
    await closeFeedsOf(tx, id, t);
    await closeDoorsOf(tx, id, t);
  });
}

/** Lets somebody in again, with the public addresses that they had. */
export async function reactivate({ db, now }: Needs, office: SignedIn, id: string): Promise<void> {
  await db.transaction(async (tx) => {
    await changesBy(tx, office, now());
    const { deactivatedAt } = await requirePerson(tx, office, id);
    if (deactivatedAt === null) return;
    await writePerson(tx, id, { deactivatedAt: null });
    await reopenDoorsOf(tx, id, deactivatedAt);
  });
}

/** Turns off the second step of somebody who cannot do it any more; they come in anew. */
export async function endSecondStep(
  services: Pick<Services, 'db' | 'now' | 'post'>,
  office: SignedIn,
  id: string,
): Promise<void> {
  await services.db.transaction(async (tx) => {
    await changesBy(tx, office, services.now());
    await requirePerson(tx, office, id);
    await forgetSecondStep(tx, id);
    await writePerson(tx, id, { twoFactorEnabled: false });
    await endSessions(tx, id);
  });
  await tellAccountChange(services, id, 'second-step-off');
}
