import { defineConfig } from 'vitest/config';
import { BaseSequencer, type TestSpecification } from 'vitest/node';

/** Tests that wait for servers of their own most of the time: begun first, they hold nothing up at the end. */
const WAITING = /\/(scripts\/test\/start|server\/test\/kills)\.test\.ts$/u;

class WaitingFirst extends BaseSequencer {
  override async sort(files: TestSpecification[]) {
    const sorted = await super.sort(files);
    const waits = ({ moduleId }: TestSpecification) => WAITING.test(moduleId);
    return [...sorted.filter(waits), ...sorted.filter((file) => !waits(file))];
  }
}

export default defineConfig({
  test: {
    sequence: { sequencer: WaitingFirst },
    // One more than the cores that it is to run on: many tests wait for programs and for the database.
    maxWorkers: 3,
    projects: [
      {
        test: {
          name: 'core',
          isolate: false,
          include: ['core/test/**/*.test.ts'],
          testTimeout: 400_000,
        },
      },
      { test: { name: 'demo', include: ['demo/test/**/*.test.ts'], testTimeout: 400_000 } },
      {
        test: {
          name: 'web',
          include: ['web/test/**/*.test.ts'],
          setupFiles: ['web/test/setup.ts'],
          testTimeout: 120_000,
        },
      },
      {
        test: {
          name: 'start',
          include: ['scripts/test/**/*.test.ts'],
          testTimeout: 600_000,
        },
      },
      {
        test: {
          name: 'server',
          isolate: false,
          include: ['server/test/**/*.test.ts'],
          globalSetup: 'server/test/setup.ts',
          testTimeout: 400_000,
          hookTimeout: 120_000,
        },
      },
    ],
  },
});
