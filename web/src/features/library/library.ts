import type { MadePlacement, TopFolders, Tree, TreeFolder } from '@sammlung/contract';
import { useQuery, useQueryCache } from '@pinia/colada';
import { api } from '../../app/api.ts';

export function useTree() {
  return useQuery({ key: ['tree'], query: () => api<Tree>('GET', '/api/library/tree') });
}

export function useTopFolders(enabled: () => boolean) {
  return useQuery({
    key: ['tree', 'top'],
    query: () => api<TopFolders>('GET', '/api/library/top'),
    enabled,
  });
}

/** What a teacher does to the library; each change brings what is on the screen up to date. */
export function useLibraryChanges() {
  const cache = useQueryCache();
  const changed = () =>
    Promise.all(
      [['tree'], ['folder'], ['audience'], ['placement']].map((key) =>
        cache.invalidateQueries({ key }),
      ),
    );
  const then = async <T>(done: Promise<T>) => {
    const result = await done;
    // What was done can be told, and undone, before the screen has caught up.
    void changed();
    return result;
  };
  return {
    changed,
    makeFolder: (parentId: string | null, title: string) =>
      then(api<{ id: string }>('POST', '/api/folders', { parentId, title })),
    binFolder: (id: string) => then(api<null>('DELETE', `/api/folders/${id}`)),
    restoreFolder: (id: string) => then(api<null>('POST', `/api/folders/${id}/restore`)),
    place: (placementId: string, folderId: string) =>
      then(api<MadePlacement>('POST', '/api/placements', { placementId, folderId })),
    remove: (placementId: string) => then(api<null>('DELETE', `/api/placements/${placementId}`)),
    restore: (placementId: string) =>
      then(api<null>('POST', `/api/placements/${placementId}/restore`)),
  };
}

/** A folder in the tree with its depth and the names above it. */
export interface Branch extends TreeFolder {
  readonly depth: number;
  readonly above: readonly string[];
}

/** The tree from top to bottom; below a folder only when `open` says so. */
export function branches(folders: readonly TreeFolder[], open: (id: string) => boolean): Branch[] {
  const children = new Map<string | null, TreeFolder[]>();
  for (const folder of folders)
    children.set(folder.parentId, [...(children.get(folder.parentId) ?? []), folder]);
  const walk = (parent: string | null, depth: number, above: readonly string[]): Branch[] =>
    (children.get(parent) ?? []).flatMap((folder) => [
      { ...folder, depth, above },
      ...(open(folder.id) ? walk(folder.id, depth + 1, [...above, folder.title]) : []),
    ]);
  return walk(null, 0, []);
}
