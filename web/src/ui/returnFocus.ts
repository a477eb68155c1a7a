import { nextTick, onUnmounted } from 'vue';

/** Gives the focus back to what had it, once the sheet that was opened over it is gone. */
export function useReturnFocus(): void {
  const before = document.activeElement;
  onUnmounted(async () => {
    // Until then what lies below cannot have it.
    await nextTick();
    if (document.activeElement === document.body && before instanceof HTMLElement)
      before.focus({ preventScroll: true });
  });
}
