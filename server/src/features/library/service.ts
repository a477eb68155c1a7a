import type { Colour, NewFolder, NewPlacement, TopFolders, Tree } from '@sammlung/contract';
import { allows, checkName } from '@sammlung/core';
import { and, eq, isNull, sql } from 'drizzle-orm';
import type { z } from 'zod';
import { at, rows } from '../../db/database.ts';
import { nextPosition } from '../../db/positions.ts';
import { folders, placements } from '../../db/schema/index.ts';
import { folderFor } from '../../platform/access/folder.ts';
import { loadLibrary } from '../../platform/access/load.ts';
import { audienceNames, folderTabs } from '../../platform/access/tabs.ts';
import { asking, keysTable, seesPlacement, type Asker } from '../../platform/access/twin.ts';
import { AppError } from '../../platform/errors.ts';
import type { Services } from '../../platform/services.ts';
import type { SignedIn } from '../../platform/sessions.ts';

type Needs = Pick<Services, 'db' | 'now'>;

const asker = (person: SignedIn): Asker => ({ personId: person.id, doorIds: [] });

export async function tree({ db, now }: Needs, person: SignedIn): Promise<Tree> {
  teacherOnly(person);
  const found = await rows<{
    id: string;
    parentId: string | null;
    title: string;
    mark: string | null;
    colour: Colour | null;
    handedOut: boolean;
  }>(
    db,
    sql`select f.id, f.parent_id as "parentId", f.title, f.mark, f.colour,
        y.closed_at is null and exists (select from handings_out h where h.folder_id = any (f.path)
          and (h.until_at is null or h.until_at > ${at(now())})) as "handedOut"
      from folders f left join years y on y.id = f.year_id
      where f.owner_id = ${person.id}::uuid
        and not exists (select from folders n where n.id = any (f.path) and n.binned_at is not null)
      order by f.keep_on_top desc, f.position, f.title collate natural_order, f.id`,
  );
  return { folders: found };
}

/** The topmost folders with their tabs. */
export async function topFolders({ db, now }: Needs, person: SignedIn): Promise<TopFolders> {
  teacherOnly(person);
  const found = await rows<{
    id: string;
    title: string;
    mark: string | null;
    colour: Colour | null;
    items: number;
    folders: number;
  }>(
    db,
    sql`select f.id, f.title, f.mark, f.colour,
        (select count(*)::int from placements p where p.folder_id = f.id and p.binned_at is null) as items,
        (select count(*)::int from folders b where b.parent_id = f.id and b.binned_at is null) as folders
      from folders f
      where f.owner_id = ${person.id}::uuid and f.parent_id is null and f.binned_at is null
      order by f.keep_on_top desc, f.position, f.title collate natural_order, f.id`,
  );
  const library = await loadLibrary(db, { folderIds: found.map((f) => f.id), itemIds: [] });
  const names = await audienceNames(db, library);
  return { folders: found.map((f) => ({ ...f, tabs: folderTabs(library, names, f.id, now()) })) };
}

/** Makes a folder: at the top of the person's own library, or in a folder to which they may add. */
export async function makeFolder(
  { db, now }: Needs,
  person: SignedIn,
  { parentId, title: typed }: z.infer<typeof NewFolder>,
) {
  if (person.kind === 'student') throw new AppError('not-allowed');
  const title = typed.normalize('NFC').trim();
  const { faults } = checkName(title);
  if (faults.length > 0)
    throw new AppError('name-not-allowed', {
      faults: faults.map((fault) => ({ field: 'title', fault })),
    });
  const parent = parentId && (await folderFor(db, asker(person), parentId, now(), 'add'));
  const [made] = await db
    .insert(folders)
    .values({
      schoolId: person.schoolId,
      ownerId: parent ? parent.ownerId : person.id,
      parentId,
      title,
      createdBy: person.id,
      position: sql`(select coalesce(max(position), 0) + 1 from folders
        where parent_id is not distinct from ${parentId}::uuid and owner_id = ${parent ? parent.ownerId : person.id}::uuid)`,
    })
    .returning({ id: folders.id });
  return made!;
}

