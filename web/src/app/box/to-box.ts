import type { Router } from 'vue-router';
import { api } from '../api/api.ts';

/** Goes to the hand-in box of a place, where what is in it is read: to the student's own thing, or for a teacher to the student. */
export async function toBox(router: Router, placeId: string, placementId = ''): Promise<void> {
  const { box, own } = await api('GET /api/places/:place', { params: { place: placeId } });
  await router.replace({
    name: 'box',
    params: { box: box.id, place: own ? placementId : placeId },
  });
}
