import type { AudienceRow, Door, FolderAudience } from '@sammlung/contract';
import { useQuery, useQueryCache } from '@pinia/colada';
import { api } from '../../app/api.ts';

export function useAudience(folderId: () => string | null) {
  return useQuery({
    key: () => ['audience', folderId() ?? ''],
    query: () => api<FolderAudience>('GET', `/api/folders/${folderId()}/audience`),
    enabled: () => folderId() !== null,
  });
}

/**
 * Handing out and taking back. Each resolves, as soon as the server has done it, to how to undo it; `refresh` then
 * brings the screen up to date.
 */
export function useHandingOut(folderId: () => string) {
  const cache = useQueryCache();
  const refresh = () =>
    Promise.all(
      [['tree'], ['folder'], ['audience']].map((key) => cache.invalidateQueries({ key })),
    );
  const undoing = (method: 'POST' | 'DELETE', path: string) => async () => {
    await api<unknown>(method, path);
    await refresh();
  };

  async function handOut({ kind, id }: AudienceRow) {
    if (kind === 'public' || kind === 'school-door') {
      const door = await api<Door>('POST', '/api/doors', {
        folderId: folderId(),
        kind: kind === 'public' ? 'public' : 'school',
      });
      return undoing('DELETE', `/api/doors/${door.id}`);
    }
    const made = await api<{ id: string }>('POST', '/api/grants', {
      folderId: folderId(),
      audience: { kind, id },
    });
    return undoing('DELETE', `/api/grants/${made.id}`);
  }

  async function takeBack({ kind, here }: AudienceRow) {
    const door = kind === 'public' || kind === 'school-door';
    const path = `/api/${door ? 'doors' : 'grants'}/${here?.id}`;
    await api<null>('DELETE', path);
    return undoing('POST', `${path}/${door ? 'reopen' : 'restore'}`);
  }

  return { handOut, takeBack, refresh };
}
