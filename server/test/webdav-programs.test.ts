import { execFile } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startServer } from './harness.ts';
import { programs } from './programs.ts';

/** Programs that people use, and the suite by which servers are told apart from those that only seem to speak WebDAV. */

const server = await startServer();
const { dav, list, passwordOf } = programs(server);
const home = mkdtempSync(join(tmpdir(), 'sammlung-programs-'));
const address = `${server.base}/dav`;
const run = promisify(execFile);
let password = '';
beforeAll(async () => {
  password = await passwordOf('owner');
  await dav('owner', 'MKCOL', 'Library/Programs');
});
afterAll(async () => {
  await server.stop();
  rmSync(home, { recursive: true });
});

describe('litmus', () => {
  // None is skipped: what is refused here (other people’s sight, and what only reads) is nothing that it tries.
  it.each(['basic', 'copymove', 'props', 'locks', 'http'])('passes %s', async (suite) => {
    const { stdout } = await run(
      'litmus',
      ['-k', `${address}/Library/Programs/`, 'owner', password],
      { cwd: home, env: { ...process.env, TESTS: suite }, timeout: 60_000 },
    );
    const [, ran, passed, failed] =
      /of (\d+) tests run: (\d+) passed, (\d+) failed/u.exec(stdout) ?? [];
    expect(Number(ran)).toBeGreaterThan(3);
    expect([passed, failed, stdout.includes('WARNING')]).toEqual([ran, '0', false]);
  });
});

it('cadaver lists, puts, gets, moves and removes', async () => {
  writeFileSync(join(home, '.netrc'), `machine 127.0.0.1 login owner password ${password}\n`);
  const [given, got] = [join(home, 'given.txt'), join(home, 'got.txt')];
  writeFileSync(given, 'Put by cadaver.');
  const lines = [
    ...[`open ${address}/Library/Programs/`, 'mkcol shelf', 'cd shelf', `put ${given} given.txt`],
    ...['ls', 'move given.txt renamed.txt', `get renamed.txt ${got}`, 'delete renamed.txt', 'quit'],
  ];
  const env = { ...process.env, HOME: home };
  const child = run('cadaver', [], { env, timeout: 30_000 });
  child.child.stdin!.end(`${lines.join('\n')}\n`);
  const { stdout } = await child;
  expect(stdout).not.toMatch(/failed|error/iu);
  expect((await run('cat', [got])).stdout).toBe('Put by cadaver.');
  expect(await list('owner', 'Library/Programs/shelf')).toEqual([]);
});

it('rclone copies folders both ways, and finds them the same', async () => {
  const env = { ...process.env, RCLONE_CONFIG: join(home, 'none.conf') };
  const { stdout: hidden } = await run('rclone', ['obscure', password], { env });
  const remote = `:webdav,url='${address}/',vendor=other,user=owner,pass=${hidden.trim()}:`;
  const folder = join(home, 'handouts');
  mkdirSync(join(folder, 'Unit 1'), { recursive: true });
  for (let n = 1; n <= 20; n += 1)
    writeFileSync(join(folder, 'Unit 1', `Sheet ${n}.txt`), `Sheet ${n} of the unit.`);
  writeFileSync(join(folder, 'Übersicht, 土壌.md'), '# Soil');
  const to = `${remote}Library/Programs/handouts`;
  const rclone = (...args: string[]) => run('rclone', args, { env, timeout: 60_000 });
  await rclone('copy', folder, to);
  await rclone('check', folder, to, '--download');
  writeFileSync(join(folder, 'Unit 1', 'Sheet 1.txt'), 'Sheet 1, corrected.');
  rmSync(join(folder, 'Unit 1', 'Sheet 2.txt'));
  await rclone('sync', folder, to);
  await rclone('check', folder, to, '--download');
  await rclone('copy', to, join(home, 'back'));
  await rclone('check', folder, join(home, 'back'));
  expect(await list('owner', 'Library/Programs/handouts/Unit 1')).toHaveLength(19);
});
