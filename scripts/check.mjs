// Types, lint, format and import rules: all of them, each with its own verdict.
import { pathToFileURL } from 'node:url';
import { ensureModules } from './lib/install.mjs';
import { failWith, run } from './lib/run.mjs';

const program = (name) => ['npx', '--no-install', name];
/** TypeScript 7 has no API yet for the programs that build on it; those go on with TypeScript 6. */
const TSC = ['node', 'node_modules/typescript-native/bin/tsc'];

const CHECKS = {
  'types of the server': [...TSC, '-p', 'tsconfig.json'],
  'types of the web application': [...program('vue-tsc'), '-p', 'web'],
  lint: [...program('eslint'), '.', '--max-warnings', '0'],
  format: [...program('prettier'), '--check', '--log-level', 'warn', '.'],
  'import rules': [...program('depcruise'), 'core', 'contract', 'demo', 'server/src', 'web/src'],
};

/** Runs every check, all at once; resolves to { passed, failed, failures }. What fails says why. */
export async function check() {
  const verdicts = await Promise.all(
    Object.entries(CHECKS).map(async ([name, [command, ...args]]) => {
      const { code, output } = await run(command, args);
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
