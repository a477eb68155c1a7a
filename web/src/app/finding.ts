import type { FindQuery, Found, Hit } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { refDebounced } from '@vueuse/core';
import { computed, ref, watch } from 'vue';
import { api } from './api/api.ts';

/** After so long without a key is looked for what is typed, in milliseconds. */
const PAUSE_MS = 120;

/** Finds things as somebody types; `narrow` is what else is asked for, `take` gets the one that Enter means. */
export function useFinding(
  narrow: () => Omit<FindQuery, 'words'>,
  take: (hit: Hit | null) => unknown,
) {
  const typed = ref('');
  const words = refDebounced(
    computed(() => typed.value.trim()),
    PAUSE_MS,
  );
  const query = computed((): FindQuery => ({ words: words.value, ...narrow() }));
  const found = useQuery({
    key: () => ['find', { ...query.value }],
    query: () => api('GET /api/find', { query: query.value }),
    enabled: () => words.value !== '',
    placeholderData: (before: Found | undefined) => before,
  });
  const hits = computed(() => (words.value === '' ? [] : (found.data.value?.hits ?? [])));

  /** Enter before the hits have come takes the first one when it comes. */
  const behind = computed(() => typed.value.trim() !== words.value || found.isLoading.value);
  const awaited = ref(false);
  function enter(event: KeyboardEvent) {
    if (!behind.value || typed.value.trim() === '' || event.isComposing) return;
    event.preventDefault();
    event.stopPropagation();
    awaited.value = true;
  }
  watch(typed, () => (awaited.value = false));
  watch(behind, (still) => {
    if (still || !awaited.value) return;
    awaited.value = false;
    take(hits.value[0] ?? null);
  });
  return { typed, words, found, hits, enter };
}
