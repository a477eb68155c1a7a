import { nextTick, onBeforeUpdate, onUpdated, type Ref } from 'vue';

/**
 * Keeps what somebody looks at where it is while a list changes by itself. `during` runs such a change: the first row
 * on the screen, or the one with the focus, stays where it stands. At the very top of a page nobody has touched,
 * what is new may show itself.
 */
export function useKeepPlace(list: Readonly<Ref<HTMLElement | null>>) {
  let changing = 0;
  let row: Element | undefined;
  let top = 0;

  onBeforeUpdate(() => {
    row = undefined;
    const element = list.value;
    if (changing === 0 || !element) return;
    const focused = element.contains(document.activeElement) ? document.activeElement : null;
    if (window.scrollY < 8 && !focused && !element.matches(':hover')) return;
    row =
      focused ??
      [...element.querySelectorAll('li')].find((li) => li.getBoundingClientRect().top >= 0);
    top = row?.getBoundingClientRect().top ?? 0;
  });
  onUpdated(() => {
    if (row?.isConnected) window.scrollBy(0, row.getBoundingClientRect().top - top);
  });

  return async function during(change: () => unknown): Promise<void> {
    changing += 1;
    try {
      await change();
      await nextTick();
    } finally {
      changing -= 1;
    }
  };
}
