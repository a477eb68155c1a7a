import { readFileSync } from 'node:fs';

/** Megabytes (1,000,000 bytes) of memory that a process holds now. */
export function held(pid: number): number {
  const line = /^VmRSS:\s+(\d+) kB$/mu.exec(readFileSync(`/proc/${pid}/status`, 'utf8'));
  return (Number(line![1]) * 1024) / 1e6;
}

/** Runs `work`; resolves to how many megabytes the process `pid` held more at its highest than before. */
export async function growthOf(pid: number, work: () => Promise<void>): Promise<number> {
  const before = held(pid);
  return (await highestOf(pid, work)) - before;
}

/** Runs `work`; resolves to how many megabytes the process `pid` held at its highest. */
export async function highestOf(pid: number, work: () => Promise<void>): Promise<number> {
  let highest = held(pid);
  const looking = setInterval(() => (highest = Math.max(highest, held(pid))), 50);
  try {
    await work();
  } finally {
    clearInterval(looking);
  }
  return highest;
}

/** Seconds that a command takes to its end. Throws when it fails. */
export async function seconds(run: () => Promise<{ code: number; output: string }>) {
  const started = performance.now();
  const { code, output } = await run();
  if (code !== 0) throw new Error(`ended with ${code}: ${output.slice(-500)}`);
  return (performance.now() - started) / 1000;
}
