import type { Directive } from 'vue';

/** A directive that sets something up on an element; what it is bound to can be asked for at any time. */
export function bound<T>(
  setUp: (element: HTMLElement, value: () => T) => () => void,
): Directive<HTMLElement, T> {
  const values = new WeakMap<HTMLElement, T>();
  const cleanUps = new WeakMap<HTMLElement, () => void>();
  return {
    mounted(element, { value }) {
      values.set(element, value);
      cleanUps.set(
        element,
        setUp(element, () => values.get(element)!),
      );
    },
    updated: (element, { value }) => void values.set(element, value),
    beforeUnmount: (element) => cleanUps.get(element)?.(),
  };
}
