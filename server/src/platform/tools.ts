import { spawn, spawnSync } from 'node:child_process';

/** Bounds for a program of the system that works on a file nobody has checked. */
export interface Bounds {
  /** Seconds on the clock, and of computing. */
  readonly seconds: number;
  /** Bytes of address space. */
  readonly memory: number;
  /** Bytes of the largest file it may write. */
  readonly fileSize: number;
}

export interface Ran {
  readonly code: number | null;
  /** True when it was ended for having used up its time. */
  readonly overtime: boolean;
  readonly stdout: string;
  readonly stderr: string;
}

const KEPT_OUTPUT = 64 * 1024;

/** Whether this system lets a program be cut off from the network. */
let cutOff: boolean | null = null;
const canCutOff = () =>
  (cutOff ??= spawnSync('unshare', ['--map-root-user', '--net', 'true']).status === 0);

/**
 * Runs a program within bounds, in `folder`, with nothing of our environment and, where the system allows it, no
 * network. At the end of its time it is ended with everything it started. Throws only when it cannot be started.
 */
export function runTool(
  command: string,
  args: readonly string[],
  folder: string,
  bounds: Bounds,
): Promise<Ran> {
  const line = [
    ...(canCutOff() ? ['unshare', '--map-root-user', '--net', '--'] : []),
    'prlimit',
    `--as=${bounds.memory}`,
    `--cpu=${bounds.seconds}`,
    `--fsize=${bounds.fileSize}`,
    '--core=0',
    '--',
    'nice',
    '-n',
    '10',
    command,
    ...args,
  ];
  const child = spawn(line[0]!, line.slice(1), {
    cwd: folder,
    detached: true,
    stdio: ['ignore', 'pipe', 'pipe'],
    env: { PATH: '/usr/bin:/bin', HOME: folder, TMPDIR: folder, LC_ALL: 'C.UTF-8' },
  });
  return new Promise((resolve, reject) => {
    let overtime = false;
    const end = () => {
      if (child.pid === undefined) return;
      try {
        process.kill(-child.pid, 'SIGKILL');
      } catch (error) {
        // All of it has ended by itself.
        if (!(error instanceof Error && 'code' in error && error.code === 'ESRCH')) throw error;
      }
    };
    const timer = setTimeout(() => {
      overtime = true;
      end();
    }, bounds.seconds * 1000);
    const output = { stdout: '', stderr: '' };
    for (const name of ['stdout', 'stderr'] as const)
      child[name].setEncoding('utf8').on('data', (text: string) => {
        output[name] = (output[name] + text).slice(-KEPT_OUTPUT);
      });
    child.on('error', (error) => {
      clearTimeout(timer);
      reject(error);
    });
    child.on('close', (code) => {
      clearTimeout(timer);
      end();
      resolve({ code, overtime, ...output });
    });
  });
}
