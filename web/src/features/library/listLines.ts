import { useElementBounding, useElementSize } from '@vueuse/core';
import { useWindowVirtualizer } from '@tanstack/vue-virtual';
import { computed, type ComponentPublicInstance, type Ref } from 'vue';
import type { Row } from './library.ts';

/** The lines of a long list, of which only those near the screen are drawn: one row each, or as many tiles as fit. */
export function useListLines(
  list: Readonly<Ref<HTMLElement | null>>,
  rows: () => readonly Row[],
  tiles: () => boolean,
) {
  const { width } = useElementSize(list);
  const { top } = useElementBounding(list);
  const across = computed(() => (tiles() ? Math.max(2, Math.floor((width.value + 12) / 188)) : 1));
  const count = computed(() => Math.ceil(rows().length / across.value));
  const virtualizer = useWindowVirtualizer(
    computed(() => ({
      count: count.value,
      estimateSize: () => (tiles() ? 232 : 53),
      overscan: 8,
      scrollMargin: Math.round(top.value + window.scrollY),
      getItemKey: (n: number) => rows()[n * across.value]?.id ?? n,
    })),
  );
  const drawn = computed(() =>
    virtualizer.value.getVirtualItems().map((line) => ({
      ...line,
      rows: rows()
        .slice(line.index * across.value, (line.index + 1) * across.value)
        .map((row, n) => ({ row, at: line.index * across.value + n })),
    })),
  );
  const measure = (element: Element | ComponentPublicInstance | null) =>
    virtualizer.value.measureElement(element as Element | null);
  /** Whether the last lines are nearly on the screen. */
  const nearEnd = computed(() => (drawn.value.at(-1)?.index ?? 0) >= count.value - 15);
  return { across, virtualizer, drawn, measure, nearEnd };
}
