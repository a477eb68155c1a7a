import { and, eq, gt, lte } from 'drizzle-orm';
import type { Queries } from '../../db/database.ts';
import { davLocks } from '../../db/schema/index.ts';
import type { SignedIn } from '../../platform/sessions.ts';

/** Locks of programs: nothing else writes their table. Each person has folders of their own, and sees their own locks. */

export type DavLock = typeof davLocks.$inferSelect;

/** So many a person holds at most. */
export const MOST_LOCKS = 2000;

/** The locks of a person that hold. */
export function locksOf(db: Queries, personId: string, t: number): Promise<DavLock[]> {
  return db
    .select()
    .from(davLocks)
    .where(and(eq(davLocks.personId, personId), gt(davLocks.endsAt, new Date(t))));
}

export async function addLock(
  tx: Queries,
  { id: personId, schoolId }: SignedIn,
  lock: Omit<DavLock, 'schoolId' | 'personId'>,
  t: number,
): Promise<void> {
  await tx
    .delete(davLocks)
    .where(and(eq(davLocks.personId, personId), lte(davLocks.endsAt, new Date(t))));
  await tx.insert(davLocks).values({ ...lock, personId, schoolId });
}

export async function renewLock(tx: Queries, token: string, endsAt: Date): Promise<void> {
  await tx.update(davLocks).set({ endsAt }).where(eq(davLocks.token, token));
}

export async function removeLock(tx: Queries, token: string): Promise<void> {
  await tx.delete(davLocks).where(eq(davLocks.token, token));
}
