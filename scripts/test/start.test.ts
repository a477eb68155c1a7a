import { spawn, type ChildProcess } from 'node:child_process';
import {
  chmodSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { freePort, root } from '../lib/run.mjs';

const data = mkdtempSync(join(tmpdir(), 'sammlung-start-'));
chmodSync(data, 0o755);
const port = await freePort();
const running = new Set<ChildProcess>();

afterAll(() => {
  for (const child of running) child.kill('SIGKILL');
  rmSync(data, { recursive: true, force: true });
});

/** `npm start` as a process; `until` waits for a text in what it prints. */
function start(env: Record<string, string> = {}) {
  const child = spawn(process.execPath, ['scripts/start.mjs'], {
    cwd: root,
    env: { ...process.env, PORT: String(port), SAMMLUNG_DATA: data, ...env },
  });
  running.add(child);
  let printed = '';
  for (const stream of [child.stdout, child.stderr])
    stream.on('data', (chunk) => (printed += chunk));
  const ended = new Promise<number | null>((resolve) =>
    child.on('close', (code) => {
      running.delete(child);
      resolve(code);
    }),
  );
  const until = async (text: string) => {
    for (let tries = 0; !printed.includes(text); tries += 1) {
      if (tries > 4000 || child.exitCode !== null) throw new Error(`no "${text}" in:\n${printed}`);
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    return printed;
  };
  return { child, ended, until, printed: () => printed };
}

const databasePid = () =>
  Number(readFileSync(join(data, 'pg', 'postmaster.pid'), 'utf8').split('\n')[0]);
const runs = (pid: number) => existsSync(`/proc/${pid}`);

describe('npm start', () => {
  it.each([
    ['PORT', 'eighty'],
    ['PORT', '70000'],
    ['SAMMLUNG_UPLOAD_LIMIT', '0'],
    ['SAMMLUNG_SAMPLE', 'perhaps'],
    ['SAMMLUNG_ADDRESS', 'school.example'],
  ])('names the setting %s when it is %s, and starts nothing', async (name, value) => {
    const { ended, printed } = start({ [name]: value });
    expect(await ended).toBe(1);
    expect(printed()).toContain(`${name}: `);
    expect(existsSync(join(data, 'pg'))).toBe(false);
  });

  it('starts over what a killed run left behind, one at a time, and stops cleanly', async () => {
    // A cluster that was not finished, and the lock of a process that is gone.
    mkdirSync(join(data, 'pg.making-999999'), { recursive: true });
    writeFileSync(join(data, 'start.lock'), '999999');
    const first = start();
    const printed = await first.until('Ctrl C stops it.');
    expect(printed).toContain(`http://localhost:${port}`);
    expect(printed).toMatch(/ilse\.vandermoor@fennmoor\.example\s+fennmoor/u);
    expect(existsSync(join(data, 'pg.making-999999'))).toBe(false);
    // Contents, and what is on its way to be one, are nobody else's to read.
    for (const name of ['files', 'made', 'uploads', 'work', 'secret'])
      expect(statSync(join(data, name)).mode & 0o077, name).toBe(0);

    const second = start({ PORT: String(await freePort()) });
    expect(await second.ended).toBe(1);
    expect(second.printed()).toContain('runs on this data folder already');

    const left = databasePid();
    first.child.kill('SIGKILL');
    await first.ended;
    expect(runs(left)).toBe(true);

    const third = start();
    await third.until('Ctrl C stops it.');
    expect(third.printed()).toContain('Ending the database server of an earlier run');
    expect(third.printed()).not.toContain('Filling in the sample school');
    expect(runs(left)).toBe(false);
    const reply = await fetch(`http://localhost:${port}/api/sample`);
    expect(((await reply.json()) as { signIns: unknown[] }).signIns).toHaveLength(6);
    const page = await fetch(`http://localhost:${port}/library`);
    expect(page.headers.get('content-security-policy')).toContain("default-src 'self'");

    const database = databasePid();
    third.child.kill('SIGINT');
    expect(await third.ended).toBe(0);
    expect(runs(database)).toBe(false);
    expect(existsSync(join(data, 'start.lock'))).toBe(false);
    expect(existsSync(join(data, 'pg', 'postmaster.pid'))).toBe(false);
  });
});
