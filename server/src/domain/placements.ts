import type { Release } from '@sammlung/contract';
import { freeTitle, nameKey } from '@sammlung/core';
import { and, eq, inArray, isNull, sql } from 'drizzle-orm';
import { at, rows, toDate, uuids, type Queries } from '../db/database.ts';
import { items, placements } from '../db/schema/index.ts';

/** Items and the places where they are: nothing else writes their tables, but for the versions of files (versions). */

export type Item = typeof items.$inferSelect;
type Placement = typeof placements.$inferSelect;

/** Who puts something somewhere, and when. */
export interface Putting {
  readonly schoolId: string;
  readonly addedBy: string;
  readonly addedAt: Date;
}

/** An item, wherever it is; null where there is none. With `lock` nobody else changes it until the transaction ends. */
export async function itemById(db: Queries, id: string, lock = false): Promise<Item | null> {
  const query = db.select().from(items).where(eq(items.id, id));
  const [found] = await (lock ? query.for('update') : query);
  return found ?? null;
}

/** Makes an item that is nowhere yet. Resolves to its id. */
export async function addItem(tx: Queries, item: typeof items.$inferInsert): Promise<string> {
  const [made] = await tx.insert(items).values(item).returning({ id: items.id });
  return made!.id;
}

/** Gives an item other facts, for all places where it is. */
export async function changeItem(
  tx: Queries,
  id: string,
  change: Partial<
    Pick<
      Item,
      | 'title'
      | 'extension'
      | 'lessonDate'
      | 'description'
      | 'url'
      | 'copyOfVersionId'
      | 'showWhileWriting'
    >
  >,
): Promise<void> {
  if (Object.keys(change).length > 0) await tx.update(items).set(change).where(eq(items.id, id));
}

/** Gives what somebody owns to somebody else; only these, where `ids` are given. Resolves to what was given. */
export async function giveItems(
  tx: Queries,
  { from, to, ids }: { from: string; to: string; ids?: readonly string[] },
): Promise<string[]> {
  const given = await tx
    .update(items)
    .set({ ownerId: to })
    .where(and(eq(items.ownerId, from), ids && sql`${items.id} = any (${uuids(ids)})`))
    .returning({ id: items.id });
  return given.map(({ id }) => id);
}

/**
 * Puts an item into a folder, `before` a placement there (by the order by hand), or after the last one. Resolves to the id of
 * the placement.
 */
export async function addPlacement(
  tx: Queries,
  place: Putting & { readonly folderId: string; readonly itemId: string },
  before: string | null = null,
): Promise<string> {
  const position = before === null ? nextPosition(place.folderId) : positionBefore(before);
  const [made] = await tx
    .insert(placements)
    .values({ ...place, position })
    .returning({ id: placements.id });
  return made!.id;
}

/**
 * Puts items into several folders, after the last ones there; where one is already it stays as it is. Resolves to the ids of
 * the placements that were made.
 */
export async function addPlacements(
  tx: Queries,
  { schoolId, addedBy, addedAt }: Putting,
  folderIds: readonly string[],
  itemIds: readonly string[],
): Promise<string[]> {
  const made = await rows<{ id: string }>(
    tx,
    sql`insert into placements (school_id, folder_id, item_id, added_by, added_at, position)
      select ${schoolId}::uuid, f.id, i.id, ${addedBy}::uuid, ${at(addedAt.getTime())}, last.position + i.n
      from unnest(${uuids(folderIds)}) with ordinality f (id, n)
        cross join lateral (select coalesce(max(position), 0) as position from placements where folder_id = f.id) last
        cross join unnest(${uuids(itemIds)}) with ordinality i (id, n)
      where not exists (select from placements p where p.folder_id = f.id and p.item_id = i.id and p.binned_at is null)
      order by f.n, i.n returning id`,
  );
  return made.map(({ id }) => id);
}

/** A placement that is made after another one: where that is in its folder, with a release of its own. */
export interface PlacementAs {
  readonly id: string;
  readonly sourceId: string;
  readonly folderId: string;
  /** The item of the other one, or a copy of it. */
  readonly itemId: string;
  readonly release: Release;
}

/** Places items as they are placed elsewhere. */
export async function addPlacementsAs(
  tx: Queries,
  { schoolId, addedBy, addedAt }: Putting,
  those: readonly PlacementAs[],
): Promise<void> {
  const ids = (which: 'id' | 'sourceId' | 'folderId' | 'itemId') =>
    uuids(those.map((one) => one[which]));
  const span = (which: 'from' | 'until') =>
    sql`${sql.param(those.map(({ release }) => toDate(release[which])))}::timestamptz[]`;
  // In one statement, and not by the trigger for each.
  await tx.execute(
    sql`update placements set several = true where item_id = any (${ids('itemId')}) and not several`,
  );
  await tx.execute(
    sql`insert into placements (id, school_id, folder_id, item_id, added_by, added_at, position, keep_on_top, held, from_at, until_at)
      select w.id, ${schoolId}::uuid, w.folder_id, w.item_id, ${addedBy}::uuid, ${at(addedAt.getTime())}, s.position, s.keep_on_top,
        w.held, w.from_at, w.until_at
      from unnest(${ids('id')}, ${ids('sourceId')}, ${ids('folderId')}, ${ids('itemId')},
          ${sql.param(those.map(({ release }) => release.held))}::boolean[], ${span('from')}, ${span('until')})
          w (id, source_id, folder_id, item_id, held, from_at, until_at)
        join placements s on s.id = w.source_id`,
  );
}