/** Moves a folder with everything below it to the Bin. */
export async function binFolder({ db, now }: Needs, who: Asker, folderId: string) {
  const folder = await folderFor(db, who, folderId, now(), 'manage');
  await db
    .update(folders)
    .set({ binnedAt: new Date(now()), binnedBy: who.personId })
    .where(eq(folders.id, folder.id));
}

/** Takes a folder out of the Bin, back to where it was. For its owner. */
export async function restoreFolder({ db }: Needs, person: SignedIn, folderId: string) {
  const restored = await db
    .update(folders)
    .set({ binnedAt: null, binnedBy: null })
    .where(and(eq(folders.id, folderId), eq(folders.ownerId, person.id)))
    .returning({ id: folders.id });
  if (restored.length === 0) throw new AppError('not-found');
}

/** Puts an item into one more folder: the same thing in two places. The asker owns the item and may add there. */
export async function place(
  { db, now }: Needs,
  person: SignedIn,
  { placementId, folderId }: z.infer<typeof NewPlacement>,
) {
  const t = now();
  const folder = await folderFor(db, asker(person), folderId, t, 'add');
  const item = await itemAt({ db, now }, person, placementId);
  if (item.ownerId !== person.id) throw new AppError('not-allowed');
  const [made] = await db
    .insert(placements)
    .values({
      schoolId: person.schoolId,
      folderId: folder.id,
      itemId: item.id,
      addedBy: person.id,
      addedAt: new Date(t),
      position: nextPosition(folder.id),
    })
    .returning({ id: placements.id });
  return made!;
}

/** Removes an item from one folder; from its last one it goes to the Bin. Who only may add removes their own. */
export async function removePlacement({ db, now }: Needs, person: SignedIn, placementId: string) {
  const placement = await changeable({ db, now }, person, placementId);
  if (placement.binnedAt) throw new AppError('not-found');
  await db
    .update(placements)
    .set({ binnedAt: new Date(now()), binnedBy: person.id })
    .where(and(eq(placements.id, placementId), isNull(placements.binnedAt)));
}

export async function restorePlacement({ db, now }: Needs, person: SignedIn, placementId: string) {
  await changeable({ db, now }, person, placementId);
  await db
    .update(placements)
    .set({ binnedAt: null, binnedBy: null })
    .where(eq(placements.id, placementId));
}

async function changeable({ db, now }: Needs, person: SignedIn, placementId: string) {
  const [placement] = await db.select().from(placements).where(eq(placements.id, placementId));
  if (!placement) throw new AppError('not-found');
  const folder = await folderFor(db, asker(person), placement.folderId, now());
  const mayChange =
    allows(folder.right, 'manage') || (folder.right === 'add' && placement.addedBy === person.id);
  if (!mayChange) {
    // Who sees it learns that it may not be changed; to anybody else it is not there.
    await itemAt({ db, now }, person, placementId);
    throw new AppError('not-allowed');
  }
  return placement;
}

/** The item of a placement that the person sees. Throws `not-found` otherwise. */
async function itemAt({ db, now }: Needs, person: SignedIn, placementId: string) {
  const ask = asking(asker(person), now());
  const [item] = await rows<{ id: string; ownerId: string }>(
    db,
    sql`with ${keysTable(ask)}
      select i.id, i.owner_id as "ownerId"
      from placements p join folders f on f.id = p.folder_id join items i on i.id = p.item_id
      where p.id = ${placementId}::uuid and ${seesPlacement(sql`p`, sql`f`, ask)}`,
  );
  if (!item) throw new AppError('not-found');
  return item;
}

function teacherOnly(person: SignedIn) {
  if (person.kind === 'student') throw new AppError('not-found');
}
