// Tries changes to core, one after the other, against core's own tests: `npm run mutation`. Exit code 1 where fewer than
// 85 % are noticed, or where one that is not has no explanation in core/test/survivors.json.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ensureModules } from './lib/install.mjs';
import { failWith, root, run, Stop } from './lib/run.mjs';

const LEAST = 85;
const NOTICED = ['Killed', 'Timeout'];
const MISSED = ['Survived', 'NoCoverage'];

try {
  await ensureModules();
  const core = join(root, 'core');
  const arguments_ = ['--no-install', 'stryker', 'run', 'stryker.config.json'];
  const { code } = await run('npx', [...arguments_, ...process.argv.slice(2)], {
    inherit: true,
    cwd: core,
  });
  if (code !== 0) throw new Stop('Stryker did not come to its end.');
  const report = JSON.parse(readFileSync(join(core, 'dist', 'mutation.json'), 'utf8'));
  const explained = JSON.parse(readFileSync(join(core, 'test', 'survivors.json'), 'utf8'));
  process.exitCode = judge(report, explained);
} catch (error) {
  failWith(error);
}

function judge(report, explained) {
  const mutants = Object.entries(report.files).flatMap(([file, { mutants, source }]) =>
    mutants.map((mutant) => ({ ...mutant, file, name: nameOf(mutant, source.split('\n')) })),
  );
  const noticed = mutants.filter(({ status }) => NOTICED.includes(status)).length;
  const missed = mutants.filter(({ status }) => MISSED.includes(status));
  const score = (100 * noticed) / (noticed + missed.length);
  const open = missed.filter(({ file, name }) => !explained[file]?.[name]);
  for (const { file, location, name } of open)
    console.log(`${file}:${location.start.line} ${name}`);
  console.log(`${missed.length} not noticed, ${open.length} of them not explained`);
  console.log(`mutation_core ${score.toFixed(1)} % (at least ${LEAST} %)`);
  return score < LEAST || open.length > 0 ? 1 : 0;
}

/** The line with the change in it, which names a mutant also after others have moved it: `a < b => a <= b`. */
function nameOf({ location: { start, end }, replacement }, lines) {
  const line = lines[start.line - 1];
  const rest = end.line === start.line ? line.slice(end.column - 1) : '';
  const changed = `${line.slice(0, start.column - 1)}${replacement}${rest}`;
  return `${line.trim()} => ${changed.trim()}`;
}
