import { chromium, type Browser } from '@playwright/test';
import config from '../../e2e/playwright.config.ts';

/** The whole browser, as people have it: the shell in which journeys run draws with less. */
export function launchBrowser(): Promise<Browser> {
  return chromium.launch({ ...config.use!.launchOptions, executablePath: '/usr/bin/chromium' });
}
