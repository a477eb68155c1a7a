import { defineConfig } from '@playwright/test';

/** The longest files are begun first, so that none is left to run alone at the end. */
const LONG = /(?:intake|students|library)\.spec\.ts$/u;

/** Journeys run in Debian's Chromium, without what only windows need, against a server and database of their own, filled with the sample school. */
export default defineConfig({
  testDir: '.',
  projects: [
    { name: 'long', testMatch: LONG },
    { name: 'others', testMatch: '*.spec.ts', testIgnore: LONG },
  ],
  globalSetup: './server.ts',
  outputDir: '../test-results',
  // One more than the cores that it is to run on: pages wait for the server, and journeys for pages.
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
