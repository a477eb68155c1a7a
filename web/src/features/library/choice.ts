import { computed, ref, watch, type Ref } from 'vue';
import type { Row } from './library.ts';

/** Which rows of a list are chosen: one by one, by range, or all. Rows that go away are no longer chosen. */
export function useChoice(rows: Ref<readonly Row[]>) {
  const ids = ref(new Set<string>());
  /** From where a range reaches. */
  const anchor = ref<string | null>(null);
  const chosen = computed(() => rows.value.filter((row) => ids.value.has(row.id)));

  watch(rows, (now) => {
    const there = new Set(now.map((row) => row.id));
    const left = [...ids.value].filter((id) => there.has(id));
    if (left.length < ids.value.size) ids.value = new Set(left);
  });

  function toggle(id: string) {
    const next = new Set(ids.value);
    if (!next.delete(id)) next.add(id);
    ids.value = next;
    anchor.value = id;
  }

  /** Chooses everything between the last row that was toggled and this one. */
  function reach(id: string) {
    const from = rows.value.findIndex((row) => row.id === (anchor.value ?? id));
    const to = rows.value.findIndex((row) => row.id === id);
    const range = rows.value.slice(Math.min(from, to), Math.max(from, to) + 1);
    ids.value = new Set([...ids.value, ...range.map((row) => row.id)]);
  }

  function set(chosenIds: Iterable<string>) {
    ids.value = new Set(chosenIds);
  }

  const all = () => set(rows.value.map((row) => row.id));
  function none() {
    ids.value = new Set();
    anchor.value = null;
  }

  /** The rows an action on `row` concerns: all chosen ones when it is one of them, else it alone. */
  const with_ = (row: Row): readonly Row[] => (ids.value.has(row.id) ? chosen.value : [row]);

  return { ids, chosen, toggle, reach, set, all, none, with: with_ };
}
export type Choice = ReturnType<typeof useChoice>;
