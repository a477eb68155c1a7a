import type { MyClasses } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { perhapsEarly } from '../../app/early.ts';
import { useReadingPlace } from '../../app/place.ts';

export function useClasses() {
  const place = useReadingPlace();
  return useQuery({
    key: () => ['classes', place.base],
    ...perhapsEarly<MyClasses>(() => `${place.base}/classes`),
  });
}
