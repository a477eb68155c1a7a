import { randomFillSync } from 'node:crypto';
import { closeSync, openSync, writeSync } from 'node:fs';
import { join } from 'node:path';
import { run } from '../../scripts/lib/run.mjs';
import type { ScratchPostgres, ServerProcess } from '../../scripts/lib/scratch-server.mjs';
import { growthOf, seconds } from './measure.ts';
import { atMost, median, ratioAtMost, report } from './report.ts';
import { benchFolder, sampleCookie, TEACHER, upload } from './sample.ts';

const MB = 1_000_000;
const SIZE = 1000 * MB;
const ROUNDS = 5;

/** upload_large and upload_memory: 1 GB until it lies in the folder, against `cp` and `sha256sum` of the same file. */
export async function benchUpload(postgres: ScratchPostgres, { address, pid }: ServerProcess) {
  const into = await benchFolder(postgres, 'Bench, large files');
  await into.close();
  const cookie = await sampleCookie(address, TEACHER);
  const path = join(postgres.data, 'large.bin');
  const copy = join(postgres.data, 'copy.bin');
  const bytes = Buffer.allocUnsafe(SIZE / 100);
  const ours: number[] = [];
  const theirs: number[] = [];
  const growth: number[] = [];
  for (let round = 0; round <= ROUNDS; round += 1) {
    // Another content each time: what is known would not be stored again.
    const file = openSync(path, 'w');
    for (let n = 0; n < 100; n += 1) {
      randomFillSync(bytes);
      writeSync(file, bytes);
    }
    closeSync(file);
    await run('sync', []);
    const once = () => send(address, cookie, into.id, path, `Round ${round}.bin`);
    // The first round warms up.
    if (round === 0) {
      await once();
      continue;
    }
    growth.push(await growthOf(pid, async () => void ours.push(await seconds(once))));
    theirs.push(await seconds(() => run('sh', ['-c', `cp ${path} ${copy} && sha256sum ${copy}`])));
  }
  report('upload_large', median(ours), 's', median(theirs), ratioAtMost(3));
  report('upload_memory', Math.max(...growth), 'MB', null, atMost(64));
}

/** Sends the file with curl, so that the bytes do not pass through this process. */
const send = (address: string, cookie: string, folderId: string, path: string, name: string) =>
  upload({ address, cookie }, { folderId, name, length: SIZE }, (to, headers) => {
    const given = Object.entries(headers).flatMap(([key, value]) => ['-H', `${key}: ${value}`]);
    return run('curl', ['-sf', '-X', 'PATCH', '-T', path, ...given, to]);
  });
