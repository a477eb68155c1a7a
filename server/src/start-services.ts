import { createHmac } from 'node:crypto';
import type pg from 'pg';
import type { App } from './app-type.ts';
import type { Database } from './db/database.ts';
import { examine } from './domain/doctor.ts';
import { startLive } from './domain/live/live.ts';
import { unseenNotes } from './domain/notes.ts';
import { whoIs } from './features/session/outside.ts';
import { endOpenings, packOpenings } from './domain/openings.ts';
import { accounts } from './platform/accounts.ts';
import { hashingQueue } from './platform/hashing.ts';
import type { Jobs } from './platform/jobs.ts';
import { outsideAccounts, type OutsideAccounts } from './platform/outside.ts';
import { startPost } from './platform/mail.ts';
import { createRateLimits } from './platform/rate-limits.ts';
import { DiskStorage } from './platform/storage.ts';
import { startWorkers } from './platform/workers.ts';
import type { Settings } from './settings.ts';

export interface ServiceNeeds {
  readonly settings: Settings;
  readonly db: Database;
  readonly pool: pg.Pool;
  readonly secret: string;
  /** The clock, in milliseconds. */
  readonly now?: () => number;
  readonly jobs?: Jobs;
}

/** Starts what features stand on and gives it to the application; it ends with it. */
export async function startServices(
  app: App,
  { settings, db, pool, secret, now = Date.now, jobs }: ServiceNeeds,
): Promise<void> {
  const address = () => settings.address ?? app.listeningOrigin.replace('127.0.0.1', 'localhost');
  const note = (error: unknown) => app.log.error(error);
  const post = await startPost({
    db,
    jobs: jobs ?? null,
    settings,
    address,
    note,
    mustWait: (mails, t) => unseenNotes(db, mails, t),
  });
  app.addHook('onClose', async () => post.close());
  const live = startLive({ db, pool, now, note });
  // Before the connections are: open pages are told first.
  app.addHook('preClose', async () => live.close());
  let provider: OutsideAccounts | null = null;
  // Made when it is first used: by then it is known where browsers reach us.
  const outside = () =>
    (provider ??=
      settings.provider &&
      outsideAccounts(
        ...([db, secret, address(), settings.provider] as const),
        (vouched) => whoIs({ db, now, settings }, settings.provider!.issuer, vouched),
        (what) => app.log.error(what),
      ));
  const workers = startWorkers();
  app.addHook('onClose', () => workers.close());
  app.decorate('services', {
    db,
    storage: new DiskStorage(settings.data),
    accounts: accounts(db, secret, settings.address ?? 'http://localhost'),
    outside,
    rateLimits: createRateLimits(pool),
    hashing: hashingQueue(),
    workers,
    jobs: jobs ?? null,
    post,
    live,
    sign: (text) => createHmac('sha256', secret).update(text).digest('base64url'),
    settings,
    now,
    address,
  });
  if (jobs) await scheduleNightly(app, jobs);
}

/** What is done every night. */
async function scheduleNightly({ services, log }: App, jobs: Jobs) {
  const { db, now } = services;
  await jobs.schedule(
    'end-openings',
    '35 2 * * *',
    async () => void (await endOpenings(db, now())),
  );
  await jobs.schedule('pack-openings', '5 * * * *', () => packOpenings(db, now()));
  await jobs.schedule('doctor', '50 2 * * *', async () => {
    const { damaged } = await examine(services, now());
    if (damaged.length > 0)
      log.error({ damaged }, 'Contents are missing or damaged: see npm run doctor');
  });
}
