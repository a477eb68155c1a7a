import type { FolderAudience } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { api } from '../../app/api.ts';

export function useAudience(folderId: () => string | null) {
  return useQuery({
    key: () => ['audience', folderId() ?? ''],
    query: () => api<FolderAudience>('GET', `/api/folders/${folderId()}/audience`),
    enabled: () => folderId() !== null,
  });
}
