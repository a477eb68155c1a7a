import type { MyClasses } from '@sammlung/contract';
import { useQuery, useQueryCache } from '@pinia/colada';
import { api } from '../../app/api.ts';
import { drawAtOnce } from '../../app/initial-state.ts';
import { useReadingPlace } from '../../app/place.ts';

export function useClasses() {
  const place = useReadingPlace();
  const key = ['classes', place.base];
  const path = `${place.base}/classes`;
  drawAtOnce(useQueryCache(), key, path);
  return useQuery({ key, query: () => api<MyClasses>('GET', path) });
}
