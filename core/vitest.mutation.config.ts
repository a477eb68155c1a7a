import { defineConfig } from 'vitest/config';
import { BaseSequencer, type TestSpecification } from 'vitest/node';

/** Tests that try many schools: begun last, they need not run where another one has noticed a change already. */
const LONG = /\/(access|changes|consequence)\.test\.ts$/u;

class LongLast extends BaseSequencer {
  override async sort(files: TestSpecification[]) {
    const sorted = await super.sort(files);
    const isLong = ({ moduleId }: TestSpecification) => LONG.test(moduleId);
    return [...sorted.filter((file) => !isLong(file)), ...sorted.filter(isLong)];
  }
}

/** How Stryker runs the tests of core (npm run mutation). */
export default defineConfig({
  test: {
    isolate: false,
    include: ['test/**/*.test.ts'],
    setupFiles: ['test/mutation.setup.ts'],
    sequence: { sequencer: LongLast },
    // In one file, so that it is there sooner.
    deps: { optimizer: { ssr: { enabled: true, include: ['fast-check', 'papaparse'] } } },
  },
});
