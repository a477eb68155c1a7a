import type { Account } from '@sammlung/contract';
import { PASSWORD_LENGTH } from '@sammlung/core';
import Bowser from 'bowser';
import type { FastifyRequest } from 'fastify';
import { changePerson, emailTaken } from '../../domain/people.ts';
import { revokeAllTokens } from '../../domain/programs/tokens.ts';
import { tellAccountChange } from '../../domain/sign-ins.ts';
import { changesBy } from '../../domain/log.ts';
import { headersOf, unlessRefused } from '../../platform/accounts.ts';
import { AppError } from '../../platform/errors.ts';
import { mailsGoOut } from '../../platform/mail.ts';
import {
  emailToken,
  endOtherSessions,
  endSession,
  forgetLinks,
  LINK_HOURS,
  newEmailOf,
  takeEmailToken,
} from '../../platform/passwords.ts';
import { signedIn, type SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import { byPassword, isStaff } from './by-password.ts';
import { accountOf, mayConfirm, sessionsOf } from './queries.ts';
import { ownPasskeys } from './passkeys.ts';
import { recoveryCodesLeft } from './second-step.ts';

type Needs = Pick<Services, 'db' | 'now'>;

/** One’s own account. */
export async function ownAccount(
  { accounts, db, now, settings }: Needs & Pick<Services, 'accounts' | 'settings'>,
  person: SignedIn,
): Promise<Account> {
  const t = now();
  const { secondStep, ...account } = await accountOf(db, person.id);
  const sessions = await sessionsOf(db, person.id, t);
  return {
    ...account,
    mayRename: isStaff(person),
    newEmail: await newEmailOf(db, person.id, t),
    mails: mailsGoOut(settings, person),
    secondStep: isStaff(person)
      ? {
          on: secondStep,
          recoveryCodes: secondStep ? await recoveryCodesLeft(accounts, person.id) : 0,
        }
      : null,
    passkeys: await ownPasskeys({ db, settings }, person),
    sessions: sessions.map(({ id, userAgent, since, until }) => ({
      ...{ id, since: since.toISOString(), until: until.toISOString() },
      ...deviceOf(userAgent),
      here: id === person.sessionId,
    })),
  };
}

/** What a browser calls itself. */
function deviceOf(userAgent: string | null): { browser: string; system: string } {
  if (!userAgent) return { browser: '', system: '' };
  const { browser, os } = Bowser.parse(userAgent.slice(0, 500));
  const version = browser.version?.split('.')[0];
  return {
    browser: [browser.name, version].filter(Boolean).join(' '),
    system: os.name ?? '',
  };
}

/** Changes one’s own name. Throws `not-allowed` for students: theirs is that of the class list. */
export async function rename({ db }: Pick<Needs, 'db'>, person: SignedIn, name: string) {
  if (!isStaff(person)) throw new AppError('not-allowed');
  await changePerson(db, person.id, { name });
}

/** Changes one’s own password: other sessions, passwords for programs and links end. Resolves to the cookies of the session that goes on. Throws as `byPassword`, and `password-short`. */
export async function changePassword(
  services: Pick<Services, 'accounts' | 'db' | 'hashing' | 'now' | 'post' | 'rateLimits'>,
  request: FastifyRequest,
  { current, password }: { current: string; password: string },
): Promise<string[]> {
  if (password.length < PASSWORD_LENGTH) throw new AppError('password-short');
  const { headers } = await byPassword(services, request, () =>
    unlessRefused(
      services.accounts.api.changePassword({
        body: { currentPassword: current, newPassword: password, revokeOtherSessions: true },
        headers: headersOf(request),
        returnHeaders: true,
      }),
    ),
  );
  const { id } = signedIn(request);
  await forgetLinks(services.db, id);
  await revokeAllTokens(services.db, id);
  await tellAccountChange(services, id, 'password');
  return headers.getSetCookie();
}

/** Sends a mail to a new address, which counts once its link was opened. Throws as `byPassword`. */
export async function askEmail(
  services: Pick<Services, 'accounts' | 'db' | 'hashing' | 'now' | 'post' | 'rateLimits'>,
  request: FastifyRequest,
  { email, password }: { email: string; password: string },
): Promise<void> {
  const { accounts, db, now, post } = services;
  const person = signedIn(request);
  await byPassword(services, request, () =>
    unlessRefused(accounts.api.verifyPassword({ body: { password }, headers: headersOf(request) })),
  );
  const t = now();
  await db.transaction(async (tx) => {
    const words = post.words(person.language).account;
    const to = {
      schoolId: person.schoolId,
      kind: 'account' as const,
      toName: person.name,
      toEmail: email,
      subject: words.subject(person.schoolName),
    };
    // Whose address it is already nobody is told but whoever reads its mail.
    const mail = (await emailTaken(tx, email, person.id))
      ? { ...to, body: words.taken }
      : {
          ...to,
          body: words.confirm(person.name, LINK_HOURS.email),
          path: `/confirm/${await emailToken(tx, person.id, email, t)}`,
        };
    await post.queue(tx, [mail], t);
  });
  await post.soon();
}

/** A new address counts from now on; the one before is told. Throws `link-used`, `email-taken`. */
export async function confirmEmail(
  { db, now, post }: Pick<Services, 'db' | 'now' | 'post'>,
  token: string,
): Promise<void> {
  const t = now();
  await db.transaction(async (tx) => {
    const found = await takeEmailToken(tx, token, t);
    const person = found && (await mayConfirm(tx, found.personId));
    if (!person) throw new AppError('link-used');
    const { email } = found;
    if (await emailTaken(tx, email, person.id)) throw new AppError('email-taken');
    await changesBy(tx, person, t);
    await changePerson(tx, person.id, { email, emailVerified: true });
    if (person.email === null || person.email === email) return;
    const { account } = post.words(person.language);
    const mail = {
      ...{ schoolId: person.schoolId, kind: 'account' as const },
      ...{ toName: person.name, toEmail: person.email },
      ...{
        subject: account.changed(person.school),
        body: `${account.changedBody(person.school)} ${account.notYou}`,
      },
    };
    await post.queue(tx, [mail], t);
  });
  await post.soon();
}

/** Ends one of one’s own sessions, or (null) all but this one. */
export async function signOutElsewhere(
  { db }: Pick<Needs, 'db'>,
  person: SignedIn,
  sessionId: string | null,
): Promise<void> {
  if (sessionId === null) return endOtherSessions(db, person.id, person.sessionId);
  if (!(await endSession(db, person.id, sessionId))) throw new AppError('not-found');
}
