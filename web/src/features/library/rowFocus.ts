import { nextTick, watch, type Ref } from 'vue';
import type { Row } from './library.ts';

/** The focus among rows of which only those near the screen are drawn; `scrollTo` brings the row at a place there. */
export function useRowFocus(
  list: Readonly<Ref<HTMLElement | null>>,
  rows: () => readonly Row[],
  scrollTo: (at: number) => void,
) {
  async function focusRow(at: number) {
    if (at < 0 || at >= rows().length) return;
    scrollTo(at);
    for (let tries = 0; tries < 20; tries += 1) {
      await new Promise((resolve) => requestAnimationFrame(resolve));
      const row = list.value?.querySelector<HTMLElement>(`[data-at="${at}"] [data-row]`);
      if (!row) continue;
      row.focus();
      return;
    }
  }

  /** Keeps the focus on a row that gets another place or form, now and when the list has come anew. */
  let followed: string | null = null;
  async function follow({ id }: Row) {
    followed = id;
    await nextTick();
    await focusRow(rows().findIndex((row) => row.id === id));
  }
  watch(
    rows,
    async (now) => {
      const at = now.findIndex((row) => row.id === followed);
      followed = null;
      if (at >= 0) await focusRow(at);
    },
    { flush: 'post' },
  );

  /** Where the row is that has the focus, itself or something in it; -1 where none has. */
  function focused(): number {
    const line = document.activeElement?.closest<HTMLElement>('[data-at]');
    return line && list.value?.contains(line) ? Number(line.dataset.at) : -1;
  }

  return { focusRow, follow, focused };
}
