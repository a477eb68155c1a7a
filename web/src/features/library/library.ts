import type { FolderRow, ItemRow, Thing, TopFolders } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { api } from '../../app/api.ts';

export function useTopFolders(enabled: () => boolean) {
  return useQuery({
    key: ['tree', 'top'],
    query: () => api<TopFolders>('GET', '/api/library/top'),
    enabled,
  });
}

/** A row of the Library: a folder, or an item where it lies. */
export interface Row extends Thing {
  readonly title: string;
  readonly folder?: FolderRow;
  readonly item?: ItemRow;
}

export const folderRow = (folder: FolderRow): Row => ({
  kind: 'folder',
  id: folder.id,
  title: folder.title,
  folder,
});
export const itemRow = (item: ItemRow): Row => ({
  kind: 'placement',
  id: item.placementId,
  title: item.title,
  item,
});
