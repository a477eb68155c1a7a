import type { MyClasses } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { api } from '../../app/api.ts';

export function useClasses() {
  return useQuery({
    key: ['classes'],
    query: () => api<MyClasses>('GET', '/api/classes'),
    staleTime: 0,
  });
}
