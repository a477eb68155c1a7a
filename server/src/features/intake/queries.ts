import type { Crumb } from '@sammlung/contract';
import { and, eq, lt, sql } from 'drizzle-orm';
import { rows, type Queries } from '../../db/database.ts';
import { announced, items, placements, uploads, versions } from '../../db/schema/index.ts';

/** The other folders of a person in which an item lies. */
export function placesOf(db: Queries, personId: string, itemId: string, folderId: string) {
  return rows<Crumb>(
    db,
    sql`select f.id, f.title from placements p join folders f on f.id = p.folder_id
      where p.item_id = ${itemId}::uuid and p.binned_at is null and f.id <> ${folderId}::uuid
        and f.owner_id = ${personId}::uuid
      order by f.title collate natural_order`,
  );
}

/** Which of these sizes a file of the person's has. */
export async function sizesOf(
  db: Queries,
  personId: string,
  sizes: readonly number[],
): Promise<number[]> {
  const found = await rows<{ size: number }>(
    db,
    sql`select distinct v.size::float8 as size from items i join versions v on v.id = i.current_version_id
      where i.owner_id = ${personId}::uuid and v.size = any (${sql.param([...sizes])}::bigint[])`,
  );
  return found.map(({ size }) => size);
}

/** What is known of a content that a file of the person's has; null where none has it. */
export async function ownContent(tx: Queries, personId: string, hash: string) {
  const [found] = await tx
    .select({ size: versions.size, mediaType: versions.mediaType })
    .from(versions)
    .innerJoin(items, eq(items.currentVersionId, versions.id))
    .where(and(eq(versions.hash, hash), eq(items.ownerId, personId)))
    .limit(1);
  return found ?? null;
}

type Upload = typeof uploads.$inferSelect;

/** Notes what became of an upload. */
export async function noteUpload(tx: Queries, upload: Upload): Promise<void> {
  await tx.insert(uploads).values(upload);
}

/** The first file of a batch in a folder whose title follows another one; null where none does. */
export async function nextInBatch(
  tx: Queries,
  { batch, folderId, title }: { batch: string; folderId: string; title: string },
): Promise<string | null> {
  const [next] = await rows<{ id: string }>(
    tx,
    sql`select p.id from uploads u
        join placements p on p.id = u.placement_id and p.folder_id = u.folder_id and p.binned_at is null
        join items i on i.id = p.item_id
      where u.folder_id = ${folderId}::uuid and u.batch = ${batch}::uuid and u.outcome in ('new', 'placed')
        and i.title collate natural_order > ${title}
      order by i.title collate natural_order limit 1`,
  );
  return next?.id ?? null;
}

/** Something else has become of an upload. */
export async function changeUpload(
  tx: Queries,
  id: string,
  change: Partial<Pick<Upload, 'outcome' | 'placementId' | 'versionId'>>,
): Promise<void> {
  await tx.update(uploads).set(change).where(eq(uploads.id, id));
}

const ofPerson = (personId: string, uploadId: string) =>
  and(eq(uploads.id, uploadId), eq(uploads.personId, personId));

/** An upload of the person's that has been placed, locked until the transaction ends. */
export async function lockUpload(tx: Queries, personId: string, uploadId: string) {
  const [found] = await tx.select().from(uploads).where(ofPerson(personId, uploadId)).for('update');
  return found ?? null;
}

/** The same with the file that it became, where it became one. */
export async function uploadById(db: Queries, personId: string, uploadId: string) {
  const [found] = await db
    .select({
      placementId: uploads.placementId,
      outcome: uploads.outcome,
      given: uploads.givenName,
      itemId: items.id,
      title: items.title,
      extension: items.extension,
      version: versions.number,
      folderId: uploads.folderId,
    })
    .from(uploads)
    .leftJoin(placements, eq(placements.id, uploads.placementId))
    .leftJoin(items, eq(items.id, placements.itemId))
    .leftJoin(versions, eq(versions.id, items.currentVersionId))
    .where(ofPerson(personId, uploadId));
  return found ?? null;
}

/** Uploads under way that nobody has gone on with since `before`: all, or those of a person. */
export async function idleUploads(
  db: Queries,
  before: Date,
  personId: string | null,
): Promise<string[]> {
  const found = await db
    .select({ id: announced.id })
    .from(announced)
    .where(
      and(
        lt(announced.touchedAt, before),
        ...(personId === null ? [] : [eq(announced.personId, personId)]),
      ),
    );
  return found.map(({ id }) => id);
}
