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
import { rows, type Queries } from '../../db/database.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Settings } from '../../settings.ts';
import type { SeenFolder } from '../access/folders.ts';
import { mayChangeItem } from '../access/rights.ts';
import { recordContent } from '../contents.ts';
import { addItem, addPlacement } from '../placements.ts';
import { refuseBeyondQuota } from '../quota.ts';
import { addVersion } from '../versions.ts';

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
  const elsewhere = await existingElsewhere(tx, person.id, file.hash);
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
    if (elsewhere.length === 0) await refuseBeyondQuota(tx, fresh.settings, person, file.size);
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

/** Whether a person may give a file that lies in a folder its next version: files only, and what they may change. */
function mayAddVersion(
  { id }: SignedIn,
  folder: SeenFolder,
  { addedBy, ownerId, number }: { addedBy: string; ownerId: string; number: number | null },
): boolean {
  if (number === null) return false;
  return addedBy === id || (allows(folder.right, 'manage') && mayChangeItem(id, folder, ownerId));
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

/** Files of a person with this content that lie somewhere. */
function existingElsewhere(db: Queries, personId: string, hash: string) {
  return rows<{ itemId: string; name: string; hash: string }>(
    db,
    sql`select i.id as "itemId", v.hash,
        i.title || case when i.extension = '' then '' else '.' || i.extension end as name
      from versions v join items i on i.current_version_id = v.id
      where v.hash = ${hash} and i.owner_id = ${personId}::uuid and i.kind = 'file'
        and exists (select from placements p join folders f on f.id = p.folder_id
          where p.item_id = i.id and p.binned_at is null
            and not exists (select from folders n where n.id = any (f.path) and n.binned_at is not null))
      order by i.created_at, i.id`,
  );
}

/** Files that arrive in one folder wait for each other until the transaction ends. */
export async function lockIntake(tx: Queries, folderId: string): Promise<void> {
  await tx.execute(sql`select pg_advisory_xact_lock(hashtextextended(${`intake ${folderId}`}, 0))`);
}
