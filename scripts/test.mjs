// Everything that must hold before work lands: checks, unit, property and server tests, journeys in a browser.
// Each run has its own scratch database and ports, so that runs at the same time do not meet.
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { check } from './check.mjs';
import { SERVER_PACKAGES, ensureBuilt, ensureDebian, ensureModules } from './lib/install.mjs';
import { failWith, run } from './lib/run.mjs';

try {
  process.exitCode = await test();
} catch (error) {
  failWith(error);
}

async function test() {
  await ensureDebian([...SERVER_PACKAGES, 'chromium', 'nginx-light']);
  await ensureModules();
  const reports = mkdtempSync(join(tmpdir(), 'sammlung-reports-'));
  const totals = { passed: 0, failed: 0 };
  const add = (name, { passed, failed }) => {
    totals.passed += passed;
    totals.failed += failed;
    console.log(`-- ${name}: ${passed} passed, ${failed} failed\n`);
  };
  try {
    const [checked] = await Promise.all([check(), ensureBuilt()]);
    add('check', checked);
    add('vitest', await vitest(join(reports, 'vitest.json')));
    add('journeys', await journeys(join(reports, 'playwright.json')));
  } finally {
    rmSync(reports, { recursive: true, force: true });
  }
  console.log(`${totals.passed} passed, ${totals.failed} failed`);
  return totals.failed > 0 || totals.passed === 0 ? 1 : 0;
}

async function vitest(report) {
  const { code } = await run(
    'npx',
    [
      '--no-install',
      'vitest',
      'run',
      '--reporter=default',
      '--reporter=json',
      `--outputFile.json=${report}`,
    ],
    { inherit: true },
  );
  const { numPassedTests, numFailedTests, numFailedTestSuites } = read(report);
  return verdict(code, numPassedTests, Math.max(numFailedTests, numFailedTestSuites > 0 ? 1 : 0));
}

async function journeys(report) {
  const { code } = await run(
    'npx',
    [
      '--no-install',
      'playwright',
      'test',
      '--config',
      'e2e/playwright.config.ts',
      '--reporter=list,json',
    ],
    { inherit: true, env: { ...process.env, PLAYWRIGHT_JSON_OUTPUT_FILE: report } },
  );
  const { stats } = read(report);
  return verdict(code, stats.expected, stats.unexpected + stats.flaky);
}

/** What a runner counted; a run that ended badly, or ran nothing, has failed at least once. */
function verdict(code, passed, failed) {
  return { passed, failed: failed === 0 && (code !== 0 || passed === 0) ? 1 : failed };
}

/** The report of a runner; one that did not get as far as writing it has counted nothing. */
function read(report) {
  try {
    return JSON.parse(readFileSync(report, 'utf8'));
  } catch (error) {
    if (error.code !== 'ENOENT') throw error;
    return {
      numPassedTests: 0,
      numFailedTests: 0,
      numFailedTestSuites: 0,
      stats: { expected: 0, unexpected: 0, flaky: 0 },
    };
  }
}
