import { useQuery } from '@pinia/colada';
import { computed } from 'vue';
import { api } from '../../app/api/api.ts';
import { useBoxes } from '../../app/box/boxes.ts';

/** A box in which the student has a place, and what is in that. */
export function useOwnPlace(boxId: () => string) {
  const boxes = useBoxes();
  const box = computed(() => boxes.data.value?.own.find(({ id }) => id === boxId()));
  const placeId = computed(() => box.value?.placeId ?? '');
  const query = useQuery({
    key: () => ['place', placeId.value],
    query: () => api('GET /api/places/:place', { params: { place: placeId.value } }),
    enabled: () => placeId.value !== '',
  });
  return { boxes, box, placeId, query };
}
