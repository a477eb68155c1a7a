import type { MyClasses } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { api } from '../../app/api.ts';
import { useReadingPlace } from '../../app/place.ts';

export function useClasses() {
  const place = useReadingPlace();
  return useQuery({
    key: () => ['classes', place.base],
    query: () => api<MyClasses>('GET', `${place.base}/classes`),
    staleTime: 0,
  });
}
