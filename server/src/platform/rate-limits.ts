import type pg from 'pg';
import { RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible';
import { AppError } from './errors.ts';

/**
 * Counts wrong sign-ins: ten from one place for one address, and many more for one address from anywhere, so that
 * nobody can lock another person out at their own desk. The counts are shared by all server processes.
 */
export interface Tries {
  readonly here: RateLimiterPostgres;
  readonly anywhere: RateLimiterPostgres;
  /** Sayable addresses that are none, from one place: they are short, and must not be found by guessing. */
  readonly short: RateLimiterPostgres;
}

export function countTries(pool: pg.Pool): Tries {
  const shared = {
    storeClient: pool,
    tableName: 'rate_limits',
    tableCreated: true,
    clearExpiredByTimeout: false,
  };
  return {
    here: new RateLimiterPostgres({ ...shared, keyPrefix: 'here', points: 10, duration: 15 * 60 }),
    anywhere: new RateLimiterPostgres({
      ...shared,
      keyPrefix: 'any',
      points: 100,
      duration: 60 * 60,
    }),
    short: new RateLimiterPostgres({
      ...shared,
      keyPrefix: 'short',
      points: 20,
      duration: 10 * 60,
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
export async function countTry(tries: Tries, account: string, ip: string): Promise<GiveBack> {
  const anywhere = account.toLowerCase().slice(0, 200);
  const here = `${ip} ${anywhere}`;
  await consume(tries.here, here);
  await consume(tries.anywhere, anywhere);
  return async () => {
    await Promise.all([tries.here.reward(here), tries.anywhere.reward(anywhere)]);
  };
}

/** Counts a sayable address that was tried from a place, as `countTry` does. */
export async function countGuess(tries: Tries, ip: string): Promise<GiveBack> {
  await consume(tries.short, ip);
  return async () => {
    await tries.short.reward(ip);
  };
}

async function consume(limiter: RateLimiterPostgres, key: string): Promise<void> {
  try {
    await limiter.consume(key);
  } catch (state) {
    if (!(state instanceof RateLimiterRes)) throw state;
    const seconds = Math.max(1, Math.ceil(state.msBeforeNext / 1000));
    throw new AppError('too-many-tries', { headers: { 'retry-after': String(seconds) } });
  }
}
