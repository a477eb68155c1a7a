import { defineConfig } from 'vitest/config';

/** How Stryker runs the tests of core (npm run mutation). */
export default defineConfig({
  test: { include: ['test/**/*.test.ts'], setupFiles: ['test/mutation.setup.ts'] },
});
