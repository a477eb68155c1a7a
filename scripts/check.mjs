// Types, lint, format and import rules: all of them, each with its own verdict.
import { pathToFileURL } from 'node:url';
import { ensureModules } from './lib/install.mjs';
import { failWith, run } from './lib/run.mjs';

const CHECKS = {
  'types of the server': ['tsc', '-p', 'tsconfig.json'],
  'types of the web application': ['vue-tsc', '-p', 'web'],
  lint: ['eslint', '.', '--max-warnings', '0'],
  format: ['prettier', '--check', '--log-level', 'warn', '.'],
  'import rules': ['depcruise', 'core', 'contract', 'demo', 'server/src', 'web/src'],
};

/** Runs every check, all at once; resolves to { passed, failed, failures }. What fails says why. */
export async function check() {
  const verdicts = await Promise.all(
    Object.entries(CHECKS).map(async ([name, [command, ...args]]) => {
      const { code, output } = await run('npx', ['--no-install', command, ...args]);
      console.log(`${code === 0 ? 'ok    ' : 'FAILED'} ${name}`);
      if (code !== 0) console.log(output);
      return { name, ok: code === 0 };
    }),
  );
  const failures = verdicts.filter(({ ok }) => !ok).map(({ name }) => name);
  const failed = failures.length;
  return { passed: verdicts.length - failed, failed, failures };
}

if (import.meta.url === pathToFileURL(process.argv[1]).href) {
  try {
    await ensureModules();
    const { failed } = await check();
    process.exitCode = failed > 0 ? 1 : 0;
  } catch (error) {
    failWith(error);
  }
}
