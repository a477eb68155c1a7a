import { sql } from 'drizzle-orm';
import { rows, type Database } from '../db/database.ts';
import { hashOf, type Storage } from '../platform/storage.ts';
import { sweep } from './contents.ts';

/** A content that records speak of and that is not there as they say, with the files that want it. */
export interface Damage {
  readonly schoolId: string;
  readonly hash: string;
  readonly fault: 'missing' | 'wrong-size' | 'changed';
  readonly titles: readonly string[];
}

export interface Findings {
  /** Contents that no record speaks of: a server that was stopped left them, and they have been removed. */
  readonly removed: number;
  /** Files of writes that were cut short, removed as well. */
  readonly tidied: number;
  readonly damaged: readonly Damage[];
}

const AT_ONCE = 500;
/** A write that has not ended by then never will. */
const CUT_SHORT_MS = 24 * 60 * 60 * 1000;

/**
 * Holds file contents and records against each other: contents without a record are removed, records without their
 * content are told. `deep` reads every content as well and compares it with its name.
 */
export async function examine(
  { db, storage }: { db: Database; storage: Storage },
  t: number,
  { deep = false } = {},
): Promise<Findings> {
  const tidied = await storage.tidy(t - CUT_SHORT_MS);
  let removed = 0;
  for await (const batch of batches(storage.contents())) {
    const known = await recorded(db, batch);
    const left = batch.filter(({ schoolId, hash }) => !known.has(`${schoolId} ${hash}`));
    removed += await sweep(db, storage, left);
  }
  const damaged: Damage[] = [];
  for await (const batch of batches(records(db)))
    for (const { schoolId, hash, size } of batch) {
      const fault = await faultOf(storage, { schoolId, hash, size }, deep);
      if (fault)
        damaged.push({ schoolId, hash, fault, titles: await titlesOf(db, schoolId, hash) });
    }
  return { removed, tidied, damaged };
}

interface Content {
  readonly schoolId: string;
  readonly hash: string;
  readonly size: number;
}

async function faultOf(
  storage: Storage,
  { schoolId, hash, size }: Content,
  deep: boolean,
): Promise<Damage['fault'] | null> {
  const stored = await storage.stat({ schoolId, hash });
  if (!stored) return 'missing';
  if (stored.size !== size) return 'wrong-size';
  if (!deep) return null;
  const content = await storage.open({ schoolId, hash });
  if (!content) return 'missing';
  return (await hashOf(content)) === hash ? null : 'changed';
}

async function* batches<T>(all: AsyncIterable<T>): AsyncGenerator<T[]> {
  let batch: T[] = [];
  for await (const one of all) {
    batch.push(one);
    if (batch.length < AT_ONCE) continue;
    yield batch;
    batch = [];
  }
  if (batch.length > 0) yield batch;
}

/** Which of these contents there is a record of. */
async function recorded(db: Database, contents: readonly Content[]): Promise<ReadonlySet<string>> {
  const found = await rows<{ schoolId: string; hash: string }>(
    db,
    sql`select school_id as "schoolId", hash from blobs
      where hash = any (${sql.param(contents.map(({ hash }) => hash))}::text[])`,
  );
  return new Set(found.map(({ schoolId, hash }) => `${schoolId} ${hash}`));
}

/** Every record of a content, page by page. */
async function* records(db: Database): AsyncGenerator<Content> {
  let after = { schoolId: '00000000-0000-0000-0000-000000000000', hash: '' };
  for (;;) {
    const page = await rows<Content & Record<string, unknown>>(
      db,
      sql`select school_id as "schoolId", hash, size::float8 as size from blobs
        where (school_id, hash) > (${after.schoolId}::uuid, ${after.hash})
        order by school_id, hash limit ${AT_ONCE}`,
    );
    yield* page;
    const last = page.at(-1);
    if (!last || page.length < AT_ONCE) return;
    after = last;
  }
}

async function titlesOf(db: Database, schoolId: string, hash: string): Promise<string[]> {
  const found = await rows<{ title: string }>(
    db,
    sql`select distinct i.title from versions v join items i on i.id = v.item_id
      where v.school_id = ${schoolId}::uuid and v.hash = ${hash} order by i.title limit 5`,
  );
  return found.map(({ title }) => title);
}
