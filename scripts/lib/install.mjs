import { createHash } from 'node:crypto';
import {
  existsSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { locked } from './lock.mjs';
import { root, run, Stop } from './run.mjs';

const WEEK_MS = 7 * 24 * 60 * 60 * 1000;

/** What the project needs of Debian, each with a way to tell that it is there. */
const DEBIAN = {
  postgresql: () => existsSync('/usr/lib/postgresql') && postgresBin() !== null,
  'poppler-utils': () => existsSync('/usr/bin/pdftotext'),
  'libreoffice-writer-nogui': () => existsSync('/usr/lib/libreoffice/program/libswlo.so'),
  'libreoffice-calc-nogui': () => existsSync('/usr/lib/libreoffice/program/libsclo.so'),
  'libreoffice-impress-nogui': () => existsSync('/usr/lib/libreoffice/program/libsdlo.so'),
  'libvips-tools': () => existsSync('/usr/bin/vipsthumbnail'),
  // Office files want letters of these shapes and of all languages.
  'fonts-liberation': () => existsSync('/usr/share/fonts/truetype/liberation'),
  'fonts-crosextra-carlito': () => existsSync('/usr/share/fonts/truetype/crosextra'),
  'fonts-droid-fallback': () => existsSync('/usr/share/fonts/truetype/droid'),
  bubblewrap: () => existsSync('/usr/bin/bwrap'),
  ffmpeg: () => existsSync('/usr/bin/ffmpeg'),
  chromium: () => existsSync('/usr/bin/chromium'),
  'chromium-headless-shell': () => existsSync('/usr/bin/chromium-headless-shell'),
  'nginx-light': () => existsSync('/usr/sbin/nginx'),
  zip: () => existsSync('/usr/bin/zip'),
  curl: () => existsSync('/usr/bin/curl'),
  wrk: () => existsSync('/usr/bin/wrk'),
  // Programs that mount folders, and the suite that tries servers of theirs.
  litmus: () => existsSync('/usr/bin/litmus'),
  cadaver: () => existsSync('/usr/bin/cadaver'),
  rclone: () => existsSync('/usr/bin/rclone'),
  'apache2-bin': () => existsSync('/usr/sbin/apache2'),
};

/** What the server runs on: its database, and the programs that make previews and read texts. */
export const SERVER_PACKAGES = [
  'postgresql',
  'poppler-utils',
  'libreoffice-writer-nogui',
  'libreoffice-calc-nogui',
  'libreoffice-impress-nogui',
  'libvips-tools',
  'ffmpeg',
  'bubblewrap',
  'fonts-liberation',
  'fonts-crosextra-carlito',
  'fonts-droid-fallback',
];

/** The folder with the newest PostgreSQL server's programs, or null. */
export function postgresBin() {
  const versions = existsSync('/usr/lib/postgresql') ? readdirSync('/usr/lib/postgresql') : [];
  const found = versions
    .sort((a, b) => Number(b) - Number(a))
    .map((version) => `/usr/lib/postgresql/${version}/bin`)
    .find((bin) => existsSync(join(bin, 'postgres')));
  return found ?? null;
}

/** Installs the named Debian packages that are missing. Throws Stop with the command to run when it may not. */
export async function ensureDebian(names) {
  const missing = names.filter((name) => !DEBIAN[name]());
  if (missing.length === 0) return;
  const command = `apt-get install -y --no-install-recommends ${missing.join(' ')}`;
  if (process.getuid() !== 0 || !existsSync('/usr/bin/apt-get'))
    throw new Stop(`Please install ${missing.join(', ')} first:\n  sudo ${command}`);
  console.log(`Installing ${missing.join(', ')} …`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const result = await run('sh', ['-c', `apt-get update -q && ${command}`], { env });
  const still = missing.filter((name) => !DEBIAN[name]());
  if (still.length > 0)
    throw new Stop(`${result.output.slice(-2000)}\nCould not install ${still.join(', ')}.`);
}

const STAMP = join(root, 'node_modules', '.installed');

/** Runs `npm ci` when node_modules does not match the lockfile. */
export async function ensureModules() {
  if (modulesMatch()) return;
  await locked(join(root, '.install.lock'), async () => {
    if (modulesMatch()) return;
    console.log('Installing packages …');
    const { code, output } = await run('npm', ['ci', '--no-audit', '--no-fund']);
    if (code !== 0) throw new Stop(`${output.slice(-4000)}\nnpm ci failed.`);
    stampModules();
  });
}

/** Notes what node_modules was installed from; npm calls it after every install, also one by hand (scripts/installed.mjs). */
export function stampModules() {
  writeFileSync(STAMP, lockState());
}

function modulesMatch() {
  return existsSync(STAMP) && readFileSync(STAMP, 'utf8') === lockState();
}

function lockState() {
  return createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .update(process.version)
    .digest('hex');
}

/**
 * Builds the web application when its sources have changed; resolves to the folder of the build, in which `public` is
 * for browsers and `ssr` for the server.
 */
export const ensureBuilt = () =>
  built('web', ['web', 'contract/src', 'core/src'], (folder) => [
    vite('web', 'vite.config.ts', join(folder, 'public')),
    vite('web', 'vite.ssr.config.ts', join(folder, 'ssr')),
  ]);

/** Builds the server when its sources have changed; resolves to the folder of the build, in which `main.js` starts it. */
export const ensureServer = () =>
  built('server', ['server', 'contract/src', 'core/src', 'demo/src'], (folder) => [
    vite('server', 'vite.config.ts', folder),
  ]);

/**
 * Each state of the sources has a build of its own in the `dist` of its package, so that a server keeps what it runs on
 * while another run builds something newer.
 */
async function built(name, folders, build) {
  const builds = join(root, name, 'dist');
  const folder = join(builds, sourceState(folders).slice(0, 16));
  if (existsSync(folder)) return folder;
  console.log(`Building ${name} …`);
  const making = join(builds, `making-${process.pid}`);
  for (const { code, output } of await Promise.all(build(making)))
    if (code !== 0) throw new Stop(`${output.slice(-4000)}\n${name} could not be built.`);
  if (existsSync(folder)) rmSync(making, { recursive: true });
  else renameSync(making, folder);
  removeOldBuilds(builds);
  return folder;
}

function vite(name, config, folder) {
  const given = ['--config', `${name}/${config}`, '--outDir', folder, '--emptyOutDir'];
  return run('npx', ['--no-install', 'vite', 'build', name, '--logLevel', 'warn', ...given], {
    // Also where a test builds it: Vitest sets another one, which would bring the development tools along.
    env: { ...process.env, NODE_ENV: 'production' },
  });
}

function removeOldBuilds(builds) {
  for (const name of readdirSync(builds)) {
    const age = Date.now() - statSync(join(builds, name)).mtimeMs;
    if (age > WEEK_MS) rmSync(join(builds, name), { recursive: true, force: true });
  }
}

/** A word that changes when something does that these folders are built from. */
function sourceState(folders) {
  const hash = createHash('sha256').update(readFileSync(join(root, 'package-lock.json')));
  for (const folder of folders)
    for (const file of sources(join(root, folder))) {
      const { size, mtimeMs } = statSync(file);
      hash.update(`${file}:${size}:${mtimeMs}\n`);
    }
  return hash.digest('hex');
}

function* sources(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    if (['node_modules', 'dist', 'test'].includes(entry.name)) continue;
    const path = join(folder, entry.name);
    if (entry.isDirectory()) yield* sources(path);
    else yield path;
  }
}
