import { useQuery, useQueryCache } from '@pinia/colada';
import { addressAt } from '../../app/api/addresses.ts';
import { apiAt } from '../../app/api/api.ts';
import { useInitial } from '../../app/api/initial-state.ts';
import { useReadingPlace } from '../../app/place.ts';

export function useClasses() {
  const place = useReadingPlace();
  const key = ['classes', place.base];
  useInitial(useQueryCache(), key, addressAt(place.base, 'GET /classes'));
  return useQuery({ key, query: () => apiAt(place.base, 'GET /classes') });
}
