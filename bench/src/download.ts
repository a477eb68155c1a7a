import { randomFillSync } from 'node:crypto';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { startNginx, storedContents } from '../../scripts/lib/nginx.mjs';
import { run } from '../../scripts/lib/run.mjs';
import {
  startServerProcess,
  type ScratchPostgres,
  type ServerProcess,
} from '../../scripts/lib/scratch-server.mjs';
import { perRequest, startBare } from './requests.ts';
import { median, ratioAtLeast, report } from './report.ts';
import { benchFolder, layDown, sampleCookie, TEACHER } from './sample.ts';

const LARGE = 256 * 1024 * 1024;
const SMALL = 20_000;
const SHEET = { extension: 'pdf', mediaType: 'application/pdf' };
const ROUNDS = 7;

/**
 * download_large: a file of 256 MB with its access checked, against nginx with the same file; download_large_behind: the
 * same where nginx sends it. download_small: files of 20 KB, against bare @fastify/static.
 */
export async function benchDownload(postgres: ScratchPostgres, { address }: ServerProcess) {
  const into = await benchFolder(postgres, 'Bench, downloads');
  const files = join(postgres.data, 'bench');
  mkdirSync(files, { mode: 0o755 });
  const lay = (name: string, size: number) => {
    const bytes = randomFillSync(Buffer.allocUnsafe(size));
    writeFileSync(join(files, name), bytes);
    return layDown(postgres, into, name, bytes, SHEET);
  };
  const [large, small] = [await lay('large', LARGE), await lay('small', SMALL)];
  await into.close();
  const cookie = await sampleCookie(address, TEACHER);
  const contentOf = (placement: string) => `/api/placements/${placement}/content?as=inline`;

  const behind = await startServerProcess(postgres, 'postgres', {
    SAMMLUNG_SENDFILE: 'x-accel',
    SAMMLUNG_PROXIES: '1',
  });
  const nginx = await startNginx(
    join(postgres.data, 'nginx'),
    `location /bench/ { root ${postgres.data}; } location / { proxy_pass ${behind.address}; }
    ${storedContents(postgres.data)}`,
  );
  const front = `http://127.0.0.1:${nginx.port}`;
  const asked = {
    ours: `${address}${contentOf(large)}`,
    behind: `${front}${contentOf(large)}`,
    theirs: `${front}/bench/large`,
  };
  const speeds = { ours: [] as number[], behind: [] as number[], theirs: [] as number[] };
  for (let round = 0; round < ROUNDS; round += 1)
    for (const [name, url] of Object.entries(asked))
      speeds[name as keyof typeof asked].push(await megabytesASecond(url, cookie));
  const theirs = median(speeds.theirs);
  report('download_large', median(speeds.ours), 'MB/s', theirs, ratioAtLeast(0.65));
  report('download_large_behind', median(speeds.behind), 'MB/s', theirs, ratioAtLeast(0.95));
  await nginx.stop();
  await behind.stop();

  const bare = await startBare(postgres.url('postgres'), into.id, files);
  const ms = await perRequest({
    ours: { url: `${address}${contentOf(small)}`, cookie },
    theirs: { url: `${bare.address}/files/small` },
  });
  report('download_small', 1000 / ms.ours, 'a second', 1000 / ms.theirs, ratioAtLeast(0.5));
  bare.stop();
}

async function megabytesASecond(url: string, cookie: string): Promise<number> {
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
  if (code !== 0 || size !== LARGE || !seconds) throw new Error(`${url}: ${code} ${output}`);
  return size / 1e6 / seconds;
}
