import { and, asc, eq } from 'drizzle-orm';
import type { Queries } from '../../db/database.ts';
import { waitingMoves } from '../../db/schema/index.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';

/** Moves that a program wanted and that wait for their person's decision: nothing else writes their table. */

export type WaitingMove = typeof waitingMoves.$inferSelect;

export function waitingMovesOf(db: Queries, personId: string): Promise<WaitingMove[]> {
  return db
    .select()
    .from(waitingMoves)
    .where(eq(waitingMoves.personId, personId))
    .orderBy(asc(waitingMoves.at));
}

/** Notes one; of a thing that waits already only where it is to go now. */
export async function addWaitingMove(
  tx: Queries,
  { id: personId, schoolId }: SignedIn,
  move: Pick<WaitingMove, 'kind' | 'thingId' | 'toFolderId'>,
  t: number,
): Promise<void> {
  const values = { ...move, personId, schoolId, at: new Date(t) };
  await tx
    .insert(waitingMoves)
    .values(values)
    .onConflictDoUpdate({ target: [waitingMoves.personId, waitingMoves.thingId], set: values });
}

/** Waits for nothing any more. Throws `not-found`. */
export async function removeWaitingMove(db: Queries, personId: string, id: string): Promise<void> {
  const removed = await db
    .delete(waitingMoves)
    .where(and(eq(waitingMoves.personId, personId), eq(waitingMoves.id, id)))
    .returning({ id: waitingMoves.id });
  if (removed.length === 0) throw new AppError('not-found');
}
