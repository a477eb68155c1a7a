import type { Contents, FolderView, PlacementView } from '@sammlung/contract';
import { useInfiniteQuery, useQuery } from '@pinia/colada';
import { inject, type InjectionKey, type Ref } from 'vue';
import type { RouteLocationRaw } from 'vue-router';
import { api } from './api.ts';

/** From where somebody reads: as themselves, or through a door with its token. */
export interface ReadingPlace {
  /** The part of the API that answers there. */
  readonly base: string;
  /** The folder the door opens, for its own address without a folder id. */
  readonly firstFolder: Ref<string | null>;
  folder(id: string): RouteLocationRaw;
  item(id: string): RouteLocationRaw;
  /** Whether openings are noted by the page (through a door they are not). */
  readonly notes: boolean;
}

export const READING_PLACE: InjectionKey<ReadingPlace> = Symbol('reading place');

const own: ReadingPlace = {
  base: '/api',
  firstFolder: { value: null } as Ref<null>,
  folder: (id) => ({ name: 'folder', params: { folder: id } }),
  item: (id) => ({ name: 'item', params: { placement: id } }),
  notes: true,
};

export function useReadingPlace(): ReadingPlace {
  return inject(READING_PLACE, own);
}

export const folderKey = (place: ReadingPlace, id: string) => ['folder', place.base, id];

export function useFolder(place: ReadingPlace, id: () => string) {
  return useQuery({
    key: () => folderKey(place, id()),
    query: () => api<FolderView>('GET', `${place.base}/folders/${id()}`),
    enabled: () => id() !== '',
  });
}

/** The contents of a folder, page after page. */
export function useContents(place: ReadingPlace, id: () => string) {
  return useInfiniteQuery<Contents, Error, string>({
    key: () => [...folderKey(place, id()), 'contents'],
    initialPageParam: '',
    query: ({ pageParam }) =>
      api<Contents>(
        'GET',
        `${place.base}/folders/${id()}/contents${pageParam ? `?after=${pageParam}` : ''}`,
      ),
    getNextPageParam: (page) => page.next,
    enabled: () => id() !== '',
  });
}

export function usePlacement(place: ReadingPlace, id: () => string) {
  return useQuery({
    key: () => ['placement', place.base, id()],
    query: () => api<PlacementView>('GET', `${place.base}/placements/${id()}`),
  });
}

export function contentAddress(
  place: ReadingPlace,
  placementId: string,
  as: 'inline' | 'attachment',
) {
  return `${place.base}/placements/${placementId}/content?as=${as}`;
}
