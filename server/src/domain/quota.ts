import { eq, sql } from 'drizzle-orm';
import { rows, type Database, type Queries } from '../db/database.ts';
import { announced } from '../db/schema/index.ts';
import type { Settings } from '../settings.ts';
import { AppError } from '../platform/errors.ts';
import type { SignedIn } from '../platform/sessions.ts';
import type { Storage } from '../platform/storage.ts';

/** Uploads that somebody has begun and not ended. */
const MOST_OPEN = 1000;

/** Bytes of all versions of a person's files and pages, pictures on them too, of what is in their tray, and of what their programs have begun, each content counted once, the Bin included; and of their drafts. */
export async function usedBy(db: Queries, personId: string): Promise<number> {
  const [found] = await rows<{ used: number }>(
    db,
    sql`select coalesce(sum(size), 0)::float8 as used from (
      select v.hash, v.size from items i join versions v on v.item_id = i.id where i.owner_id = ${personId}::uuid
      union select w.hash, w.size from items i join page_pictures w on w.item_id = i.id where i.owner_id = ${personId}::uuid
      union select t.hash, t.size from tray_files t where t.person_id = ${personId}::uuid and t.hash is not null
      union select d.hash, d.size from dav_files d where d.person_id = ${personId}::uuid and d.hash is not null
      union all select null, octet_length(html) from page_drafts where person_id = ${personId}::uuid) contents`,
  );
  return found!.used;
}

/** Room for the files of a person, in bytes. */
export function quotaOf(settings: Settings, { kind }: Pick<SignedIn, 'kind'>): number {
  return kind === 'student' ? settings.studentQuota : settings.teacherQuota;
}

/** From here to the end of the transaction nobody else takes any of this person's room. Before any other lock. */
export async function lockRoom(tx: Queries, personId: string): Promise<void> {
  await tx.execute(
    sql`select pg_advisory_xact_lock(hashtextextended('room of ' || ${personId}::text, 0))`,
  );
}

/**
 * Throws `quota-full` where a person has no room for so many bytes more, beside what is announced; not where it is found (`isKnown`) that they
 * have that content already. Under `lockRoom`.
 */
export async function refuseBeyondQuota(
  tx: Queries,
  settings: Settings,
  person: SignedIn,
  more: number,
  isKnown: () => Promise<boolean> = async () => false,
): Promise<void> {
  const { size } = await openUploads(tx, person.id);
  if ((await usedBy(tx, person.id)) + size + more <= quotaOf(settings, person)) return;
  if (!(await isKnown())) throw new AppError('quota-full');
}

async function openUploads(tx: Queries, personId: string) {
  const [found] = await rows<{ size: number; count: number }>(
    tx,
    sql`select coalesce(sum(size), 0)::float8 as size, count(*)::int as count from announced
      where person_id = ${personId}::uuid`,
  );
  return found!;
}

/**
 * Takes room for a file before it is sent: of the person's quota, and of the disk. Throws `quota-full`, `disk-full` and
 * `too-many-uploads`. It is held until the file is placed or given up (`giveUpRoom`).
 */
export async function takeRoom(
  { db, storage, settings }: { db: Database; storage: Storage; settings: Settings },
  person: SignedIn,
  uploadId: string,
  size: number,
  t: number,
): Promise<void> {
  await db.transaction(async (tx) => {
    await lockRoom(tx, person.id);
    if ((await openUploads(tx, person.id)).count >= MOST_OPEN)
      throw new AppError('too-many-uploads');
    await refuseBeyondQuota(tx, settings, person, size);
    await tx.execute(sql`select pg_advisory_xact_lock(hashtextextended('room on the disk', 0))`);
    const [others] = await rows<{ missing: number }>(
      tx,
      sql`select coalesce(sum(size - received), 0)::float8 as missing from announced`,
    );
    if ((await storage.free()) - others!.missing - size < settings.diskReserve)
      throw new AppError('disk-full');
    await tx.insert(announced).values({
      id: uploadId,
      schoolId: person.schoolId,
      personId: person.id,
      size,
      touchedAt: new Date(t),
    });
  });
}

/** Notes how much of an announced file has arrived: that much of the disk is no longer to be kept free for it. */
export async function noteReceived(
  db: Queries,
  uploadId: string,
  received: number,
  t: number,
): Promise<void> {
  await db
    .update(announced)
    .set({ received, touchedAt: new Date(t) })
    .where(eq(announced.id, uploadId));
}

/** Gives room back: the file has been placed, or will not come. */
export async function giveUpRoom(db: Queries, uploadId: string): Promise<void> {
  await db.delete(announced).where(eq(announced.id, uploadId));
}
