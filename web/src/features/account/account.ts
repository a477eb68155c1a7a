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

export const FIELD =
  'mt-0.5 h-10 w-full rounded-edge border border-line bg-raised px-2.5 text-[15px] pointer-coarse:h-11';
