import type { BrowserContextOptions } from '@playwright/test';

/** What students and visitors hold in their hands. */
export const DEVICES: Record<string, BrowserContextOptions> = {
  laptop: { viewport: { width: 1280, height: 800 } },
  tablet: { viewport: { width: 820, height: 1180 }, hasTouch: true, isMobile: true },
  phone: { viewport: { width: 360, height: 740 }, hasTouch: true, isMobile: true },
};

/** On which of them people teach. */
export const TEACHING = ['laptop', 'tablet'] as const;
