import { and, eq, isNull } from 'drizzle-orm';
import type { Queries } from '../db/database.ts';
import { handOvers } from '../db/schema/index.ts';

/** What was handed from one teacher to another: nothing else writes its table. */

export type HandOver = typeof handOvers.$inferSelect;

export async function noteHandOver(
  tx: Queries,
  made: typeof handOvers.$inferInsert,
): Promise<string> {
  const [noted] = await tx.insert(handOvers).values(made).returning({ id: handOvers.id });
  return noted!.id;
}

/** Notes that it was undone; null where there is none in this school, or it was before. */
export async function noteUndone(
  tx: Queries,
  schoolId: string,
  id: string,
  t: number,
): Promise<HandOver | null> {
  const [found] = await tx
    .update(handOvers)
    .set({ undoneAt: new Date(t) })
    .where(and(eq(handOvers.id, id), eq(handOvers.schoolId, schoolId), isNull(handOvers.undoneAt)))
    .returning();
  return found ?? null;
}
