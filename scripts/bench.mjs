// Measures speed and size, each figure against a yardstick in the same run, and writes bench/results.json.
import {
  SERVER_PACKAGES,
  ensureBuilt,
  ensureDebian,
  ensureModules,
  ensureServer,
} from './lib/install.mjs';
import { failWith, run } from './lib/run.mjs';

try {
  await ensureDebian([
    ...SERVER_PACKAGES,
    'chromium',
    'nginx-light',
    'apache2-bin',
    'rclone',
    'wrk',
    'zip',
    'curl',
  ]);
  await ensureModules();
  await Promise.all([ensureBuilt(), ensureServer()]);
  const { code } = await run(
    process.execPath,
    ['--import', 'tsx', 'bench/src/main.ts', ...process.argv.slice(2)],
    {
      inherit: true,
    },
  );
  process.exitCode = code;
} catch (error) {
  failWith(error);
}
