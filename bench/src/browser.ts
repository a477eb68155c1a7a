import { chromium, type Browser } from '@playwright/test';
import config from '../../e2e/playwright.config.ts';

/** The whole browser, as people have it: the shell in which journeys run draws with less. */
export function launchBrowser(more: readonly string[] = []): Promise<Browser> {
  const { launchOptions } = config.use!;
  const args = [...launchOptions!.args!, ...more];
  return chromium.launch({ ...launchOptions, args, executablePath: '/usr/bin/chromium' });
}
