import type { Colour } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import { rows, uuids, type Queries } from '../../db/database.ts';

/** The current folders of classes, those in the Bin left out. */
export async function currentFoldersOf(
  db: Queries,
  classIds: readonly string[],
): Promise<ReadonlyMap<string, string>> {
  const found = await rows<{ classId: string; folderId: string }>(
    db,
    sql`select s.class_id as "classId", f.id as "folderId"
      from class_pages s join folders f on f.id = s.current_folder_id
      where s.class_id = any (${uuids(classIds)}) and not exists (
        select from folders n where n.id = any (f.path) and n.binned_at is not null)`,
  );
  return new Map(found.map(({ classId, folderId }) => [classId, folderId]));
}

export type MadeOf = {
  hash: string;
  small: string | null;
  text: string | null;
  fingerprint: string | null;
};

/** What was made of contents: whether there is a small picture, how the text begins, and its fingerprint. */
export async function madeOf(
  db: Queries,
  schoolId: string,
  hashes: readonly string[],
  characters: number,
): Promise<ReadonlyMap<string, MadeOf>> {
  const found = await rows<MadeOf>(
    db,
    sql`select h.hash, w.small, left(x.body, ${characters}::int) as text, x.fingerprint
      from unnest(${sql.param([...hashes])}::text[]) h (hash)
        left join previews w on w.school_id = ${schoolId}::uuid and w.hash = h.hash and w.state = 'done'
        left join texts x on x.school_id = ${schoolId}::uuid and x.hash = h.hash`,
  );
  return new Map(found.map((one) => [one.hash, one]));
}

/** The fingerprints of the texts of a person's files. In one text: as rows they would take several times as long. */
export async function fingerprintsOf(db: Queries, ownerId: string) {
  const [found] = await rows<{ all: string | null }>(
    db,
    sql`select string_agg(x.hash || x.fingerprint, '') as all
      from items i join versions v on v.id = i.current_version_id
        join texts x on x.school_id = v.school_id and x.hash = v.hash
      where i.owner_id = ${ownerId}::uuid and i.kind = 'file' and x.fingerprint is not null`,
  );
  const all = found?.all ?? '';
  return Array.from({ length: all.length / PRINTED }, (_, n) => ({
    hash: all.slice(n * PRINTED, n * PRINTED + HASH),
    fingerprint: all.slice(n * PRINTED + HASH, (n + 1) * PRINTED),
  }));
}
/** Characters of a hash, and of that with a fingerprint. */
const HASH = 64;
const PRINTED = HASH + 16;

/** What folders and classes are called, by their ids. */
export async function namesOf(
  db: Queries,
  { folderIds, classIds }: { folderIds: readonly string[]; classIds: readonly string[] },
) {
  const folders = await rows<{ id: string; title: string }>(
    db,
    sql`select id, title from folders where id = any (${uuids(folderIds)}) and binned_at is null`,
  );
  const classes = await rows<{ id: string; code: string; colour: Colour }>(
    db,
    sql`select id, code, colour from classes where id = any (${uuids(classIds)})`,
  );
  return {
    folders: new Map(folders.map((folder) => [folder.id, folder])),
    classes: new Map(classes.map((one) => [one.id, one])),
  };
}
