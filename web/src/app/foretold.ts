import type { Change } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { computed } from 'vue';
import { api } from './api.ts';
import { useSentences } from './sentence.ts';

/** What a change would do, before it is made. */
export const foretold = (change: Change) => api('POST /api/consequences', { body: change });

/** The same while a change is being put together (null: there is none yet): line by line, and in one text. */
export function useForetold(change: () => Change | null) {
  const { lines } = useSentences();
  const query = useQuery({
    key: () => ['consequence', JSON.stringify(change())],
    query: () => foretold(change()!),
    enabled: () => change() !== null,
    gcTime: 0,
  });
  /** Undefined until it is known. */
  const told = computed(() => query.data.value && lines(query.data.value));
  const sentence = computed(() => told.value?.map((line) => line.text).join(' '));
  return { query, told, sentence };
}
