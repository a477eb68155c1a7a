import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    // One more than the cores that it is to run on: many tests wait for programs and for the database.
    maxWorkers: 3,
    projects: [
      { test: { name: 'core', include: ['core/test/**/*.test.ts'], testTimeout: 120_000 } },
      { test: { name: 'demo', include: ['demo/test/**/*.test.ts'], testTimeout: 120_000 } },
      { test: { name: 'web', include: ['web/test/**/*.test.ts'], testTimeout: 60_000 } },
      {
        test: {
          name: 'start',
          include: ['scripts/test/**/*.test.ts'],
          testTimeout: 240_000,
        },
      },
      {
        test: {
          name: 'server',
          isolate: false,
          include: ['server/test/**/*.test.ts'],
          globalSetup: 'server/test/setup.ts',
          testTimeout: 180_000,
          hookTimeout: 60_000,
        },
      },
    ],
  },
});
