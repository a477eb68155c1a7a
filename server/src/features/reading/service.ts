import type {
  Contents,
  FolderNews,
  FolderOrder,
  FolderView,
  ItemRow,
  PlacementView,
  Release,
} from '@sammlung/contract';
import { allows, type ReleaseRule } from '@sammlung/core';
import { toIso, type Queries } from '../../db/database.ts';
import { folderFor } from '../../domain/access/folders.ts';
import { loadLibrary } from '../../domain/access/load-library.ts';
import { mayChangeItem } from '../../domain/access/rights.ts';
import { audienceNames, folderTabs, itemTabs } from '../../domain/access/tabs.ts';
import type { Viewer } from '../../domain/access/access-sql.ts';
import { noteOpenings } from '../../domain/openings.ts';
import { AppError } from '../../platform/errors.ts';
import { Json } from '../../platform/json.ts';
import { countIn, listFolder, type Listing, type ListQuery } from '../../domain/files/list.ts';
import { placementFor } from '../../domain/files/open.ts';
import { otherPlaces } from './queries.ts';

export async function folderView(db: Queries, viewer: Viewer, id: string): Promise<FolderView> {
  const folder = await folderFor(db, viewer, id);
  const { title, mark, colour, order, display, keepOnTop, right, ownerName, placeId, crumbs } =
    folder;
  return {
    id,
    title,
    mark,
    colour,
    order,
    display,
    keepOnTop,
    // Of what lies above, only what the viewer sees is named.
    parentId: crumbs.at(-2)?.id ?? null,
    right,
    ownerName,
    placeId,
    crumbs: [...crumbs],
  };
}

/** One page of a folder. Whoever owns or manages it also gets the tabs of each row and where else its items lie. */
export async function contents(
  db: Queries,
  viewer: Viewer,
  folderId: string,
  page: ListQuery,
): Promise<Contents | Json<Contents>> {
  const found = await listFolder(db, viewer, folderId, page);
  if (!allows(found.right, 'manage')) return found.contents;
  const [whole, total] = await Promise.all([
    withTabs(db, viewer, found, found.contents.read()),
    page.after || found.right !== 'own' ? undefined : countIn(db, folderId),
  ]);
  return { ...whole, ...(total !== undefined && { total }) };
}

/** The folder and the school of it that a page shows. Throws `not-found` when the viewer does not see it. */
export async function folderSeen(db: Queries, viewer: Viewer, id: string) {
  const { schoolId } = await folderFor(db, viewer, id);
  return { schoolId, folderId: id };
}

/** How many rows a page is told: as many as it loads first. */
const TOLD = 100;

/** What pages that show a folder are told when it has changed: what anybody who sees the same would load. */
export function folderNews(db: Queries, folderId: string, order: FolderOrder | undefined) {
  return {
    event: 'contents',
    name: order ?? 'own',
    async make(viewer: Viewer): Promise<FolderNews> {
      const [folder, first] = await Promise.all([
        folderView(db, viewer, folderId),
        contents(db, viewer, folderId, { order, limit: TOLD }),
      ]);
      const told = first instanceof Json ? first.read() : first;
      const items = told.items.map((row) => ({ ...row, opened: false }));
      return { folder, contents: { ...told, items } };
    },
  };
}

async function withTabs(
  db: Queries,
  viewer: Viewer,
  folder: Pick<Listing, 'id' | 'ownerId'>,
  page: Contents,
): Promise<Contents> {
  const itemIds = page.items.map((i) => i.itemId);
  const [library, places] = await Promise.all([
    loadLibrary(db, { folderIds: [folder.id, ...page.folders.map((f) => f.id)], itemIds }),
    otherPlaces(db, viewer, folder, itemIds),
  ]);
  const names = await audienceNames(db, library.data.handingsOut);
  const alsoIn = (item: ItemRow) =>
    places
      .filter((p) => p.itemId === item.itemId)
      .map(({ id, title, placementId }) => ({ id, title, placementId }));
  return {
    ...page,
    folders: page.folders.map((f) => ({
      ...f,
      tabs: folderTabs(library, names, f.id, viewer.at),
      release: toldRelease(library.folders.get(f.id)?.release),
    })),
    items: page.items.map((i) => ({
      ...i,
      release: toldRelease(library.placements.get(i.placementId)?.release),
      tabs: itemTabs(library, names, i.itemId, viewer.at),
      alsoIn: alsoIn(i),
    })),
  };
}

function toldRelease(rule: ReleaseRule | undefined): Release | undefined {
  if (!rule) return undefined;
  return { held: rule.held, from: toIso(rule.from), until: toIso(rule.until) };
}

export async function placementView(
  db: Queries,
  viewer: Viewer,
  id: string,
): Promise<PlacementView> {
  const found = await placementFor(db, viewer, id);
  const folder = await folderFor(db, viewer, found.folderId).catch((error: unknown) => {
    // Only the item was handed out: the folder it lies in is not to be known.
    if (error instanceof AppError && error.code === 'not-found') return null;
    throw error;
  });
  const alsoIn =
    folder && allows(folder.right, 'manage')
      ? await otherPlaces(db, viewer, folder, [found.itemId])
      : undefined;
  return {
    ...found,
    folderId: found.folderId,
    description: found.description,
    preview: found.preview,
    mayChange:
      viewer.personId !== null &&
      viewer.only === undefined &&
      folder !== null &&
      allows(folder.right, 'add') &&
      mayChangeItem(viewer.personId, folder, found.ownerId),
    placeId: folder?.placeId ?? null,
    crumbs: folder ? [...folder.crumbs] : [],
    ...(alsoIn && {
      alsoIn: alsoIn.map(({ id: at, title, placementId }) => ({ id: at, title, placementId })),
    }),
  };
}

export async function noteOpened(db: Queries, viewer: Viewer, placementId: string) {
  const found = await placementFor(db, viewer, placementId);
  await noteOpenings(db, viewer, 'opened', [found]);
}
