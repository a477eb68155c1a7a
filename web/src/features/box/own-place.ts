import { useQuery } from '@pinia/colada';
import { computed } from 'vue';
import { api } from '../../app/api/api.ts';
import { useBoxes, useEndedBoxes } from '../../app/box/boxes.ts';

/** A box in which the student has a place, and what is in that. */
export function useOwnPlace(boxId: () => string) {
  const boxes = useBoxes();
  const current = computed(() => boxes.data.value?.own.find(({ id }) => id === boxId()));
  // One of a year that is over is looked for where it is not among these.
  const ended = useEndedBoxes(() => boxes.data.value !== undefined && !current.value);
  const box = computed(
    () => current.value ?? ended.data.value?.own.find(({ id }) => id === boxId()),
  );
  const loading = computed(() => !box.value && !(boxes.data.value && ended.data.value));
  const error = computed(() => boxes.error.value ?? ended.error.value);
  const again = () => (boxes.data.value ? ended.refetch() : boxes.refetch());
  const placeId = computed(() => box.value?.placeId ?? '');
  const query = useQuery({
    key: () => ['place', placeId.value],
    query: () => api('GET /api/places/:place', { params: { place: placeId.value } }),
    enabled: () => placeId.value !== '',
  });
  return { box, loading, error, again, placeId, query };
}
