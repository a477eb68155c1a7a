import { eq } from 'drizzle-orm';
import type { Queries } from '../db/database.ts';
import { items, versions } from '../db/schema/index.ts';

/** Adds a version, which becomes the one people get; resolves to its id. Only within a transaction. */
export async function addVersion(
  tx: Queries,
  values: typeof versions.$inferInsert,
): Promise<string> {
  const [made] = await tx.insert(versions).values(values).returning({ id: versions.id });
  await tx.update(items).set({ currentVersionId: made!.id }).where(eq(items.id, values.itemId));
  return made!.id;
}
