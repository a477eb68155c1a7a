import type { TrayAnswer } from '@sammlung/contract';
import { and, asc, desc, eq, inArray, isNotNull, isNull, lt, sql } from 'drizzle-orm';
import { at, rows, uuids, type Queries } from '../db/database.ts';
import { rounds, roundSteps, trayFiles } from '../db/schema/index.ts';
import { AppError } from '../platform/errors.ts';
import type { SignedIn } from '../platform/sessions.ts';
import type { Former } from './releases.ts';

/** The trays of teachers, and what rounds have put in place: nothing else writes these tables. */

export type TrayFile = typeof trayFiles.$inferSelect;
type Person = { readonly id: string; readonly schoolId: string };

/** So many files can be in a tray. */
export const TRAY_FILES = 1000;
/** A round can be undone for so long, and files taken out of the tray be put back: in milliseconds. */
export const UNDO_MS = 24 * 60 * 60 * 1000;

/** Only teachers have a tray. */
export function requireTray(person: Pick<SignedIn, 'kind'>): void {
  if (person.kind !== 'teacher') throw new AppError('not-found');
}

const waiting = (personId: string) =>
  and(eq(trayFiles.personId, personId), isNull(trayFiles.roundId), isNull(trayFiles.removedAt));

/** The files in somebody's tray, in the order in which they came; those that came together, by name. */
export function waitingFiles(db: Queries, personId: string): Promise<TrayFile[]> {
  return db
    .select()
    .from(trayFiles)
    .where(waiting(personId))
    .orderBy(
      sql`date_trunc('minute', ${trayFiles.arrivedAt})`,
      sql`${trayFiles.name} collate natural_order`,
      asc(trayFiles.arrivedAt),
      asc(trayFiles.id),
    );
}

/** A file in somebody's tray; throws `not-found`. */
export async function waitingFile(db: Queries, personId: string, id: string): Promise<TrayFile> {
  const [found] = await db
    .select()
    .from(trayFiles)
    .where(and(waiting(personId), eq(trayFiles.id, id)));
  if (!found) throw new AppError('not-found');
  return found;
}

/** From here to the end of the transaction nobody else changes what is in this tray. */
export async function lockTray(tx: Queries, personId: string): Promise<void> {
  await tx.execute(
    sql`select pg_advisory_xact_lock(hashtextextended('tray of ' || ${personId}::text, 0))`,
  );
}

/** Puts a file into a tray; the same upload once. Resolves to its id. Under `lockTray`; throws `tray-full`. */
export async function addTrayFile(
  tx: Queries,
  file: Required<Omit<typeof trayFiles.$inferInsert, 'id' | 'roundId' | 'removedAt'>>,
): Promise<string> {
  await refuseBeyond(tx, file.personId, 1);
  const [made] = await tx.insert(trayFiles).values(file).returning({ id: trayFiles.id });
  return made!.id;
}

/** The file that an upload became in a tray; null where it became none. */
export async function fileOfUpload(
  db: Queries,
  personId: string,
  uploadId: string,
): Promise<{ id: string } | null> {
  const [found] = await db
    .select({ id: trayFiles.id })
    .from(trayFiles)
    .where(and(eq(trayFiles.personId, personId), eq(trayFiles.uploadId, uploadId)));
  return found ?? null;
}

async function refuseBeyond(tx: Queries, personId: string, more: number): Promise<void> {
  const [found] = await tx
    .select({ count: sql<number>`count(*)::int` })
    .from(trayFiles)
    .where(waiting(personId));
  if (found!.count + more > TRAY_FILES) throw new AppError('tray-full');
}

/** Calls a file of a tray otherwise. Throws `not-found`. */
export async function renameTrayFile(
  tx: Queries,
  personId: string,
  id: string,
  name: string,
): Promise<void> {
  const changed = await tx
    .update(trayFiles)
    .set({ name })
    .where(and(waiting(personId), eq(trayFiles.id, id)))
    .returning({ id: trayFiles.id });
  if (changed.length === 0) throw new AppError('not-found');
}

/** Notes what was decided about a file. */
export async function setAnswer(
  tx: Queries,
  personId: string,
  id: string,
  answer: TrayAnswer | null,
): Promise<void> {
  const changed = await tx
    .update(trayFiles)
    .set({ answer })
    .where(and(waiting(personId), eq(trayFiles.id, id)))
    .returning({ id: trayFiles.id });
  if (changed.length === 0) throw new AppError('not-found');
}

/** Takes files out of a tray. Throws `changed-since` where one is not there any more. Under `lockTray`. */
export async function removeTrayFiles(
  tx: Queries,
  personId: string,
  ids: readonly string[],
  t: number,
): Promise<void> {
  const removed = await tx
    .update(trayFiles)
    .set({ removedAt: new Date(t) })
    .where(and(waiting(personId), inArray(trayFiles.id, [...ids])))
    .returning({ id: trayFiles.id });
  if (removed.length < new Set(ids).size) throw new AppError('changed-since');
}

