import { defineConfig } from '@playwright/test';

/** Journeys run in Debian's Chromium against a server and database of their own, filled with the sample school. */
export default defineConfig({
  testDir: '.',
  testMatch: '*.spec.ts',
  globalSetup: './server.ts',
  outputDir: '../test-results',
  // One more than the cores that they are to run on: journeys wait for pages half of the time.
  workers: 3,
  timeout: 180_000,
  expect: { timeout: 20_000 },
  retries: 0,
  use: {
    baseURL: process.env.E2E_ADDRESS,
    viewport: { width: 1280, height: 800 },
    trace: 'off',
    actionTimeout: 30_000,
    launchOptions: {
      executablePath: '/usr/bin/chromium',
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
