import { usePreferredDark, usePreferredReducedMotion } from '@vueuse/core';
import type { ApexOptions } from 'apexcharts';
import { computed } from 'vue';

/** Colours and motion for charts, which draw on their own and need colours as they are; anew when the theme changes. */
export function useChartLook() {
  const dark = usePreferredDark();
  const motion = usePreferredReducedMotion();
  return computed(() => {
    void dark.value;
    const style = getComputedStyle(document.documentElement);
    const moves = motion.value === 'no-preference';
    return {
      colour: (name: string) => style.getPropertyValue(`--${name}`).trim(),
      /** What all charts have in common: they have no bar of tools, no legend, and nothing that is told by pointing alone. */
      plain: (type: 'bar' | 'heatmap'): ApexOptions => ({
        chart: {
          type,
          toolbar: { show: false },
          fontFamily: 'inherit',
          animations: { enabled: moves, speed: 140 },
        },
        legend: { show: false },
        tooltip: { enabled: false },
        states: { hover: { filter: { type: 'none' } } },
      }),
    };
  });
}
