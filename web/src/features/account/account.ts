import { useQuery, useQueryCache } from '@pinia/colada';
import { api } from '../../app/api/api.ts';

const KEY = ['account'];

/** One’s own account. */
export const useAccount = () =>
  useQuery({ key: KEY, query: () => api('GET /api/account'), staleTime: 0 });

/** To be called once something of it has changed. */
export function useRefresh() {
  const cache = useQueryCache();
  return () => cache.invalidateQueries({ key: KEY });
}