/** Makes copies of items for somebody, under the titles and with the lesson dates given; their contents follow (`copyVersions`). */
export async function copyItems(
  tx: Queries,
  { schoolId, ownerId, createdAt }: { schoolId: string; ownerId: string; createdAt: Date },
  those: readonly { id: string; sourceId: string; title: string; lessonDate: string | null }[],
): Promise<void> {
  await tx.execute(
    sql`insert into items (id, school_id, owner_id, kind, title, extension, description, lesson_date, url, created_at)
      select w.id, s.school_id, ${ownerId}::uuid, s.kind, w.title, s.extension, s.description, w.lesson_date, s.url, ${at(createdAt.getTime())}
      from unnest(${uuids(those.map(({ id }) => id))}, ${uuids(those.map(({ sourceId }) => sourceId))},
          ${sql.param(those.map(({ title }) => title))}::text[], ${sql.param(those.map(({ lessonDate }) => lessonDate))}::date[])
          w (id, source_id, title, lesson_date)
        join items s on s.id = w.source_id and s.school_id = ${schoolId}::uuid`,
  );
}

/** Keeps an item on top of the folder it is in, or no longer. */
export async function keepPlacementOnTop(
  tx: Queries,
  id: string,
  keepOnTop: boolean,
): Promise<void> {
  await tx.update(placements).set({ keepOnTop }).where(eq(placements.id, id));
}

/** Notes that items have come only now: those at these placements, or all that is in these folders and below. */
export async function comeNow(
  tx: Queries,
  kind: 'folder' | 'placement',
  ids: readonly string[],
  { addedBy, addedAt }: Pick<Putting, 'addedBy' | 'addedAt'>,
): Promise<void> {
  const those =
    kind === 'placement'
      ? inArray(placements.id, [...ids])
      : sql`${placements.folderId} in (select id from folders where path && ${uuids(ids)})`;
  await tx.update(placements).set({ addedBy, addedAt }).where(those);
}

/** Takes items away from where they are; from its last place an item goes to the Bin. */
export async function binPlacements(
  tx: Queries,
  ids: readonly string[],
  binned: { binnedAt: Date; binnedBy: string },
): Promise<void> {
  await tx
    .update(placements)
    .set(binned)
    .where(inArray(placements.id, [...ids]));
}

/** Puts an item back into a folder: at its old position, or (`last`) after the last one. */
export async function unbinPlacement(
  tx: Queries,
  id: string,
  { folderId, last }: { folderId: string; last: boolean },
): Promise<void> {
  await tx
    .update(placements)
    .set({
      ...{ folderId, binnedAt: null, binnedBy: null },
      ...(last && { position: nextPosition(folderId) }),
    })
    .where(eq(placements.id, id));
}

/** A placement with its item, in the Bin or not; the item is locked until the transaction ends. */
export async function lockedPlacement(
  tx: Queries,
  id: string,
): Promise<{ placement: Placement; item: Item } | null> {
  // The item first, as whoever deletes for good does it: the two wait for each other.
  await tx.execute(
    sql`select from items where id = (select item_id from placements where id = ${id}::uuid) for update`,
  );
  const [found] = await tx
    .select({ placement: placements, item: items })
    .from(placements)
    .innerJoin(items, eq(items.id, placements.itemId))
    .where(eq(placements.id, id));
  return found ?? null;
}

/** A title that nothing in the folder has: the one given, or that with a number. */
export async function freeItemTitle(db: Queries, folderId: string, title: string): Promise<string> {
  const taken = await itemNamesIn(db, folderId, nameKey(title).slice(0, 20));
  return freeTitle(title, new Set(taken.keys()));
}

/** What is in a folder, by the keys of the names there; with `beginning` only names that begin with it. */
export async function itemNamesIn(
  db: Queries,
  folderId: string,
  beginning = '',
): Promise<ReadonlyMap<string, string>> {
  const found = await db
    .select({ key: placements.nameKey, itemId: placements.itemId })
    .from(placements)
    .where(
      and(
        eq(placements.folderId, folderId),
        isNull(placements.binnedAt),
        sql`starts_with(${placements.nameKey}, ${beginning})`,
      ),
    );
  return new Map(found.map(({ key, itemId }) => [key, itemId]));
}

/** Halfway between a placement and the one before it. */
function positionBefore(placementId: string) {
  return sql`(select (q.position + coalesce((select max(o.position) from placements o
      where o.folder_id = q.folder_id and o.position < q.position), q.position - 2)) / 2
    from placements q where q.id = ${placementId}::uuid)`;
}

/** The place after the last item in a folder. */
function nextPosition(folderId: string) {
  return sql`(select coalesce(max(position), 0) + 1 from placements where folder_id = ${folderId}::uuid)`;
}
