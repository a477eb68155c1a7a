import { usePreferredDark, usePreferredReducedMotion } from '@vueuse/core';
import { computed } from 'vue';

/** Colours and motion for charts, which draw on their own and need colours as they are; anew when the theme changes. */
export function useChartLook() {
  const dark = usePreferredDark();
  const motion = usePreferredReducedMotion();
  return computed(() => {
    void dark.value;
    const style = getComputedStyle(document.documentElement);
    return {
      colour: (name: string) => style.getPropertyValue(`--${name}`).trim(),
      moves: motion.value === 'no-preference',
    };
  });
}
