import { and, eq, sql } from 'drizzle-orm';
import { at, iso, rows, uuids, type Queries } from '../../db/database.ts';
import { pageDrafts, pagePictures, versionPictures } from '../../db/schema/index.ts';
import { addVersion, rewriteVersion, type VersionFacts } from '../versions.ts';

/** Drafts of pages and their pictures: nothing else writes them. */

type Draft = typeof pageDrafts.$inferInsert;
type Picture = typeof pagePictures.$inferSelect;

/** Saves a draft in place of the one that the person has. */
export async function saveDraft(tx: Queries, draft: Draft): Promise<void> {
  await tx
    .insert(pageDrafts)
    .values(draft)
    .onConflictDoUpdate({ target: [pageDrafts.itemId, pageDrafts.personId], set: draft });
}

/** Drops the draft that the person has of a page, if there is one. */
export async function dropDraft(tx: Queries, itemId: string, personId: string): Promise<void> {
  await tx
    .delete(pageDrafts)
    .where(and(eq(pageDrafts.itemId, itemId), eq(pageDrafts.personId, personId)));
}

/** The draft that the person has of a page: when it was saved, and how many bytes it has; null where there is none. */
export async function draftBy(tx: Queries, itemId: string, personId: string) {
  const [found] = await rows<{ savedAt: string; bytes: number }>(
    tx,
    sql`select ${iso(sql`saved_at`)} as "savedAt", octet_length(html) as bytes from page_drafts
      where item_id = ${itemId}::uuid and person_id = ${personId}::uuid`,
  );
  return found ?? null;
}

/** All drafts of a page, with the names of those who write them. */
export function draftsOf(db: Queries, itemId: string) {
  return rows<{ personId: string; name: string; html: string; base: number; savedAt: string }>(
    db,
    sql`select d.person_id as "personId", p.name, d.html, d.base, ${iso(sql`d.saved_at`)} as "savedAt"
      from page_drafts d join people p on p.id = d.person_id where d.item_id = ${itemId}::uuid order by d.saved_at desc`,
  );
}

/** Adds a picture to a page; one that it has already stays. */
export async function addPicture(tx: Queries, picture: Omit<Picture, 'addedAt'>): Promise<void> {
  await tx.insert(pagePictures).values(picture).onConflictDoNothing();
}

/** The version of a page that readers get from now on; pictures that the page does not have are left out of it. */
export async function addPageVersion(
  tx: Queries,
  itemId: string,
  facts: VersionFacts,
  pictures: readonly string[],
): Promise<string> {
  const versionId = await addVersion(tx, itemId, facts);
  await putPictures(tx, { itemId, versionId }, pictures);
  return versionId;
}

/** Gives the version that readers get another text, under the same number. */
export async function rewritePageVersion(
  tx: Queries,
  version: { readonly id: string; readonly itemId: string },
  facts: Pick<VersionFacts, 'hash' | 'size' | 'createdAt'>,
  pictures: readonly string[],
): Promise<void> {
  const { id: versionId, itemId } = version;
  await tx.delete(versionPictures).where(eq(versionPictures.versionId, versionId));
  await putPictures(tx, { itemId, versionId }, pictures);
  await rewriteVersion(tx, version, facts);
}

async function putPictures(
  tx: Queries,
  { itemId, versionId }: { readonly itemId: string; readonly versionId: string },
  pictures: readonly string[],
): Promise<void> {
  await tx.execute(
    sql`insert into version_pictures (school_id, version_id, item_id, hash)
      select school_id, ${versionId}::uuid, item_id, hash from page_pictures
      where item_id = ${itemId}::uuid and hash = any (${sql.param([...pictures])}::text[])`,
  );
}

/** Gives a version the pictures of another one of the same page, or of the page of which it is a copy. */
export async function copyPictures(
  tx: Queries,
  from: string,
  to: { readonly itemId: string; readonly versionId: string },
  t: number,
): Promise<void> {
  await takeOverPictures(tx, from, to.itemId, t);
  await tx.execute(
    sql`insert into version_pictures (school_id, version_id, item_id, hash)
      select school_id, ${to.versionId}::uuid, ${to.itemId}::uuid, hash from version_pictures where version_id = ${from}::uuid`,
  );
}

