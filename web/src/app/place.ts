import type { Contents, FolderNews, FolderOrder } from '@sammlung/contract';
import { setInfiniteQueryData, useInfiniteQuery, useQuery, useQueryCache } from '@pinia/colada';
import { computed, inject, type InjectionKey, type Ref } from 'vue';
import type { RouteLocationRaw } from 'vue-router';
import { addressAt } from './api/addresses.ts';
import { apiAt, ApiError, OfflineError } from './api/api.ts';
import { useInitial, takeInitial } from './api/initial-state.ts';
import { useSession } from './session/session.ts';

/** From where somebody reads: as themselves, or through a door with its token. */
export interface ReadingPlace {
  /** The part of the API that answers there. */
  readonly base: string;
  /** The folder the door opens, for its own address without a folder id. */
  readonly firstFolder: Ref<string | null>;
  folder(id: string): RouteLocationRaw;
  item(id: string): RouteLocationRaw;
  /** The page of a class; null where there is none to go to. */
  classPage(id: string): RouteLocationRaw | null;
  /** Where what is above all folders is: the reader's classes, or the website; null where there is nothing. With what that is called. */
  readonly home: RouteLocationRaw | null;
  readonly homeName: 'shell.classes' | 'reading.website';
  /** Whether what was opened is known of the reader, and said. Through a door it is only counted. */
  readonly notes: boolean;
  /** Whether pages are told of changes. */
  readonly live: boolean;
  /** Whether the reader has a place to keep things and to take copies to. */
  readonly takes: Readonly<Ref<boolean>>;
  /** The door's token. */
  readonly token?: string;
  /** What the reader is told first, at the door itself, and where a feed of what is added there is found. */
  readonly cover?: Readonly<Ref<{ text: string; feed: string | null } | null>>;
}

export const READING_PLACE: InjectionKey<ReadingPlace> = Symbol('reading place');

function own(): ReadingPlace {
  const session = useSession();
  return {
    base: '/api',
    firstFolder: { value: null } as Ref<null>,
    folder: (id) => ({ name: 'folder', params: { folder: id } }),
    item: (id) => ({ name: 'item', params: { placement: id } }),
    classPage: (id) => ({ name: 'class-page', params: { class: id } }),
    home: { name: 'classes' },
    homeName: 'shell.classes',
    notes: true,
    live: true,
    takes: computed(() => session.person?.kind === 'student'),
  };
}

export function useReadingPlace(): ReadingPlace {
  return inject(READING_PLACE, own, true);
}

export const folderKey = (place: ReadingPlace, id: string) => ['folder', place.base, id];

export function useFolder(place: ReadingPlace, id: () => string) {
  const sent = () => ({ params: { folder: id() } });
  const path = addressAt(place.base, 'GET /folders/:folder', sent());
  useInitial(useQueryCache(), folderKey(place, id()), path);
  return useQuery({
    key: () => folderKey(place, id()),
    query: () => apiAt(place.base, 'GET /folders/:folder', sent()),
    enabled: () => id() !== '',
  });
}

/**
 * Takes over what a page has been told of a folder. False when it has to be loaded instead: more of the folder is
 * shown than what has been told.
 */
export function takeFolderNews(
  place: ReadingPlace,
  cache: ReturnType<typeof useQueryCache>,
  order: FolderOrder | null,
  { folder, contents }: FolderNews,
): boolean {
  const key = contentsKey(place, folder.id, order);
  const shown = cache.getQueryData<InfiniteContents>(key);
  if (shown?.pages.length !== 1) return false;
  const before = new Map(shown.pages[0]!.items.map((row) => [row.placementId, row]));
  const items = contents.items.map((row) => {
    const known = before.get(row.placementId);
    return { ...row, opened: known?.version === row.version && known.opened };
  });
  cache.setQueryData(folderKey(place, folder.id), folder);
  cache.setQueryData(key, { ...shown, pages: [{ ...contents, items }] });
  return true;
}

type InfiniteContents = { pages: Contents[]; pageParams: string[] };

/** Notes that somebody has opened an item; what shows that it was new is loaded again. */
export async function noteOpened(
  place: ReadingPlace,
  cache: ReturnType<typeof useQueryCache>,
  { placementId, folderId }: { placementId: string; folderId?: string },
): Promise<void> {
  if (!place.notes && !place.token) return;
  try {
    const params = { placement: placementId };
    await apiAt(place.base, 'PUT /placements/:placement/opened', { params });
  } catch (error) {
    if (!(error instanceof OfflineError)) throw error;
    // A visitor reads on. What is read on the device is told later.
    if (!place.notes) return;
    return (await import('./device/device.ts')).useDevice().noteOpened(placementId);
  }
  if (!place.notes) return;
  const keys = [['new'], ['classes'], ...(folderId ? [folderKey(place, folderId)] : [])];
  for (const key of keys) void cache.invalidateQueries({ key });
}

/** The contents of a folder, page after page. */
export function useContents(
  place: ReadingPlace,
  id: () => string,
  order: () => FolderOrder | null = () => null,
) {
  const key = () => contentsKey(place, id(), order());
  const route = 'GET /folders/:folder/contents';
  const sent = (after: string) => ({
    params: { folder: id() },
    query: { after: after || undefined, order: order() ?? undefined },
  });
  const first = takeInitial<Contents>(addressAt(place.base, route, sent('')));
  if (first) setInfiniteQueryData(useQueryCache(), key(), { pages: [first], pageParams: [''] });
  return useInfiniteQuery<Contents, Error, string>({
    key,
    initialPageParam: '',
    query: ({ pageParam }) => apiAt(place.base, route, sent(pageParam)),
    getNextPageParam: (page) => page.next,
    enabled: () => id() !== '',
  });
}

const contentsKey = (place: ReadingPlace, id: string, order: FolderOrder | null) => [
  ...folderKey(place, id),
  'contents',
  order ?? 'own',
];

export function usePlacement(place: ReadingPlace, id: () => string) {
  return useQuery({
    key: () => ['placement', place.base, id()],
    query: () => apiAt(place.base, 'GET /placements/:placement', { params: { placement: id() } }),
    enabled: () => id() !== '',
  });
}

/** Whether an error means that there is nothing for whoever asked as themselves: then the wall explains. */
export function isWall(place: ReadingPlace, error: unknown): boolean {
  return place.base === '/api' && error instanceof ApiError && error.problem.code === 'not-found';
}
