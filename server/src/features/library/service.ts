import type {
  Colour,
  FolderChange,
  MadePaths,
  NewFolder,
  NewLink,
  Paths,
  PlacementChange,
  Placed,
  Placing,
  TopFolders,
  Tree,
} from '@sammlung/contract';
import { checkName, freeTitle, linkTitle, nameKey } from '@sammlung/core';
import { and, eq, isNull, sql } from 'drizzle-orm';
import type { z } from 'zod';
import { at, rows, uuids, type Queries } from '../../db/database.ts';
import { nextFolderPosition, nextPosition } from '../../domain/positions.ts';
import { folders, items, placements } from '../../db/schema/index.ts';
import { loadLibrary } from '../../domain/access/load-library.ts';
import { Rights } from '../../domain/access/rights.ts';
import { audienceNames, folderTabs } from '../../domain/access/tabs.ts';
import { AppError } from '../../platform/errors.ts';
import { ensureFolderPaths } from '../../domain/folder-paths.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';

type Needs = Pick<Services, 'db' | 'now'>;

export async function tree({ db, now }: Needs, person: SignedIn): Promise<Tree> {
  const found = await rows<{
    id: string;
    parentId: string | null;
    title: string;
    mark: string | null;
    colour: Colour | null;
    handedOut: boolean;
  }>(
    db,
    sql`with handed as materialized (
        select array_agg(h.folder_id) as ids from handings_out h join folders o on o.id = h.folder_id
        where o.owner_id = ${person.id}::uuid and (h.until_at is null or h.until_at > ${at(now())})),
      binned as materialized (
        select array_agg(id) as ids from folders where owner_id = ${person.id}::uuid and binned_at is not null)
      select f.id, f.parent_id as "parentId", f.title, f.mark, f.colour,
        y.closed_at is null and coalesce(f.path && handed.ids, false) as "handedOut"
      from folders f left join years y on y.id = f.year_id cross join handed cross join binned
      where f.owner_id = ${person.id}::uuid and not coalesce(f.path && binned.ids, false)
      order by f.keep_on_top desc, f.position, f.title collate natural_order, f.id`,
  );
  return { folders: found };
}

/** The topmost folders with their tabs. */
export async function topFolders({ db, now }: Needs, person: SignedIn): Promise<TopFolders> {
  if (person.kind === 'student') throw new AppError('not-found');
  const found = await rows<{
    id: string;
    title: string;
    mark: string | null;
    colour: Colour | null;
    keepOnTop: boolean;
    items: number;
    folders: number;
  }>(
    db,
    sql`select f.id, f.title, f.mark, f.colour, f.keep_on_top as "keepOnTop",
        (select count(*)::int from placements p where p.folder_id = f.id and p.binned_at is null) as items,
        (select count(*)::int from folders b where b.parent_id = f.id and b.binned_at is null) as folders
      from folders f
      where f.owner_id = ${person.id}::uuid and f.parent_id is null and f.binned_at is null
      order by f.keep_on_top desc, f.position, f.title collate natural_order, f.id`,
  );
  const library = await loadLibrary(db, { folderIds: found.map((f) => f.id), itemIds: [] });
  const names = await audienceNames(db, library.data.handingsOut);
  return { folders: found.map((f) => ({ ...f, tabs: folderTabs(library, names, f.id, now()) })) };
}

/** Makes a folder: at the top of the person's own library, or in a folder to which they may add. */
export async function makeFolder(
  { db, now }: Needs,
  person: SignedIn,
  { parentId, title: typed }: z.infer<typeof NewFolder>,
) {
  notOnTop(person, parentId);
  const title = checkedTitle(typed);
  const parent = parentId && (await new Rights(db, person, now()).folder(parentId, 'add'));
  const ownerId = parent ? parent.ownerId : person.id;
  const [made] = await db
    .insert(folders)
    .values({
      schoolId: person.schoolId,
      ownerId,
      parentId,
      title,
      createdBy: person.id,
      position: nextFolderPosition(ownerId, parentId),
    })
    .returning({ id: folders.id });
  return made!;
}

/** Folders in folders, as they were dropped: what is there is taken, what is missing is made. */
export async function makePaths(
  { db, now }: Needs,
  person: SignedIn,
  { parentId, paths }: z.infer<typeof Paths>,
): Promise<MadePaths> {
  notOnTop(person, parentId);
  return db.transaction(async (tx) => {
    const parent =
      parentId === null ? null : await new Rights(tx, person, now()).folder(parentId, 'add');
    return ensureFolderPaths(tx, person, parent, paths);
  });
}

/** Renames, marks, colours and arranges a folder. For those who manage it, or made it where they may add. */
export async function changeFolder(
  { db, now }: Needs,
  person: SignedIn,
  folderId: string,
  change: FolderChange,
) {
  const folder = await new Rights(db, person, now()).changeableFolder(folderId);
  const { title, mark, ...rest } = change;
  await update(db, folders, folder.id, {
    ...rest,
    ...(title !== undefined && title !== folder.title && { title: checkedTitle(title) }),
    ...(mark !== undefined && { mark: checkedMark(mark) }),
  });
}

/** Renames, dates and describes an item, for all places where it lies; `keepOnTop` is of this one. */
export async function changePlacement(
  { db, now }: Needs,
  person: SignedIn,
  placementId: string,
  { keepOnTop, title, url, ...rest }: PlacementChange,
) {
  await db.transaction(async (tx) => {
    const rights = new Rights(tx, person, now());
    if (keepOnTop !== undefined) {
      const [placement] = await rights.placements([placementId]);
      await update(tx, placements, placement!.id, { keepOnTop });
    }
    const changes = {
      ...rest,
      ...(url !== undefined && { url }),
      ...(title !== undefined && { title }),
    };
    if (Object.keys(changes).length === 0) return;
    const placement = await rights.item(placementId);
    if (title !== undefined && title !== placement.title) changes.title = checkedTitle(title);
    if (url !== undefined) {
      const [item] = await tx.select().from(items).where(eq(items.id, placement.itemId));
      if (item?.kind !== 'link') throw new AppError('not-allowed');
    }
    await update(tx, items, placement.itemId, changes);
  });
}

