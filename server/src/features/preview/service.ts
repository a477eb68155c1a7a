import type { Services } from '../../services.ts';
import { PREPARE, sendToPrepare } from '../../domain/previews.ts';
import { canConfine } from '../../platform/programs.ts';
import { prepare } from './prepare.ts';
import { noteAll, takeUp, waitingContents } from './queries.ts';

/** Said at the start where programs that read foreign files would see more than these. */
const NOT_CONFINED =
  'Office files, sounds and videos get no previews: this system does not let the programs that make them be confined ' +
  '(bubblewrap). Install bubblewrap, allow user namespaces, or accept it with SAMMLUNG_UNCONFINED=yes.';

type Needs = Pick<Services, 'db' | 'storage' | 'settings' | 'jobs'>;

/**
 * Sends contents that wait to be prepared: what a stopped server left, and what was noted at the start.
 */
export async function sendWaiting({ db, jobs }: Pick<Needs, 'db' | 'jobs'>) {
  const waiting = await waitingContents(db);
  for (const { schoolId, hash } of waiting) await sendToPrepare(jobs, schoolId, hash);
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
