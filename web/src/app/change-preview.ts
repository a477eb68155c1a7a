import type { Change, Consequences } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { computed } from 'vue';
import { api } from './api/api.ts';
import { useSentences } from './sentence.ts';

/** What a change would do, before it is made. */
export const previewChange = (change: Change) => api('POST /api/consequences', { body: change });

/** The same while a change is being put together (null: there is none yet): line by line, and in one text. */
export const useChangePreview = (change: () => Change | null) => usePreview(change, previewChange);

/** What something would do while it is being put together, as `preview` finds out. */
export function usePreview<T>(
  change: () => T | null,
  preview: (change: T) => Promise<Consequences>,
) {
  const { lines: toLines } = useSentences();
  const query = useQuery({
    key: () => ['consequence', JSON.stringify(change())],
    query: () => preview(change()!),
    enabled: () => change() !== null,
    gcTime: 0,
  });
  /** Undefined until it is known. */
  const lines = computed(() => query.data.value && toLines(query.data.value));
  const sentence = computed(() => lines.value?.map((line) => line.text).join(' '));
  return { query, lines, sentence };
}