async function update(
  db: Queries,
  table: typeof folders | typeof items | typeof placements,
  id: string,
  values: object,
) {
  if (Object.keys(values).length > 0) await db.update(table).set(values).where(eq(table.id, id));
}

/** Puts items into more folders: the same thing in several places. The viewer owns them and may add there. */
export async function place(
  { db, now }: Needs,
  person: SignedIn,
  { placements: ids, to }: z.infer<typeof Placing>,
): Promise<Placed> {
  const t = now();
  return db.transaction(async (tx) => {
    const rights = new Rights(tx, person, t);
    const targets = await rights.folders([...new Set(to)], 'add');
    const own = await rights.ownItems([...new Set(ids)]);
    const itemIds = [...new Set(own.map(({ itemId }) => itemId))];
    const folderIds = targets.map(({ id }) => id);
    await refuseTwins(tx, folderIds, itemIds);
    const made = await rows<{ id: string }>(
      tx,
      sql`insert into placements (school_id, folder_id, item_id, added_by, added_at, position)
        select ${person.schoolId}::uuid, f.id, i.id, ${person.id}::uuid, ${at(t)}, last.position + i.n
        from unnest(${uuids(folderIds)}) with ordinality f (id, n)
          cross join lateral (select coalesce(max(position), 0) as position from placements where folder_id = f.id) last
          cross join unnest(${uuids(itemIds)}) with ordinality i (id, n)
        where not exists (select from placements p where p.folder_id = f.id and p.item_id = i.id and p.binned_at is null)
        order by f.n, i.n returning id`,
    );
    return {
      made: made.map(({ id }) => id),
      already: folderIds.length * itemIds.length - made.length,
    };
  });
}

/** Throws `name-taken`, naming it, when in one of the folders lies, or is to lie, another item of the name of one of these. */
async function refuseTwins(tx: Queries, folderIds: readonly string[], itemIds: readonly string[]) {
  const [twin] = await rows<{ title: string }>(
    tx,
    sql`with coming as materialized (
        select i.id, i.title, item_name_key(i.title, i.extension) as key from items i where i.id = any (${uuids(itemIds)}))
      select c.title from unnest(${uuids(folderIds)}) f (id) cross join coming c
        join placements p on p.folder_id = f.id and p.name_key = c.key and p.binned_at is null and p.item_id <> c.id
      union all
      (select min(title) from coming group by key having count(*) > 1)
      limit 1`,
  );
  if (twin) throw new AppError('name-taken', { faults: [{ field: 'title', fault: twin.title }] });
}

/** Makes a web link in a folder. Without a title it is called by its address, under a name that is free. */
export async function makeLink(
  { db, now }: Needs,
  person: SignedIn,
  { folderId, url, title: typed }: z.infer<typeof NewLink>,
) {
  const t = now();
  return db.transaction(async (tx) => {
    const folder = await new Rights(tx, person, t).folder(folderId, 'add');
    const title = typed?.trim() ? checkedTitle(typed) : await freeIn(tx, folder.id, linkTitle(url));
    const createdAt = new Date(t);
    const [item] = await tx
      .insert(items)
      .values({
        schoolId: person.schoolId,
        ownerId: person.id,
        kind: 'link',
        title,
        url,
        createdAt,
      })
      .returning({ id: items.id });
    const [placement] = await tx
      .insert(placements)
      .values({
        schoolId: person.schoolId,
        folderId: folder.id,
        itemId: item!.id,
        addedBy: person.id,
        addedAt: createdAt,
        position: nextPosition(folder.id),
      })
      .returning({ id: placements.id });
    return { id: placement!.id, title };
  });
}

async function freeIn(tx: Queries, folderId: string, title: string): Promise<string> {
  const taken = await tx
    .select({ key: placements.nameKey })
    .from(placements)
    .where(
      and(
        eq(placements.folderId, folderId),
        isNull(placements.binnedAt),
        sql`starts_with(${placements.nameKey}, ${nameKey(title).slice(0, 20)})`,
      ),
    );
  return freeTitle(title, new Set(taken.map(({ key }) => key)));
}

/** A typed name in the form it is kept in. Throws `name-not-allowed` with each fault. */
function checkedTitle(typed: string): string {
  const title = typed.normalize('NFC').trim();
  const { faults } = checkName(title);
  if (faults.length > 0)
    throw new AppError('name-not-allowed', {
      faults: faults.map((fault) => ({ field: 'title', fault })),
    });
  return title;
}

/** One emoji. Throws `bad-request` for anything else. */
function checkedMark(mark: string | null): string | null {
  if (mark === null) return null;
  const signs = [...new Intl.Segmenter().segment(mark)];
  if (signs.length !== 1 || !/\p{Extended_Pictographic}|\p{Regional_Indicator}|\u20E3/u.test(mark))
    throw new AppError('bad-request', { faults: [{ field: 'mark', fault: 'no emoji' }] });
  return mark;
}

/** Students have one folder of their own, the desk; all else of theirs lies in it. */
function notOnTop(person: SignedIn, parentId: string | null) {
  if (person.kind === 'student' && parentId === null) throw new AppError('not-allowed');
}
