import { useQuery } from '@pinia/colada';
import { refDebounced } from '@vueuse/core';
import { computed, ref } from 'vue';
import { api } from './api/api.ts';

/**
 * Whom one can choose by what is typed into `words`: one's own classes, courses, staff and school while it is empty.
 * `people` are those among them as whom something can be seen: classes and persons.
 */
export function useAudienceChoices() {
  const words = ref('');
  const asked = refDebounced(words, 150);
  const choices = useQuery({
    key: () => ['audiences', asked.value.trim()],
    query: () => api('GET /api/audiences', { query: { words: asked.value.trim() } }),
  });
  const people = computed(() =>
    (choices.data.value?.audiences ?? []).filter((c) => c.kind === 'class' || c.kind === 'person'),
  );
  return { words, choices, people };
}

/** What whoever the teacher sees things as is called; nobody has to be asked about a visitor. */
export function useSeenAs(as: () => string) {
  return useQuery({
    key: () => ['see-as-name', as()],
    query: () => api('GET /api/as/:as/:at/name', { params: { as: as(), at: 'now' } }),
    enabled: () => as() !== 'visitor',
  });
}
