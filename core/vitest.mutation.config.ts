import { defineConfig } from 'vitest/config';

/** How Stryker runs the tests of core (npm run mutation). */
export default defineConfig({
  test: { isolate: false, include: ['test/**/*.test.ts'], setupFiles: ['test/mutation.setup.ts'] },
});
