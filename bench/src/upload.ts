import { randomFillSync } from 'node:crypto';
import { closeSync, openSync, writeSync } from 'node:fs';
import { join } from 'node:path';
import type { PlacedUpload } from '@sammlung/contract';
import { run } from '../../scripts/lib/run.mjs';
import type { ScratchPostgres, ServerProcess } from '../../scripts/lib/scratch-server.mjs';
import { growthOf, seconds } from './measure.ts';
import { median, report } from './report.ts';
import { benchFolder, sampleCookie, TEACHER } from './sample.ts';

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
    const upload = () => send(address, cookie, into.id, path, `Round ${round}.bin`);
    // The first round warms up.
    if (round === 0) {
      await upload();
      continue;
    }
    growth.push(await growthOf(pid, async () => void ours.push(await seconds(upload))));
    theirs.push(await seconds(() => run('sh', ['-c', `cp ${path} ${copy} && sha256sum ${copy}`])));
  }
  report('upload_large', median(ours), 's', median(theirs), 'ratio at most 3');
  report('upload_memory', Math.max(...growth), 'MB', null, 'under 64');
}

async function send(address: string, cookie: string, folderId: string, path: string, name: string) {
  const base64 = (text: string) => Buffer.from(text).toString('base64');
  const tus = { cookie, origin: address, 'tus-resumable': '1.0.0' };
  const begun = await fetch(`${address}/api/uploads`, {
    method: 'POST',
    headers: {
      ...tus,
      'upload-length': String(SIZE),
      'upload-metadata': `filename ${base64(name)},folderId ${base64(folderId)}`,
    },
  });
  const at = begun.headers.get('location');
  if (begun.status !== 201 || !at) throw new Error(`not begun: ${begun.status}`);
  const headers = {
    ...tus,
    'content-type': 'application/offset+octet-stream',
    'upload-offset': '0',
  };
  const sent = await run('curl', [
    ...['-sf', '-X', 'PATCH', '-T', path],
    ...Object.entries(headers).flatMap(([key, value]) => ['-H', `${key}: ${value}`]),
    new URL(at, address).href,
  ]);
  if (sent.code !== 0) return sent;
  const placed = await fetch(`${address}/api/folders/${folderId}/files`, {
    method: 'POST',
    headers: { cookie, origin: address, 'content-type': 'application/json' },
    body: JSON.stringify({ uploadId: at.split('/').at(-1) }),
  });
  const { outcome } = (await placed.json()) as PlacedUpload;
  if (outcome !== 'new') throw new Error(`not placed: ${placed.status} ${outcome}`);
  return sent;
}
