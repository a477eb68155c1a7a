import { defineConfig } from '@playwright/test';

/** Journeys run in Debian's Chromium, without what only windows need, against a server and database of their own, filled with the sample school. */
export default defineConfig({
  testDir: '.',
  testMatch: '*.spec.ts',
  globalSetup: './server.ts',
  outputDir: '../test-results',
  workers: 2,
  timeout: 300_000,
  expect: { timeout: 45_000 },
  retries: 0,
  use: {
    baseURL: process.env.E2E_ADDRESS,
    viewport: { width: 1280, height: 800 },
    trace: 'off',
    actionTimeout: 60_000,
    launchOptions: {
      executablePath: '/usr/bin/chromium-headless-shell',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
  },
});
