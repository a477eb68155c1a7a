import type { NewSecondStep } from '@sammlung/contract';
import type { FastifyRequest } from 'fastify';
import QRCode from 'qrcode';
import { tellAccountChange } from '../../domain/sign-ins.ts';
import { headersOf, unlessRefused, type Accounts } from '../../platform/accounts.ts';
import { AppError } from '../../platform/errors.ts';
import { countCode } from '../../platform/rate-limits.ts';
import { signedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import { byPassword, isStaff } from './by-password.ts';
import { accountOf } from './queries.ts';

type Needs = Pick<Services, 'accounts' | 'db' | 'hashing' | 'now' | 'post' | 'rateLimits'>;

/** How many recovery codes somebody has left. */
export async function recoveryCodesLeft(accounts: Accounts, personId: string): Promise<number> {
  const { backupCodes } = await accounts.api.viewBackupCodes({ body: { userId: personId } });
  return backupCodes.length;
}

function requireStaff(request: FastifyRequest) {
  const person = signedIn(request);
  if (!isStaff(person)) throw new AppError('not-found');
  return person;
}

/** Begins a second step, which counts once a first code has come. Throws `second-step-on`, and as `byPassword`. */
export async function beginSecondStep(
  services: Needs,
  request: FastifyRequest,
  password: string,
): Promise<NewSecondStep> {
  const person = requireStaff(request);
  const { email, signInName, secondStep } = await accountOf(services.db, person.id);
  if (secondStep) throw new AppError('second-step-on');
  const made = await byPassword(services, request, () =>
    unlessRefused(
      services.accounts.api.enableTwoFactor({ body: { password }, headers: headersOf(request) }),
    ),
  );
  if (!('totpURI' in made) || !made.totpURI) throw new Error('No address of a second step');
  const given = new URL(made.totpURI);
  // The app shows the name of the account as people know it.
  given.pathname = `/${encodeURIComponent(`Sammlung:${email ?? signInName ?? person.name}`)}`;
  return {
    address: given.href,
    picture: await QRCode.toString(given.href, { type: 'svg', margin: 2 }),
    secret: given.searchParams.get('secret')!,
    recoveryCodes: made.backupCodes ?? [],
  };
}

/** Turns it on by a first code; resolves to the cookies of the session that goes on. Throws `wrong-code`, `too-many-tries`. */
export async function confirmSecondStep(
  services: Needs,
  request: FastifyRequest,
  code: string,
): Promise<string[]> {
  const { accounts, rateLimits } = services;
  const person = requireStaff(request);
  const giveBack = await countCode(rateLimits, person.id, code, request.ip);
  const done = await unlessRefused(
    accounts.api.verifyTOTP({ body: { code }, headers: headersOf(request), returnHeaders: true }),
  );
  if (!done) throw new AppError('wrong-code');
  await giveBack();
  await tellAccountChange(services, person.id, 'second-step-on');
  return done.headers.getSetCookie();
}

/** Turns it off; resolves to the cookies of the session that goes on. Throws as `byPassword`. */
export async function endSecondStep(
  services: Needs,
  request: FastifyRequest,
  password: string,
): Promise<string[]> {
  const person = requireStaff(request);
  const { headers } = await byPassword(services, request, () =>
    unlessRefused(
      services.accounts.api.disableTwoFactor({
        body: { password },
        headers: headersOf(request),
        returnHeaders: true,
      }),
    ),
  );
  await tellAccountChange(services, person.id, 'second-step-off');
  return headers.getSetCookie();
}

/** New recovery codes in place of those from before. Throws as `byPassword`. */
export async function newRecoveryCodes(
  services: Needs,
  request: FastifyRequest,
  password: string,
): Promise<{ recoveryCodes: string[] }> {
  const person = requireStaff(request);
  const { secondStep } = await accountOf(services.db, person.id);
  if (!secondStep) throw new AppError('not-found');
  const { backupCodes } = await byPassword(services, request, () =>
    unlessRefused(
      services.accounts.api.generateBackupCodes({
        body: { password },
        headers: headersOf(request),
      }),
    ),
  );
  return { recoveryCodes: backupCodes };
}
