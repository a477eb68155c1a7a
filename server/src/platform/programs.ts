import { spawn, spawnSync } from 'node:child_process';
import { rm, symlink } from 'node:fs/promises';
import { join } from 'node:path';

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

/** The files a program works with: a folder of its own, to write in, and one document that it may read. */
export interface Files {
  readonly folder: string;
  /** `name` is what the program knows the document by: its ending says what it is. */
  readonly document?: { readonly path: string; readonly name: string };
}

/** Where a program finds its folder and the document. */
export interface Paths {
  readonly folder: string;
  readonly document: string;
}

/** What programs need of the system: themselves, their settings, letters. No passwords, no data. */
const SYSTEM = [
  ...['--ro-bind', '/usr', '/usr'],
  ...['bin', 'sbin', 'lib', 'lib64'].flatMap((name) => ['--symlink', `usr/${name}`, `/${name}`]),
  ...['alternatives', 'fonts', 'libreoffice', 'ld.so.cache', 'localtime']
    .map((name) => `/etc/${name}`)
    .concat('/var/cache/fontconfig')
    .flatMap((path) => ['--ro-bind-try', path, path]),
  ...['--proc', '/proc', '--dev', '/dev', '--tmpfs', '/tmp'],
];
const CUT_OFF = ['--unshare-all', '--die-with-parent', '--cap-drop', 'ALL', '--uid', '65534'];
const FOLDER = '/work';

/** Whether this system lets a program see nothing but its own files: bubblewrap is there and the kernel allows it. */
let confines: boolean | null = null;
export const canConfine = (): boolean =>
  (confines ??= spawnSync('bwrap', [...CUT_OFF, ...SYSTEM, 'true']).status === 0);

/** Whether it lets a program be cut off from the network, at least. */
let cutsOff: boolean | null = null;
const canCutOff = () =>
  (cutsOff ??= spawnSync('unshare', ['--map-root-user', '--net', 'true']).status === 0);

/** The command that goes before a program to confine it, and where it then finds its files. */
async function confinement({ folder, document }: Files): Promise<[string[], Paths]> {
  if (canConfine()) {
    const inside = `/given/${document?.name}`;
    const given = document ? ['--ro-bind', document.path, inside] : [];
    const own = ['--bind', folder, FOLDER, ...given, '--chdir', FOLDER];
    return [['bwrap', ...CUT_OFF, ...SYSTEM, ...own, '--'], { folder: FOLDER, document: inside }];
  }
  const named = join(folder, document?.name ?? '');
  if (document) {
    await rm(named, { force: true });
    await symlink(document.path, named);
  }
  const offline = canCutOff() ? ['unshare', '--map-root-user', '--net', '--'] : [];
  return [offline, { folder, document: named }];
}

/**
 * Runs a program within bounds, with nothing of our environment. Where the system allows it (`canConfine`) it sees the
 * system's programs, its own folder and the document, and no network; elsewhere it is cut off from the network, where that
 * is allowed. At the end of its time it is ended with everything it started. Throws only when it cannot be started.
 */
export async function runProgram(
  command: string,
  args: (paths: Paths) => readonly string[],
  files: Files,
  bounds: Bounds,
): Promise<Ran> {
  const [before, paths] = await confinement(files);
  const line = [
    ...before,
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
    ...args(paths),
  ];
  const child = spawn(line[0]!, line.slice(1), {
    cwd: files.folder,
    detached: true,
    stdio: ['ignore', 'pipe', 'pipe'],
    env: { PATH: '/usr/bin:/bin', HOME: paths.folder, TMPDIR: paths.folder, LC_ALL: 'C.UTF-8' },
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
