import { useEventListener } from '@vueuse/core';
import { computed, ref } from 'vue';
import type { Choice } from './choice.ts';

/** Pixels the pointer has to go before it counts as drawing. */
const LEAST = 6;
const SOLID = 'a, button, input, select, textarea, label, [role=menu], [role=dialog]';

/**
 * Choosing rows by drawing a box round them, from any place of the sheet that does nothing else. With Ctrl or Shift
 * the rows are added to those chosen already. Returns the box as it is drawn, in pixels of the window.
 */
export function useLasso(sheet: () => Element | null, choice: Choice) {
  const from = ref<{ x: number; y: number } | null>(null);
  const to = ref<{ x: number; y: number } | null>(null);
  let kept: ReadonlySet<string> = new Set();

  useEventListener(window, 'pointerdown', (event: PointerEvent) => {
    const target = event.target as Element;
    if (event.button !== 0 || event.pointerType === 'touch') return;
    if (!sheet()?.contains(target) || target.closest(SOLID)) return;
    from.value = { x: event.pageX, y: event.pageY };
    kept = event.ctrlKey || event.metaKey || event.shiftKey ? new Set(choice.ids.value) : new Set();
  });
  useEventListener(window, 'pointermove', (event: PointerEvent) => {
    if (!from.value) return;
    const at = { x: event.pageX, y: event.pageY };
    const far = Math.hypot(at.x - from.value.x, at.y - from.value.y) >= LEAST;
    if (!to.value && !far) return;
    to.value = at;
    event.preventDefault();
    choice.set([...kept, ...within()]);
  });
  useEventListener(window, 'pointerup', () => {
    if (from.value && !to.value && kept.size === 0) choice.none();
    from.value = null;
    to.value = null;
  });
  // Text must not be selected while a box is drawn.
  useEventListener(document, 'selectstart', (event) => {
    if (from.value) event.preventDefault();
  });

  function within(): string[] {
    const [a, b] = [from.value!, to.value!];
    const box = {
      left: Math.min(a.x, b.x) - window.scrollX,
      right: Math.max(a.x, b.x) - window.scrollX,
      top: Math.min(a.y, b.y) - window.scrollY,
      bottom: Math.max(a.y, b.y) - window.scrollY,
    };
    return [...(sheet()?.querySelectorAll<HTMLElement>('[data-at]') ?? [])].flatMap((element) => {
      const r = element.getBoundingClientRect();
      const meets =
        r.left < box.right && r.right > box.left && r.top < box.bottom && r.bottom > box.top;
      return meets && element.dataset.id ? [element.dataset.id] : [];
    });
  }

  return computed(() => {
    if (!from.value || !to.value) return null;
    const [a, b] = [from.value, to.value];
    return {
      left: `${Math.min(a.x, b.x) - window.scrollX}px`,
      top: `${Math.min(a.y, b.y) - window.scrollY}px`,
      width: `${Math.abs(a.x - b.x)}px`,
      height: `${Math.abs(a.y - b.y)}px`,
    };
  });
}
