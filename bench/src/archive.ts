import { randomFillSync } from 'node:crypto';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { run } from '../../scripts/lib/run.mjs';
import type { ScratchPostgres, ServerProcess } from '../../scripts/lib/scratch-server.mjs';
import { growthOf, seconds } from './measure.ts';
import { atMost, median, ratioAtMost, report } from './report.ts';
import { benchFolder, layDown, sampleCookie, TEACHER } from './sample.ts';

const FILES = 2000;
const SIZE = 500_000;
const ROUNDS = 5;

/** zip_time and zip_memory: a folder of 2,000 files, 1 GB, taken along as an archive, against `zip -0 -r`. */
export async function benchArchive(postgres: ScratchPostgres, { address, pid }: ServerProcess) {
  const into = await benchFolder(postgres, 'Bench, many files');
  const folder = join(postgres.data, 'many');
  mkdirSync(folder);
  const bytes = Buffer.allocUnsafe(SIZE);
  for (let n = 1; n <= FILES; n += 1) {
    randomFillSync(bytes);
    await layDown(postgres, into, `File ${n}`, bytes);
    writeFileSync(join(folder, `File ${n}.bin`), bytes);
  }
  await into.close();
  const cookie = await sampleCookie(address, TEACHER);
  const url = `${address}/api/folders/${into.id}/archive`;
  const took = async () => {
    const { code, output } = await run('curl', [
      ...['-sf', '-o', '/dev/null', '-H', `cookie: ${cookie}`, '-w', '%{size_download}', url],
    ]);
    // Its head and its end come to the files.
    if (code !== 0 || Number(output) < FILES * SIZE) throw new Error(`${url}: ${code} ${output}`);
    return { code, output };
  };
  // What was just laid down must not be written to the disk while it is measured.
  await run('sync', []);
  await took();
  const ours: number[] = [];
  const theirs: number[] = [];
  const growth: number[] = [];
  for (let round = 0; round < ROUNDS; round += 1) {
    growth.push(await growthOf(pid, async () => void ours.push(await seconds(took))));
    theirs.push(
      await seconds(() => run('sh', ['-c', 'zip -0 -r -q - . > /dev/null'], { cwd: folder })),
    );
  }
  report('zip_time', median(ours), 's', median(theirs), ratioAtMost(1.3));
  report('zip_memory', Math.max(...growth), 'MB', null, atMost(64));
}
