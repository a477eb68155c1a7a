import {
  allows,
  intake,
  lessonDateIn,
  nameKey,
  type FileName,
  type Intake,
  type SameName,
} from '@sammlung/core';
import { sql } from 'drizzle-orm';
import { at, rows, type Queries } from '../../db/database.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Settings } from '../../settings.ts';
import type { SeenFolder } from '../access/folders.ts';
import { mayChangeItem } from '../access/rights.ts';
import { recordContent } from '../contents.ts';
import { addItem, addPlacement, unbinPlacement } from '../placements.ts';
import { refuseBeyondQuota } from '../quota.ts';
import { addFirstVersion, addVersion } from '../versions.ts';

/** A file that is to be put into a folder. */
export interface PutFile {
  readonly hash: string;
  /** In bytes. */
  readonly size: number;
  readonly mediaType: string;
  readonly name: FileName;
  /** Its name as it was given. */
  readonly given: string;
  readonly sameName: SameName;
  /** Before which placement of the folder an item of this title is to be; null: after the last one. */
  readonly before?: (title: string) => Promise<string | null>;
}

/** How a content that is not there yet is kept, once it is sure that it will be used. */
export interface FreshContent {
  readonly keep: () => Promise<void>;
  readonly settings: Settings;
}

/** What became of a file. */
export interface Put {
  readonly outcome: Intake['outcome'];
  readonly placementId: string | null;
  readonly versionId: string | null;
}

/**
 * Puts a file into a folder to which the person may add; core/intake says what becomes of it. Files that arrive in one
 * folder at the same time wait for each other. `fresh` keeps content that is not there yet, within the quota; null for what
 * is. Under `lockContent`. Throws `name-taken`, `quota-full`.
 */
export async function putFile(
  tx: Queries,
  person: SignedIn,
  folder: SeenFolder,
  file: PutFile,
  t: number,
  fresh: FreshContent | null,
): Promise<Put> {
  const { schoolId } = person;
  const folderId = folder.id;
  await lockIntake(tx, folderId);
  const known = await existingElsewhere(tx, person, file.hash);
  // What is in a place of a hand-in box is nowhere else.
  const elsewhere = folder.placeId ? [] : known;
  const here = await existingIn(tx, folderId, {
    hash: file.hash,
    keys: elsewhere.map((other) => nameKey(other.name)),
    // The one of the same name, and what a free title must not be either: `title 2` and so on.
    beginning: nameKey(file.name.title).slice(0, 20),
  });
  const decided = intake(file.name, file.hash, here, elsewhere, file.sameName);
  const sameNamed =
    'itemId' in decided ? here.find((lying) => lying.itemId === decided.itemId) : undefined;
  if (decided.outcome === 'version' && !mayAddVersion(person, folder, sameNamed!))
    throw new AppError('name-taken');
  if (fresh && (decided.outcome === 'new' || decided.outcome === 'version')) {
    if (known.length === 0) await refuseBeyondQuota(tx, fresh.settings, person, file.size);
    await fresh.keep();
    await recordContent(tx, { schoolId, ...file });
  }
  const createdAt = new Date(t);
  const version = {
    schoolId,
    hash: file.hash,
    size: file.size,
    mediaType: file.mediaType,
    originalName: file.given,
    createdBy: person.id,
    createdAt,
  };
  const putting = { schoolId, addedBy: person.id, addedAt: createdAt };
  const place = async (itemId: string) =>
    addPlacement(
      tx,
      { ...putting, folderId, itemId },
      (await file.before?.(file.name.title)) ?? null,
    );
  let placementId: string | null = null;
  let versionId: string | null = null;
  if (decided.outcome === 'new') {
    const { extension } = file.name;
    const today = new Intl.DateTimeFormat('sv-SE', { timeZone: person.timeZone }).format(createdAt);
    const itemId = await addItem(tx, {
      ...{ schoolId, ownerId: person.id, kind: 'file', title: decided.title, extension },
      ...{ lessonDate: lessonDateIn(file.name.title, today), createdAt },
    });
    versionId = await addVersion(tx, itemId, version);
    placementId = await place(itemId);
  } else if (decided.outcome === 'placed') {
    placementId = await place(decided.itemId);
  } else if (decided.outcome !== 'skipped') {
    placementId = sameNamed!.placementId;
    if (decided.outcome === 'version') versionId = await addVersion(tx, sameNamed!.itemId, version);
  }
  return { outcome: decided.outcome, placementId, versionId };
}

/** A file that has been stored and is to be in a folder under exactly its name. */
export type NamedFile = Omit<PutFile, 'sameName' | 'before'> & {
  readonly lessonDate?: string | null;
};

/** One of the same name that the person took out of the folder a moment ago is what is written again: so long, in milliseconds. */
const JUST_REMOVED_MS = 10 * 60 * 1000;

/**
 * Puts a stored content into a folder under exactly this name: as the next version of the file that has it, or had it until a moment ago, else
 * as a file of its own, whatever else has the same content. Under `lockRoom` and `lockContent`. Throws `name-taken`, `quota-full`.
 */
