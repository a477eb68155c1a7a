import { and, desc, eq, lt, sql } from 'drizzle-orm';
import { rows, uuids, type Queries } from '../db/database.ts';
import { items, openingCounts, openings, uploads, versions } from '../db/schema/index.ts';
import { AppError } from '../platform/errors.ts';

/** The states of files: nothing else writes them. All of it only within a transaction. */

type Version = typeof versions.$inferSelect;

/** What a version holds, and whence it comes. */
export type VersionFacts = Pick<
  Version,
  'schoolId' | 'hash' | 'size' | 'mediaType' | 'originalName' | 'createdBy' | 'createdAt'
> &
  Partial<Pick<Version, 'whileWriting'>>;

/** Adds the next version of a file, which becomes the one people get; resolves to its id. */
export async function addVersion(
  tx: Queries,
  itemId: string,
  {
    schoolId,
    hash,
    size,
    mediaType,
    originalName,
    createdBy,
    createdAt,
    whileWriting,
  }: VersionFacts,
): Promise<string> {
  await lockItem(tx, itemId);
  const [newest] = await rows<{ number: number }>(
    tx,
    sql`select coalesce(max(number), 0) as number from versions where item_id = ${itemId}::uuid`,
  );
  const [made] = await tx
    .insert(versions)
    .values({
      ...{
        schoolId,
        itemId,
        hash,
        size,
        mediaType,
        originalName,
        createdBy,
        createdAt,
        whileWriting,
      },
      number: newest!.number + 1,
    })
    .returning({ id: versions.id });
  await tx.update(items).set({ currentVersionId: made!.id }).where(eq(items.id, itemId));
  return made!.id;
}

/** Gives the version that people get another content, under the same number. */
export async function rewriteVersion(
  tx: Queries,
  { id, itemId }: Pick<Version, 'id' | 'itemId'>,
  { hash, size, createdAt }: Pick<VersionFacts, 'hash' | 'size' | 'createdAt'>,
): Promise<void> {
  await tx.update(versions).set({ hash, size, createdAt }).where(eq(versions.id, id));
  // Open pages are told of changes of items.
  await tx.update(items).set({ currentVersionId: id }).where(eq(items.id, itemId));
}

/** Gives an item that was made in this transaction its first version; resolves to its id. */
export async function addFirstVersion(
  tx: Queries,
  itemId: string,
  facts: VersionFacts,
): Promise<string> {
  const [made] = await tx
    .insert(versions)
    .values({ ...facts, itemId, number: 1 })
    .returning({ id: versions.id });
  await tx.update(items).set({ currentVersionId: made!.id }).where(eq(items.id, itemId));
  return made!.id;
}

/**
 * Gives items that were made in this transaction the newest version of others as their first one, or that with another content. Those of which there
 * is no version yet stay without.
 */
export async function copyVersions(
  tx: Queries,
  { createdBy, createdAt }: Pick<VersionFacts, 'createdBy' | 'createdAt'>,
  those: readonly {
    itemId: string;
    sourceId: string;
    content: Pick<VersionFacts, 'hash' | 'size'> | null;
  }[],
): Promise<void> {
  await tx.execute(
    sql`with made as (
        insert into versions (school_id, item_id, number, hash, size, media_type, original_name, created_by, created_at)
        select v.school_id, w.item_id, 1, coalesce(w.hash, v.hash), coalesce(w.size, v.size), v.media_type, v.original_name, ${createdBy}::uuid,
          ${sql.param(createdAt)}::timestamptz
        from unnest(${uuids(those.map(({ itemId }) => itemId))}, ${uuids(those.map(({ sourceId }) => sourceId))},
            ${sql.param(those.map(({ content }) => content?.hash ?? null))}::text[], ${sql.param(those.map(({ content }) => content?.size ?? null))}::bigint[])
            w (item_id, source_id, hash, size)
          join items s on s.id = w.source_id join versions v on v.id = s.current_version_id
        returning id, item_id)
      update items i set current_version_id = made.id from made where i.id = made.item_id`,
  );
}

/**
 * Takes the newest version out of a file: the one before it is what people get again. Resolves to what it was. Throws
 * `changed-since` when there is a newer one by now, or none before it.
 */
export async function withdrawVersion(tx: Queries, versionId: string): Promise<Version> {
  const find = () => tx.select().from(versions).where(eq(versions.id, versionId));
  const [known] = await find();
  if (known) await lockItem(tx, known.itemId);
  const [version] = await find();
  if (!version) throw new AppError('changed-since');
  const { itemId, number } = version;
  const [item] = await tx.select().from(items).where(eq(items.id, itemId));
  const [earlier] = await tx
    .select({ id: versions.id })
    .from(versions)
    .where(and(eq(versions.itemId, itemId), lt(versions.number, number)))
    .orderBy(desc(versions.number))
    .limit(1);
  if (item?.currentVersionId !== versionId || !earlier) throw new AppError('changed-since');
  await tx.update(items).set({ currentVersionId: earlier.id }).where(eq(items.id, itemId));
  await tx.delete(openings).where(eq(openings.versionId, versionId));
  await tx.delete(openingCounts).where(eq(openingCounts.versionId, versionId));
  await tx.update(uploads).set({ versionId: null }).where(eq(uploads.versionId, versionId));
  await tx.delete(versions).where(eq(versions.id, versionId));
  return version;
}

/** A version of a file, by its id; null where the file has no such one. */
export async function versionById(
  db: Queries,
  itemId: string,
  versionId: string,
): Promise<Version | null> {
  const [found] = await db
    .select()
    .from(versions)
    .where(and(eq(versions.id, versionId), eq(versions.itemId, itemId)));
  return found ?? null;
}

/** Those of the items that have more than one version. */
export async function itemsWithVersions(
  db: Queries,
  itemIds: readonly string[],
): Promise<string[]> {
  const found = await rows<{ id: string }>(
    db,
    sql`select item_id as id from versions where item_id = any (${uuids(itemIds)}) group by item_id having count(*) > 1`,
  );
  return found.map(({ id }) => id);
}

/** Versions of one file are written one after the other. */
async function lockItem(tx: Queries, itemId: string): Promise<void> {
  await tx.execute(sql`select from items where id = ${itemId}::uuid for update`);
}
