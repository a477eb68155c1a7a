// Everything that must hold before work lands: checks, unit, property and server tests, journeys in a browser.
// Each run has its own scratch database and ports, so that runs at the same time do not meet.
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { check } from './check.mjs';
import {
  SERVER_PACKAGES,
  ensureBuilt,
  ensureDebian,
  ensureModules,
  ensureServer,
} from './lib/install.mjs';
import { failWith, run } from './lib/run.mjs';

try {
  process.exitCode = await test();
} catch (error) {
  failWith(error);
}

async function test() {
  await ensureDebian([
    ...SERVER_PACKAGES,
    'chromium-headless-shell',
    'nginx-light',
    'litmus',
    'cadaver',
    'rclone',
  ]);
  await ensureModules();
  const reports = mkdtempSync(join(tmpdir(), 'sammlung-reports-'));
  const totals = { passed: 0, failed: 0 };
  const failures = [];
  const add = (name, { passed, failed, failures: these }) => {
    totals.passed += passed;
    totals.failed += failed;
    failures.push(...these);
    console.log(`-- ${name}: ${passed} passed, ${failed} failed\n`);
  };
  try {
    const [checked] = await Promise.all([check(), ensureBuilt(), ensureServer()]);
    add('check', checked);
    add('vitest', await vitest(join(reports, 'vitest.json')));
    add('journeys', await journeys(join(reports, 'playwright.json')));
  } finally {
    rmSync(reports, { recursive: true, force: true });
  }
  // Said once more at the very end, where a log that is cut still has it.
  for (const failure of failures) console.log(`FAILED ${failure}\n`);
  console.log(`${totals.passed} passed, ${totals.failed} failed`);
  return totals.failed > 0 || totals.passed === 0 ? 1 : 0;
}

async function vitest(report) {
  const unhandled = `${report}.unhandled`;
  const { code } = await run(
    'npx',
    [
      '--no-install',
      'vitest',
      'run',
      '--reporter=default',
      '--reporter=json',
      `--outputFile.json=${report}`,
      '--reporter=./scripts/lib/unhandled-errors.mjs',
    ],
    { inherit: true, env: { ...process.env, UNHANDLED_ERRORS: unhandled } },
  );
  const { numPassedTests, numFailedTests, numFailedTestSuites, testResults } = read(report);
  const failures = testResults.flatMap(({ name, status, message, assertionResults }) => {
    const failed = assertionResults.filter((test) => test.status === 'failed');
    if (failed.length === 0 && status === 'failed') return [`${name}\n${message}`];
    return failed.map((test) => `${name}: ${test.fullName}\n${test.failureMessages.join('\n')}`);
  });
  const outside = readJson(unhandled) ?? [];
  failures.push(...outside.map((error) => `outside of any test: ${error}`));
  const failed = Math.max(numFailedTests, numFailedTestSuites > 0 ? 1 : 0) + outside.length;
  return verdict('vitest', code, numPassedTests, failed, failures);
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
  const { stats, suites } = read(report);
  const failures = [...specs(suites)]
    .filter(({ spec }) => !spec.ok)
    .map(({ file, spec }) => {
      const results = spec.tests.flatMap((test) => test.results);
      const messages = results.flatMap(({ errors }) => errors.map(({ message }) => message));
      return [`${file}: ${spec.title}`, ...messages, ...results.flatMap(shownThen)].join('\n');
    });
  return verdict('journeys', code, stats.expected, stats.unexpected + stats.flaky, failures);
}

/** What was on the pages when a journey failed, as far as a log should hold it. */
function shownThen({ attachments }) {
  const paths = attachments.flatMap(({ name, path }) => (name === 'error-context' ? [path] : []));
  return [...new Set(paths)].map((path) => {
    const [, snapshot = ''] = /```yaml\n(.*?)```/su.exec(readFileSync(path, 'utf8')) ?? [];
    return snapshot.split('\n').slice(0, 150).join('\n');
  });
}

/** Every journey in the report, with the file it is in. */
function* specs(suites) {
  for (const { file, specs: own = [], suites: inner = [] } of suites) {
    for (const spec of own) yield { file, spec };
    yield* specs(inner);
  }
}

/** What a runner counted; a run that ended badly, or ran nothing, has failed at least once. */
function verdict(name, code, passed, failed, failures) {
  if (failed > 0 || (code === 0 && passed > 0)) return { passed, failed, failures };
  return { passed, failed: 1, failures: [`${name} ended with ${code}; see above`] };
}

/** The report of a runner; one that did not get as far as writing it has counted nothing. */
function read(report) {
  return (
    readJson(report) ?? {
      numPassedTests: 0,
      numFailedTests: 0,
      numFailedTestSuites: 0,
      testResults: [],
      suites: [],
      stats: { expected: 0, unexpected: 0, flaky: 0 },
    }
  );
}

function readJson(path) {
  return existsSync(path) ? JSON.parse(readFileSync(path, 'utf8')) : null;
}
