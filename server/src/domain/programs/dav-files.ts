import { and, eq, inArray, lt, sql } from 'drizzle-orm';
import type { Queries } from '../../db/database.ts';
import { davFiles } from '../../db/schema/index.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';

/** Files that only a program's own person sees while it works: nothing else writes their table. */

export type DavFile = typeof davFiles.$inferSelect;

/** So many a person has at most, and so long one is kept without being touched, in milliseconds. */
const MOST = 500;
const KEPT_MS = 24 * 60 * 60 * 1000;

export function davFilesIn(db: Queries, personId: string, parent: string): Promise<DavFile[]> {
  return db
    .select()
    .from(davFiles)
    .where(and(eq(davFiles.personId, personId), eq(davFiles.parent, parent)));
}

export async function davFileNamed(
  db: Queries,
  personId: string,
  parent: string,
  nameKey: string,
): Promise<DavFile | null> {
  const [found] = await db
    .select()
    .from(davFiles)
    .where(
      and(
        eq(davFiles.personId, personId),
        eq(davFiles.parent, parent),
        eq(davFiles.nameKey, nameKey),
      ),
    );
  return found ?? null;
}

/** Writes one, in place of one of the same name. Throws `quota-full` where there are too many. */
export async function writeDavFile(
  tx: Queries,
  { id: personId, schoolId }: SignedIn,
  file: Pick<DavFile, 'parent' | 'name' | 'nameKey' | 'hash' | 'size' | 'mediaType'> &
    Partial<Pick<DavFile, 'placementId'>>,
  t: number,
): Promise<DavFile> {
  const [count] = await tx
    .select({ n: sql<number>`count(*)::int` })
    .from(davFiles)
    .where(eq(davFiles.personId, personId));
  if (count!.n >= MOST) throw new AppError('quota-full');
  const values = { ...file, personId, schoolId, changedAt: new Date(t) };
  const [made] = await tx
    .insert(davFiles)
    .values(values)
    .onConflictDoUpdate({
      target: [davFiles.personId, davFiles.parent, davFiles.nameKey],
      set: { ...values, placementId: file.placementId ?? null },
    })
    .returning();
  return made!;
}

export async function moveDavFile(
  tx: Queries,
  id: string,
  to: Pick<DavFile, 'parent' | 'name' | 'nameKey'>,
): Promise<void> {
  await tx.update(davFiles).set(to).where(eq(davFiles.id, id));
}

export async function removeDavFiles(tx: Queries, ids: readonly string[]): Promise<void> {
  if (ids.length > 0) await tx.delete(davFiles).where(inArray(davFiles.id, [...ids]));
}

/** Lets go of what programs have left behind. Resolves to the contents that may have become unused. */
export async function tidyDavFiles(
  db: Queries,
  t: number,
): Promise<{ schoolId: string; hash: string }[]> {
  const gone = await db
    .delete(davFiles)
    .where(lt(davFiles.changedAt, new Date(t - KEPT_MS)))
    .returning({ schoolId: davFiles.schoolId, hash: davFiles.hash });
  return gone.flatMap(({ schoolId, hash }) => (hash === null ? [] : { schoolId, hash }));
}
