import type { Thing, ThingCard } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import { allows } from '@sammlung/core';
import type { Queries } from '../../db/database.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { foldersFor } from './folders.ts';
import { mayChangeItem } from './rights.ts';
import { viewerOf } from './viewer.ts';
import {
  openWaysIn,
  ownsFolder,
  placementOpens,
  viewerStatement,
  waysInTable,
  type Viewer,
} from './access-sql.ts';

/** A thing with what decides about it: the folder it is, or in which it lies. */
export type CardRow = ThingCard & {
  readonly folderId: string;
  readonly itemId: string | null;
  readonly itemOwnerId: string | null;
};

/** As `rightIn` and `seesPlacement`, but each folder is looked at once, however many of the things are in it. */
const seen = viewerStatement<CardRow>(
  (params) => sql`with ${waysInTable(params)},
    asked as materialized (
      select f.* from folders f where f.id = any (${sql.placeholder('folders')}::uuid[])
      union
      select f.* from placements p join folders f on f.id = p.folder_id where p.id = any (${sql.placeholder('placements')}::uuid[])),
    own as materialized (select f.id from asked f where ${ownsFolder(sql`f`, params)}),
    open as materialized (
      select f.id as folder_id, k.* from asked f cross join lateral ${openWaysIn(sql`f.path`, params)} k
      where f.owner_id is distinct from ${params.me})
    select 'folder' as kind, f.id, f.title, null as "itemKind", '' as extension, f.mark, f.colour, null as url,
      f.id as "folderId", null as "itemId", null as "itemOwnerId"
    from asked f where f.id = any (${sql.placeholder('folders')}::uuid[])
      and (exists (select from own where own.id = f.id) or exists (select from open k where k.folder_id = f.id and k.rank > 0))
    union all
    select 'placement', p.id, i.title, i.kind, i.extension, null, null, i.url, f.id, i.id, i.owner_id
    from placements p join asked f on f.id = p.folder_id join items i on i.id = p.item_id
    where p.id = any (${sql.placeholder('placements')}::uuid[]) and (
      (p.binned_at is null and exists (select from own where own.id = f.id))
      or exists (select from open k where k.folder_id = f.id and ${placementOpens(sql`p`, sql`k`, params)}))`,
);

/** Those of the things that the viewer sees, in no order. */
export async function cardsSeen(
  db: Queries,
  viewer: Viewer,
  things: readonly Thing[],
): Promise<CardRow[]> {
  if (things.length === 0) return [];
  const ids = (kind: Thing['kind']) => things.filter((x) => x.kind === kind).map((x) => x.id);
  return seen(db, viewer, { folders: ids('folder'), placements: ids('placement') });
}

/** The ids of those about which a person who has signed in decides who sees them. */
export async function decidedBy(
  db: Queries,
  person: SignedIn,
  t: number,
  cards: readonly CardRow[],
): Promise<ReadonlySet<string>> {
  if (person.kind === 'student') return new Set();
  const folderIds = [...new Set(cards.map((card) => card.folderId))];
  const folders = await foldersFor(db, viewerOf(person, t), folderIds);
  const decides = ({ folderId, itemOwnerId }: CardRow) => {
    const folder = folders.get(folderId);
    if (!folder || !allows(folder.right, 'manage')) return false;
    return itemOwnerId === null || mayChangeItem(person.id, folder, itemOwnerId);
  };
  return new Set(cards.filter(decides).map(({ id }) => id));
}

/** What of it is told. */
export function toCard({
  kind,
  id,
  title,
  itemKind,
  extension,
  mark,
  colour,
  url,
}: CardRow): ThingCard {
  return { kind, id, title, itemKind, extension, mark, colour, url };
}
