import type { Database } from './db/database.ts';
import type { RateLimits } from './platform/rate-limits.ts';
import type { Settings } from './settings.ts';
import type { Accounts } from './platform/accounts.ts';
import type { OutsideAccounts } from './platform/outside.ts';
import type { Hashing } from './platform/hashing.ts';
import type { Jobs } from './platform/jobs.ts';
import type { Live } from './domain/live/live.ts';
import type { Post } from './platform/mail.ts';
import type { Storage } from './platform/storage.ts';
import type { Workers } from './platform/workers.ts';

/** What features stand on. `now` is the clock, in milliseconds; tests set it. */
export interface Services {
  readonly db: Database;
  readonly storage: Storage;
  readonly accounts: Accounts;
  /** Signing in at a provider; null where there is none. */
  readonly outside: () => OutsideAccounts | null;
  readonly rateLimits: RateLimits;
  readonly hashing: Hashing;
  readonly workers: Workers;
  /** Null where nothing runs by itself. */
  readonly jobs: Jobs | null;
  readonly post: Post;
  readonly live: Live;
  /** Signs a text, so that nobody else can have written it. */
  readonly sign: (text: string) => string;
  readonly settings: Settings;
  readonly now: () => number;
  /** Where browsers reach the application, without a slash at the end. */
  readonly address: () => string;
}
