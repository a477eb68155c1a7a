import { spawn } from 'node:child_process';
import { randomFillSync } from 'node:crypto';
import { chmodSync, mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { freePort, run } from '../../scripts/lib/run.mjs';
import type { ScratchPostgres, ServerProcess } from '../../scripts/lib/scratch-server.mjs';
import { median, ratioAtLeast, report } from './report.ts';
import { benchFolder, layDown, sampleCookie, TEACHER } from './sample.ts';

const SIZE = 256 * 1024 * 1024;
const ROUNDS = 7;

/** download_large: a file of 256 MB with its access checked, against nginx with the same file. */
export async function benchDownload(postgres: ScratchPostgres, { address }: ServerProcess) {
  const bytes = Buffer.allocUnsafe(SIZE);
  randomFillSync(bytes);
  const into = await benchFolder(postgres, 'Bench, a large file');
  const placement = await layDown(postgres, into, 'Large', bytes);
  await into.close();
  const cookie = await sampleCookie(address, TEACHER);

  const folder = join(postgres.data, 'nginx');
  mkdirSync(folder);
  writeFileSync(join(folder, 'large.bin'), bytes);
  chmodSync(folder, 0o755);
  const port = await freePort();
  writeFileSync(
    join(folder, 'nginx.conf'),
    `daemon off; worker_processes 1; pid ${folder}/pid; error_log stderr crit; user root;
    events {} http { access_log off; sendfile on; server { listen 127.0.0.1:${port}; root ${folder}; } }`,
  );
  const nginx = spawn('nginx', ['-c', join(folder, 'nginx.conf'), '-p', folder], {
    stdio: 'inherit',
  });
  await new Promise((resolve) => setTimeout(resolve, 1000));

  const megabytesASecond = async (url: string) => {
    const { code, output } = await run('curl', [
      '-sf',
      '-o',
      '/dev/null',
      '-H',
      `cookie: ${cookie}`,
      '-w',
      '%{size_download} %{time_total}',
      url,
    ]);
    const [size, seconds] = output.split(' ').map(Number);
    if (code !== 0 || size !== SIZE || !seconds) throw new Error(`${url}: ${code} ${output}`);
    return size / 1e6 / seconds;
  };
  const ours: number[] = [];
  const theirs: number[] = [];
  for (let round = 0; round < ROUNDS; round += 1) {
    ours.push(await megabytesASecond(`${address}/api/placements/${placement}/content?as=inline`));
    theirs.push(await megabytesASecond(`http://127.0.0.1:${port}/large.bin`));
  }
  report('download_large', median(ours), 'MB/s', median(theirs), ratioAtLeast(0.65));
  nginx.kill('SIGTERM');
  await new Promise((resolve) => nginx.on('close', resolve));
}
