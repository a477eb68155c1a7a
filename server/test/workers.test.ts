import { writeFileSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { afterAll, describe, expect, it } from 'vitest';
import { startWorkers } from '../src/platform/workers.ts';

const folder = mkdtempSync(join(tmpdir(), 'sammlung-workers-'));
const file = pathToFileURL(join(folder, 'work.ts'));
writeFileSync(
  file,
  `export const double = ({ n }: { n: number }) => ({ twice: n * 2 });
  export const endless = () => { for (;;); };
  export const greedy = () => { const all: number[][] = []; for (;;) all.push(Array.from({ length: 100_000 }, (_, n) => n)); };
  export const faulty = () => { throw new Error('a fault of its own'); };`,
);
const workers = startWorkers({ limitMs: 3000, memoryMb: 64 });
afterAll(async () => {
  await workers.close();
  rmSync(folder, { recursive: true });
});

describe('work in threads of its own', () => {
  it('gives back what comes out, and what goes wrong', async () => {
    expect(await workers.run(file, 'double', { n: 21 })).toEqual({ twice: 42 });
    await expect(workers.run(file, 'faulty', {})).rejects.toThrow('a fault of its own');
  });

  it('is ended when it does not end, while this process goes on', async () => {
    let beats = 0;
    const beating = setInterval(() => (beats += 1), 20);
    await expect(workers.run(file, 'endless', {})).rejects.toMatchObject({ code: 'too-slow' });
    clearInterval(beating);
    expect(beats).toBeGreaterThan(20);
    expect(await workers.run(file, 'double', { n: 1 })).toEqual({ twice: 2 });
  });

  it('is ended when it takes more memory than it may', async () => {
    const own = startWorkers({ limitMs: 60_000, memoryMb: 64 });
    await expect(own.run(file, 'greedy', {})).rejects.toMatchObject({ code: 'too-slow' });
    await own.close();
  });

  it('is refused when too much waits', async () => {
    const own = startWorkers({ limitMs: 1000, waiting: 2 });
    const all = await Promise.allSettled(
      Array.from({ length: 8 }, () => own.run(file, 'endless', {})),
    );
    const codes = all.map(
      (one) => one.status === 'rejected' && (one.reason as { code: string }).code,
    );
    expect(codes).toEqual([...Array(4).fill('too-slow'), ...Array(4).fill('busy')]);
    await own.close();
  });
});