export async function putNamed(
  tx: Queries,
  person: SignedIn,
  folder: SeenFolder,
  file: NamedFile,
  t: number,
  settings: Settings,
): Promise<{ placementId: string; created: boolean }> {
  const { schoolId } = person;
  await lockIntake(tx, folder.id);
  const key = nameKey(file.name.name);
  const named = await filesNamed(tx, person.id, folder.id, key, t - JUST_REMOVED_MS);
  const there = named.find(({ binned }) => !binned);
  if (there?.hash === file.hash) return { placementId: there.placementId, created: false };
  if (there && !mayAddVersion(person, folder, there)) throw new AppError('name-taken');
  const isKnown = async () => (await existingElsewhere(tx, person, file.hash)).length > 0;
  await refuseBeyondQuota(tx, settings, person, file.size, isKnown);
  await recordContent(tx, { schoolId, ...file });
  const createdAt = new Date(t);
  const version = {
    ...{ schoolId, hash: file.hash, size: file.size, mediaType: file.mediaType },
    ...{ originalName: file.given, createdBy: person.id, createdAt },
  };
  if (there) {
    await addVersion(tx, there.itemId, version);
    return { placementId: there.placementId, created: false };
  }
  const removed = named.find(({ binned }) => binned);
  if (removed) {
    await unbinPlacement(tx, removed.placementId, { folderId: folder.id, last: false });
    if (removed.hash !== file.hash) await addVersion(tx, removed.itemId, version);
    return { placementId: removed.placementId, created: true };
  }
  const { title, extension } = file.name;
  const today = new Intl.DateTimeFormat('sv-SE', { timeZone: person.timeZone }).format(createdAt);
  const itemId = await addItem(tx, {
    ...{ schoolId, ownerId: person.id, kind: 'file', title, extension, createdAt },
    lessonDate: file.lessonDate ?? lessonDateIn(title, today),
  });
  await addFirstVersion(tx, itemId, version);
  const putting = { schoolId, addedBy: person.id, addedAt: createdAt };
  return {
    placementId: await addPlacement(tx, { ...putting, folderId: folder.id, itemId }),
    created: true,
  };
}

/** What is called so in a folder, and the file of their own of this name that the person took out of it since an instant (`binned`). */
function filesNamed(tx: Queries, personId: string, folderId: string, key: string, since: number) {
  return rows<{
    placementId: string;
    itemId: string;
    ownerId: string;
    addedBy: string;
    hash: string;
    number: number | null;
    binned: boolean;
  }>(
    tx,
    sql`select p.id as "placementId", i.id as "itemId", i.owner_id as "ownerId", p.added_by as "addedBy",
        case when i.kind = 'file' then v.hash else '' end as hash,
        case when i.kind = 'file' then v.number end as number, p.binned_at is not null as binned
      from placements p join items i on i.id = p.item_id left join versions v on v.id = i.current_version_id
      where p.folder_id = ${folderId}::uuid and p.name_key = ${key} and (p.binned_at is null
        or (i.kind = 'file' and i.owner_id = ${personId}::uuid and p.binned_by = ${personId}::uuid
          and p.binned_at > ${at(since)} and not exists (
            select from placements q where q.item_id = i.id and q.folder_id = p.folder_id and q.binned_at is null)))
      order by p.binned_at desc nulls first`,
  );
}

/** Whether a person may give a file that lies in a folder its next version: files only, and what they may change. */
function mayAddVersion(
  { id }: SignedIn,
  folder: SeenFolder,
  { addedBy, ownerId, number }: { addedBy: string; ownerId: string; number: number | null },
): boolean {
  if (number === null) return false;
  // What a student was given in their place is theirs to work on.
  if (addedBy === id || (folder.placeId !== null && ownerId === id)) return true;
  return allows(folder.right, 'manage') && mayChangeItem(id, folder, ownerId);
}

/** Items in a folder that have this content, one of these name keys, or a name that begins with `beginning`. */
function existingIn(
  db: Queries,
  folderId: string,
  { hash, keys, beginning }: { hash: string; keys: readonly string[]; beginning: string },
) {
  return rows<{
    placementId: string;
    itemId: string;
    ownerId: string;
    addedBy: string;
    name: string;
    hash: string;
    number: number | null;
  }>(
    db,
    sql`select p.id as "placementId", i.id as "itemId", i.owner_id as "ownerId", p.added_by as "addedBy",
        i.title || case when i.extension = '' then '' else '.' || i.extension end as name,
        case when i.kind = 'file' then v.hash else '' end as hash,
        (select max(w.number) from versions w where w.item_id = i.id and i.kind = 'file') as number
      from placements p join items i on i.id = p.item_id left join versions v on v.id = i.current_version_id
      where p.folder_id = ${folderId}::uuid and p.binned_at is null
        and (starts_with(p.name_key, ${beginning}) or v.hash = ${hash}
          or p.name_key = any (${sql.param([...keys])}::text[]))`,
  );
}

/** Files of a person with this content that lie somewhere, places of hand-in boxes left out. */
function existingElsewhere(
  db: Queries,
  { id, schoolId }: Pick<SignedIn, 'id' | 'schoolId'>,
  hash: string,
) {
  return rows<{ itemId: string; name: string; hash: string }>(
    db,
    sql`select i.id as "itemId", v.hash,
        i.title || case when i.extension = '' then '' else '.' || i.extension end as name
      from versions v join items i on i.current_version_id = v.id
      where v.school_id = ${schoolId}::uuid and v.hash = ${hash} and i.owner_id = ${id}::uuid and i.kind = 'file'
        and exists (select from placements p join folders f on f.id = p.folder_id
          where p.item_id = i.id and p.binned_at is null and not f.in_place
            and not exists (select from folders n where n.id = any (f.path) and n.binned_at is not null))
      order by i.created_at, i.id`,
  );
}

/** Files that arrive in one folder wait for each other until the transaction ends. */
export async function lockIntake(tx: Queries, folderId: string): Promise<void> {
  await tx.execute(sql`select pg_advisory_xact_lock(hashtextextended(${`intake ${folderId}`}, 0))`);
}
