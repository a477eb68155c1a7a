import { fingerprint } from '@sammlung/core';
import { sql } from 'drizzle-orm';
import { rows, type Database, type Queries } from '../db/database.ts';
import { blobs, previews, texts } from '../db/schema/index.ts';
import { isPreparable } from './previews.ts';
import type { Storage } from '../platform/storage.ts';

/** Whoever lays a content down or clears it away holds this lock until the transaction ends. */
export async function lockContent(tx: Queries, schoolId: string, hash: string): Promise<void> {
  await tx.execute(
    sql`select pg_advisory_xact_lock(hashtextextended(${`content ${schoolId} ${hash}`}, 0))`,
  );
}

/** How much of a text stands for it where there is no picture of it, in characters. */
export const OPENING = 400;

/**
 * Notes that a content is there, and what is written in it (`text`), or that this can be made where that is so. Under
 * `lockContent`.
 */
export async function recordContent(
  tx: Queries,
  content: typeof blobs.$inferInsert & { mediaType?: string; text?: string },
): Promise<void> {
  const { schoolId, hash, size, mediaType, text } = content;
  await tx.insert(blobs).values({ schoolId, hash, size }).onConflictDoNothing();
  if (text !== undefined)
    await tx
      .insert(texts)
      .values({
        ...{ schoolId, hash, body: text, opening: text.slice(0, OPENING) },
        fingerprint: fingerprint(text),
      })
      .onConflictDoNothing();
  else if (mediaType && isPreparable(mediaType))
    await tx.insert(previews).values({ schoolId, hash, mediaType }).onConflictDoNothing();
}

/** Keeps a page and notes it; `kept` has it from then on, to be swept where nothing comes of it. */
export async function keepPage(
  tx: Queries,
  storage: Pick<Storage, 'put'>,
  schoolId: string,
  { html, text }: { readonly html: string; readonly text: string },
  kept: { schoolId: string; hash: string }[],
): Promise<{ hash: string; size: number }> {
  const content = await storage.put(schoolId, Buffer.from(html));
  kept.push({ schoolId, hash: content.hash });
  await recordContent(tx, { schoolId, ...content, text });
  return content;
}

/**
 * Clears away those of the contents that no version, page, tray or program uses, whether there is still a record of them or not: the file first,
 * so that no file is forgotten. Resolves to how many were.
 */
export async function sweep(
  db: Database,
  storage: Pick<Storage, 'delete'>,
  contents: readonly { schoolId: string; hash: string }[],
): Promise<number> {
  let cleared = 0;
  for (const { schoolId, hash } of contents)
    await db.transaction(async (tx) => {
      await lockContent(tx, schoolId, hash);
      const used = await rows(
        tx,
        sql`select from versions where school_id = ${schoolId}::uuid and hash = ${hash}
          union all select from page_pictures where school_id = ${schoolId}::uuid and hash = ${hash}
          union all select from tray_files where school_id = ${schoolId}::uuid and hash = ${hash}
          union all select from dav_files where school_id = ${schoolId}::uuid and hash = ${hash} limit 1`,
      );
      if (used.length > 0) return;
      await tx.execute(
        sql`delete from blobs where school_id = ${schoolId}::uuid and hash = ${hash}`,
      );
      await storage.delete(schoolId, hash);
      cleared += 1;
    });
  return cleared;
}