/** Puts files back that were taken out. Throws `changed-since`, `tray-full`. Under `lockTray`. */
export async function restoreTrayFiles(
  tx: Queries,
  personId: string,
  ids: readonly string[],
): Promise<void> {
  await refuseBeyond(tx, personId, ids.length);
  const restored = await tx
    .update(trayFiles)
    .set({ removedAt: null })
    .where(
      and(
        eq(trayFiles.personId, personId),
        isNotNull(trayFiles.removedAt),
        isNull(trayFiles.roundId),
        inArray(trayFiles.id, [...ids]),
      ),
    )
    .returning({ id: trayFiles.id });
  if (restored.length < new Set(ids).size) throw new AppError('changed-since');
}

/** Begins a round with files of the tray, which leave it. Resolves to its id. Under `lockTray`; throws `changed-since`. */
export async function addRound(
  tx: Queries,
  { id: personId, schoolId }: Person,
  files: readonly string[],
  t: number,
): Promise<string> {
  const [made] = await tx
    .insert(rounds)
    .values({ schoolId, personId, at: new Date(t) })
    .returning({ id: rounds.id });
  const taken = await tx
    .update(trayFiles)
    .set({ roundId: made!.id })
    .where(and(waiting(personId), inArray(trayFiles.id, [...files])))
    .returning({ id: trayFiles.id });
  if (taken.length < files.length) throw new AppError('changed-since');
  return made!.id;
}

export type RoundStepRow = Omit<typeof roundSteps.$inferSelect, 'rules' | 'before'> & {
  readonly rules: Former[];
  /** What releases there were. */
  readonly before: Former[];
};

/** Notes what a round has done. */
export async function addRoundStep(tx: Queries, step: Omit<RoundStepRow, 'id'>): Promise<void> {
  await tx.insert(roundSteps).values(step);
}

/** A round of this person that can be undone, with its steps, the last one first. Under `lockTray`; throws `changed-since`. */
export async function roundToUndo(
  tx: Queries,
  personId: string,
  id: string,
  t: number,
): Promise<RoundStepRow[]> {
  const [found] = await tx
    .select()
    .from(rounds)
    .where(and(eq(rounds.id, id), eq(rounds.personId, personId)));
  if (!found) throw new AppError('not-found');
  if (found.at.getTime() < t - UNDO_MS) throw new AppError('changed-since');
  const steps = await tx.select().from(roundSteps).where(eq(roundSteps.roundId, id));
  return (steps as RoundStepRow[]).reverse();
}

/** A round has not been: its files are in the tray again. Under `lockTray`; throws `tray-full`. */
export async function deleteRound(tx: Queries, personId: string, id: string): Promise<void> {
  await tx.update(trayFiles).set({ roundId: null }).where(eq(trayFiles.roundId, id));
  await refuseBeyond(tx, personId, 0);
  await tx.delete(roundSteps).where(eq(roundSteps.roundId, id));
  await tx.delete(rounds).where(eq(rounds.id, id));
}

/** The rounds of a person before an instant, newest first, with their steps. */
export async function roundsOf(db: Queries, personId: string, before: number, limit: number) {
  const found = await db
    .select()
    .from(rounds)
    .where(and(eq(rounds.personId, personId), lt(rounds.at, new Date(before))))
    .orderBy(desc(rounds.at))
    .limit(limit);
  const steps = await db
    .select()
    .from(roundSteps)
    .where(
      inArray(
        roundSteps.roundId,
        found.map(({ id }) => id),
      ),
    );
  return found.map((round) => ({
    ...round,
    steps: (steps as RoundStepRow[]).filter((step) => step.roundId === round.id),
  }));
}

/**
 * Lets go of contents that are in a tray for nothing but Undo, once that is over. Resolves to those that may have become unused.
 */
export function tidyTrays(db: Queries, t: number): Promise<{ schoolId: string; hash: string }[]> {
  const over = at(t - UNDO_MS);
  return rows<{ schoolId: string; hash: string }>(
    db,
    sql`with gone as (
        delete from tray_files where round_id is null and removed_at < ${over}
        returning school_id, hash),
      placed as (
        update tray_files f set hash = null from rounds r, (select id, hash from tray_files) was
        where r.id = f.round_id and was.id = f.id and r.at < ${over} and f.hash is not null
        returning f.school_id, was.hash)
      select school_id as "schoolId", hash from gone union select school_id, hash from placed`,
  );
}

/** Those of the placements that are there still. */
export async function placementsThere(
  db: Queries,
  ids: readonly string[],
): Promise<ReadonlySet<string>> {
  const found = await rows<{ id: string }>(
    db,
    sql`select id from placements where id = any (${uuids(ids)}) and binned_at is null`,
  );
  return new Set(found.map(({ id }) => id));
}
