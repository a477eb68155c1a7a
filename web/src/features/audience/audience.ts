import { useQuery } from '@pinia/colada';
import { api } from '../../app/api/api.ts';

export function useAudience(folderId: () => string | null) {
  return useQuery({
    key: () => ['audience', folderId() ?? ''],
    query: () => api('GET /api/folders/:folder/audience', { params: { folder: folderId()! } }),
    enabled: () => folderId() !== null,
  });
}
