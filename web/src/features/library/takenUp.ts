import { defineStore } from 'pinia';
import { shallowRef } from 'vue';
import type { Row } from './library.ts';

/** What was cut, or copied to be put elsewhere too, until it is pasted. It stays while moving about. */
export const useTakenUp = defineStore('taken up', () => {
  const taken = shallowRef<{ rows: readonly Row[]; cut: boolean } | null>(null);
  const take = (rows: readonly Row[], cut: boolean) =>
    (taken.value = rows.length > 0 ? { rows, cut } : null);
  const clear = () => (taken.value = null);
  return { taken, take, clear };
});