/** Gives pages the pictures of the newest versions of others, of which they are copies. */
export async function copyAllPictures(
  tx: Queries,
  those: readonly { readonly itemId: string; readonly sourceId: string }[],
  t: number,
): Promise<void> {
  const pairs = sql`unnest(${uuids(those.map(({ itemId }) => itemId))}, ${uuids(those.map(({ sourceId }) => sourceId))}) w (item_id, source_id)
    join items s on s.id = w.source_id join version_pictures x on x.version_id = s.current_version_id`;
  await tx.execute(
    sql`insert into page_pictures (school_id, item_id, hash, size, media_type, added_at)
      select p.school_id, w.item_id, p.hash, p.size, p.media_type, ${at(t)}
      from ${pairs} join page_pictures p on p.item_id = x.item_id and p.hash = x.hash`,
  );
  await tx.execute(
    sql`insert into version_pictures (school_id, version_id, item_id, hash)
      select x.school_id, i.current_version_id, w.item_id, x.hash from ${pairs} join items i on i.id = w.item_id`,
  );
}

/** Gives a page the pictures of a version of another one. Resolves to how many bytes it has got more. */
export async function takeOverPictures(
  tx: Queries,
  versionId: string,
  itemId: string,
  t: number,
): Promise<number> {
  const taken = await rows<{ size: number }>(
    tx,
    sql`insert into page_pictures (school_id, item_id, hash, size, media_type, added_at)
      select w.school_id, ${itemId}::uuid, w.hash, w.size, w.media_type, ${at(t)}
      from version_pictures x join page_pictures w on w.item_id = x.item_id and w.hash = x.hash
      where x.version_id = ${versionId}::uuid
      on conflict do nothing returning size::float8 as size`,
  );
  return taken.reduce((sum, { size }) => sum + size, 0);
}

/** What readers of pages get, by the placements of the pages; `size` in bytes. */
export function shownPages(db: Queries, placementIds: readonly string[]) {
  return rows<{ placementId: string; schoolId: string; hash: string; size: number }>(
    db,
    sql`select p.id as "placementId", v.school_id as "schoolId", v.hash, v.size::float8 as size
      from placements p join items i on i.id = p.item_id join versions v on v.id = i.current_version_id
      where p.id = any (${uuids(placementIds)}) and i.kind = 'page'`,
  );
}

/** A picture of a version of a page. */
export interface PagePicture extends Record<string, unknown> {
  readonly versionId: string;
  readonly schoolId: string;
  readonly hash: string;
  readonly mediaType: string;
}

/** The pictures of versions. */
export function picturesOf(db: Queries, versionIds: readonly string[]): Promise<PagePicture[]> {
  return rows<PagePicture>(
    db,
    sql`select x.version_id as "versionId", w.school_id as "schoolId", w.hash, w.media_type as "mediaType"
      from version_pictures x join page_pictures w on w.item_id = x.item_id and w.hash = x.hash
      where x.version_id = any (${uuids(versionIds)}) order by w.added_at, w.hash`,
  );
}

/** A picture that is in a version; null where it is not. */
export async function pictureIn(db: Queries, versionId: string, hash: string) {
  const [found] = await db
    .select({ picture: pagePictures })
    .from(versionPictures)
    .innerJoin(
      pagePictures,
      and(
        eq(pagePictures.itemId, versionPictures.itemId),
        eq(pagePictures.hash, versionPictures.hash),
      ),
    )
    .where(and(eq(versionPictures.versionId, versionId), eq(versionPictures.hash, hash)));
  return found?.picture ?? null;
}

/** A picture that a page has, in whatever draft or version; null where it has not. */
export async function pictureOf(db: Queries, itemId: string, hash: string) {
  const [found] = await db
    .select()
    .from(pagePictures)
    .where(and(eq(pagePictures.itemId, itemId), eq(pagePictures.hash, hash)));
  return found ?? null;
}
