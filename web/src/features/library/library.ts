import type { FolderRow, ItemRow, Thing } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { api } from '../../app/api/api.ts';

export function useTopFolders(enabled: () => boolean) {
  return useQuery({
    key: ['tree', 'top'],
    query: () => api('GET /api/library/top'),
    enabled,
  });
}

/** A row of the Library: a folder, or an item where it lies. */
export interface Row extends Thing {
  readonly title: string;
  readonly folder?: FolderRow;
  readonly item?: ItemRow;
}

/** The row of a folder or item as it came from the server: the same one as long as it stays the same. */
const known = new WeakMap<FolderRow | ItemRow, Row>();
function once<T extends FolderRow | ItemRow>(from: T, make: (from: T) => Row): Row {
  const row = known.get(from) ?? make(from);
  known.set(from, row);
  return row;
}
export const folderRow = (of: FolderRow): Row =>
  once(of, (folder) => ({ kind: 'folder', id: folder.id, title: folder.title, folder }));
export const itemRow = (of: ItemRow): Row =>
  once(of, (item) => ({ kind: 'placement', id: item.placementId, title: item.title, item }));
