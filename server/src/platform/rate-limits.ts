import type pg from 'pg';
import { RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible';
import { AppError } from './errors.ts';

/**
 * Counts wrong sign-ins: ten from one place for one address, and many more for one address from anywhere, so that
 * nobody can lock another person out at their own desk. The counts are shared by all server processes.
 */
export interface RateLimits {
  readonly perPlace: RateLimiterPostgres;
  readonly perAccount: RateLimiterPostgres;
  /** Sayable addresses that are none, from one place: they are short, and must not be found by guessing. */
  readonly shortAddresses: RateLimiterPostgres;
  /** Addresses by which a school would begin that are none, from one place. */
  readonly beginnings: RateLimiterPostgres;
  /** Codes of a second step that were used: each is good once. */
  readonly codes: RateLimiterPostgres;
  /** Beginnings of signing in outside, from one place: a whole school may be behind one address. */
  readonly outside: RateLimiterPostgres;
  /** What is asked for from one place by people without an account. */
  readonly visitorRequests: RateLimiterPostgres;
}

export function createRateLimits(pool: pg.Pool): RateLimits {
  const shared = {
    storeClient: pool,
    tableName: 'rate_limits',
    tableCreated: true,
    clearExpiredByTimeout: false,
  };
  return {
    perPlace: new RateLimiterPostgres({
      ...shared,
      keyPrefix: 'here',
      points: 10,
      duration: 15 * 60,
    }),
    perAccount: new RateLimiterPostgres({
      ...shared,
      keyPrefix: 'any',
      points: 100,
      duration: 60 * 60,
    }),
    shortAddresses: new RateLimiterPostgres({
      ...shared,
      keyPrefix: 'short',
      points: 20,
      duration: 10 * 60,
    }),
    beginnings: new RateLimiterPostgres({
      ...shared,
      keyPrefix: 'begin',
      points: 20,
      duration: 10 * 60,
    }),
    outside: new RateLimiterPostgres({
      ...shared,
      keyPrefix: 'outside',
      points: 5000,
      duration: 10 * 60,
    }),
    codes: new RateLimiterPostgres({
      ...shared,
      keyPrefix: 'code',
      points: 1,
      // Longer than an app shows one, and than the one before and after are taken.
      duration: 3 * 60,
    }),
    visitorRequests: new RateLimiterPostgres({
      ...shared,
      keyPrefix: 'asks',
      points: 5,
      duration: 60 * 60,
    }),
  };
}

/** Takes a try back that was counted: it was right. */
export type GiveBack = () => Promise<void>;

/**
 * Counts a try for an account from a place, before it is judged: of any number at once no more pass than are allowed. What
 * one place may try is counted first, so that it cannot use up what is left to other places. Throws `too-many-tries` with
 * the seconds to wait.
 */
export async function countAttempt(
  limits: RateLimits,
  account: string,
  ip: string,
): Promise<GiveBack> {
  const perAccount = account.toLowerCase().slice(0, 200);
  const perPlace = `${ip} ${perAccount}`;
  await consume(limits.perPlace, perPlace);
  await consume(limits.perAccount, perAccount);
  return async () => {
    await Promise.all([limits.perPlace.reward(perPlace), limits.perAccount.reward(perAccount)]);
  };
}

/** Whether something that is good once is used for the first time. */
export async function isFresh({ codes }: RateLimits, key: string): Promise<boolean> {
  try {
    await codes.consume(key);
    return true;
  } catch (state) {
    if (!(state instanceof RateLimiterRes)) throw state;
    return false;
  }
}

/** Counts a code of somebody’s second step, as `countAttempt` does. Throws `wrong-code` for one that was given before. */
export async function countCode(
  limits: RateLimits,
  personId: string,
  code: string,
  ip: string,
): Promise<GiveBack> {
  const giveBack = await countAttempt(limits, `code ${personId}`, ip);
  if (!(await isFresh(limits, `${personId} ${code}`))) throw new AppError('wrong-code');
  return giveBack;
}

/** Counts a sayable address that was tried from a place, as `countAttempt` does. */
export async function countShortAddress(limits: RateLimits, ip: string): Promise<GiveBack> {
  await consume(limits.shortAddresses, ip);
  return async () => {
    await limits.shortAddresses.reward(ip);
  };
}

/** Counts an address by which a school would begin that was tried from a place, as `countAttempt` does. */
export async function countBegin(limits: RateLimits, ip: string): Promise<GiveBack> {
  await consume(limits.beginnings, ip);
  return async () => {
    await limits.beginnings.reward(ip);
  };
}

/** Counts that somebody goes to sign in outside. */
export const countOutside = (limits: RateLimits, ip: string): Promise<void> =>
  consume(limits.outside, ip);

/** Counts a request of somebody without an account, from a place. */
export const countVisitorRequest = (limits: RateLimits, ip: string): Promise<void> =>
  consume(limits.visitorRequests, ip);

async function consume(limiter: RateLimiterPostgres, key: string): Promise<void> {
  try {
    await limiter.consume(key);
  } catch (state) {
    if (!(state instanceof RateLimiterRes)) throw state;
    const seconds = Math.max(1, Math.ceil(state.msBeforeNext / 1000));
    throw new AppError('too-many-tries', { headers: { 'retry-after': String(seconds) } });
  }
}
