import { sql } from 'drizzle-orm';
import { rows, type Database } from '../../db/database.ts';
import type { Services } from '../../services.ts';
import { isPreparable, PREPARE, sendToPrepare } from '../../domain/previews.ts';
import { canConfine } from '../../platform/programs.ts';
import { prepare } from './prepare.ts';

/** Said at the start where programs that read foreign files would see more than these. */
const NOT_CONFINED =
  'Office files, sounds and videos get no previews: this system does not let the programs that make them be confined ' +
  '(bubblewrap). Install bubblewrap, allow user namespaces, or accept it with SAMMLUNG_UNCONFINED=yes.';

type Needs = Pick<Services, 'db' | 'storage' | 'settings' | 'jobs'>;

/**
 * Sends contents that wait to be prepared: what a stopped server left, and what was noted at the start.
 */
export async function sendWaiting({ db, jobs }: Pick<Needs, 'db' | 'jobs'>) {
  const waiting = await rows<{ schoolId: string; hash: string }>(
    db,
    sql`select school_id as "schoolId", hash from previews where state = 'waiting' order by created_at limit 1000`,
  );
  for (const { schoolId, hash } of waiting) await sendToPrepare(jobs, schoolId, hash);
}

/** Notes every content that is not noted: of an older state of the tables, or of the sample. */
export async function noteAll(db: Database) {
  const types = await rows<{ mediaType: string }>(
    db,
    sql`select distinct media_type as "mediaType" from versions`,
  );
  const fit = types.map((t) => t.mediaType).filter(isPreparable);
  await db.execute(sql`
    insert into previews (school_id, hash, media_type)
    select distinct on (school_id, hash) school_id, hash, media_type from versions
    where media_type = any (${sql.param(fit)}::text[])
    on conflict do nothing`);
}

/** Has what was left out when programs could not be confined wait again, now that it need not be left out. */
async function takeUp(db: Database) {
  await db.execute(
    sql`update previews set state = 'waiting', fault = null, tries = 0 where fault = 'off'`,
  );
}

/** Starts the work on waiting contents: one at a time in each server. */
export async function startPreparing(services: Services, note: (error: unknown) => void) {
  const { jobs, db, settings } = services;
  if (!jobs) return;
  if (canConfine() || settings.unconfined) await takeUp(db);
  else console.log(NOT_CONFINED);
  await jobs.work<{ schoolId: string; hash: string }>(PREPARE, ({ schoolId, hash }) =>
    prepare(services, schoolId, hash),
  );
  await jobs.schedule('prepare-missed', '*/5 * * * *', () => sendWaiting(services));
  // Not waited for: a server listens before everything is prepared.
  void noteAll(db)
    .then(() => sendWaiting(services))
    .catch(note);
}
