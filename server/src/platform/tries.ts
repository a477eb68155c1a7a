import type pg from 'pg';
import { RateLimiterPostgres, type RateLimiterRes } from 'rate-limiter-flexible';
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

/** Throws `too-many-tries` with the seconds to wait when no try is left. */
export async function refuseWhenTooMany(tries: Tries, email: string, ip: string): Promise<void> {
  const states = await Promise.all([
    tries.here.get(hereKey(email, ip)),
    tries.anywhere.get(anywhereKey(email)),
  ]);
  const limits = [tries.here.points, tries.anywhere.points];
  states.forEach((state, n) => {
    if (state && state.consumedPoints >= limits[n]!) throw tooMany(state);
  });
}

/** Throws `too-many-tries` when too many sayable addresses that are none were tried from this place. */
export async function refuseGuessing(tries: Tries, ip: string): Promise<void> {
  const state = await tries.short.get(ip);
  if (state && state.consumedPoints >= tries.short.points) throw tooMany(state);
}

export async function countGuess(tries: Tries, ip: string): Promise<void> {
  await tries.short.penalty(ip);
}

export async function countFailure(tries: Tries, email: string, ip: string): Promise<void> {
  await Promise.all([
    tries.here.penalty(hereKey(email, ip)),
    tries.anywhere.penalty(anywhereKey(email)),
  ]);
}

const anywhereKey = (email: string) => email.toLowerCase().slice(0, 200);
const hereKey = (email: string, ip: string) => `${ip} ${anywhereKey(email)}`;

function tooMany(state: RateLimiterRes) {
  const seconds = Math.max(1, Math.ceil(state.msBeforeNext / 1000));
  return new AppError('too-many-tries', { headers: { 'retry-after': String(seconds) } });
}
