import { createHash, randomFillSync } from 'node:crypto';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { startApacheDav } from '../../scripts/lib/apache.mjs';
import { run } from '../../scripts/lib/run.mjs';
import type { ScratchPostgres, ServerProcess } from '../../scripts/lib/scratch-server.mjs';
import { seconds } from './measure.ts';
import { median, ratioAtMost, report } from './report.ts';
import { sampleCookie, TEACHER } from './sample.ts';

const FILES = 1000;
const SIZE = 20_000;
const ROUNDS = 5;
const LISTINGS = 10;
const AT_ONCE = 4;
const NAME = 'bench';

/** A WebDAV server as a program has it. */
interface Server {
  readonly address: string;
  readonly password: string;
}

/**
 * webdav_put: a folder of 1,000 files of 20 KB, copied with rclone as it comes; webdav_put_bare: the same files as requests alone, four at a time, without a bar: what
 * is written here is safe on the disk and under the rules of the library, there it is a file. webdav_listing: such a folder, listed. All
 * against Debian's Apache with its WebDAV modules, in the same run.
 */
export async function benchWebdav(postgres: ScratchPostgres, { address }: ServerProcess) {
  const cookie = await sampleCookie(address, TEACHER);
  const made = await fetch(`${address}/api/tokens`, {
    method: 'POST',
    headers: { cookie, 'content-type': 'application/json' },
    body: JSON.stringify({ name: NAME, writes: true }),
  });
  const { password } = (await made.json()) as { password: string };
  const ours: Server = { address: `${address}/dav/Library/Bench`, password };
  await ask(ours, 'MKCOL', '');
  const hash = `{SHA}${createHash('sha1').update(password).digest('base64')}`;
  const apache = await startApacheDav(join(postgres.data, 'apache'), { name: NAME, hash });
  const theirs: Server = { address: apache.address, password };
  const servers = [ours, theirs] as const;
  const from = join(postgres.data, 'given');
  mkdirSync(from);
  /** Of ours, and of theirs. */
  const copying: Times = [[], []];
  const bare: Times = [[], []];
  const lists: Times = [[], []];
  for (let round = 0; round <= ROUNDS; round += 1) {
    // Another content each time, so that nothing is known already.
    const bytes = randomFillSync(new Uint8Array(SIZE * FILES));
    for (let n = 0; n < FILES; n += 1)
      writeFileSync(join(from, `Sheet ${n + 1}.bin`), bytes.subarray(n * SIZE, (n + 1) * SIZE));
    for (const [n, server] of servers.entries()) {
      bytes.reverse();
      const put = await putting(server, `Bare ${round}`, bytes);
      const list = await listing(server, `Bare ${round}`);
      // The first round warms up.
      if (round === 0) continue;
      bare[n]!.push(put);
      lists[n]!.push(list);
      const remote = await remoteOf(server, `Copied ${round}`);
      copying[n]!.push(await seconds(() => run('rclone', [...QUIET, 'copy', from, remote])));
      await listing(server, `Copied ${round}`);
    }
  }
  await apache.stop();
  const [copied, copiedThere] = copying.map(median);
  const [put, putThere] = bare.map(median);
  const [list, listThere] = lists.map(median);
  report('webdav_put', copied!, 's', copiedThere!, ratioAtMost(3));
  report('webdav_put_bare', put!, 's', putThere!, null);
  report('webdav_listing', list! * 1000, 'ms', listThere! * 1000, ratioAtMost(3));
}

type Times = readonly [number[], number[]];
const QUIET = ['--config', '/dev/null', '-q'];

/** A folder of a server as rclone is told it. */
async function remoteOf({ address, password }: Server, folder: string): Promise<string> {
  const { output } = await run('rclone', [...QUIET, 'obscure', password]);
  return `:webdav,url='${address}',vendor=other,user=${NAME},pass=${output.trim()}:${folder}`;
}

/** Seconds until all files are in a new folder. */
async function putting(
  server: Server,
  folder: string,
  bytes: Uint8Array<ArrayBuffer>,
): Promise<number> {
  await ask(server, 'MKCOL', `/${encodeURIComponent(folder)}/`);
  const waiting = Array.from({ length: FILES }, (_, n) => n).values();
  const started = performance.now();
  const work = async () => {
    for (const n of waiting) {
      const body = bytes.subarray(n * SIZE, (n + 1) * SIZE);
      await ask(server, 'PUT', `/${encodeURIComponent(folder)}/Sheet%20${n + 1}.bin`, body);
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, work));
  return (performance.now() - started) / 1000;
}

/** What programs ask of each file to list a folder. */
const LISTED = `<propfind xmlns="DAV:"><prop><displayname/><resourcetype/><getcontentlength/><getlastmodified/><getcontenttype/><getetag/></prop></propfind>`;

/** Seconds that one listing takes. */
async function listing(server: Server, folder: string): Promise<number> {
  const once = async () => {
    const reply = await ask(server, 'PROPFIND', `/${encodeURIComponent(folder)}/`, LISTED);
    const found = (await reply.text()).match(/<\/D:response>/gu)?.length;
    if (found !== FILES + 1) throw new Error(`${found} listed in ${server.address}`);
  };
  const took: number[] = [];
  for (let n = 0; n < LISTINGS; n += 1) {
    const started = performance.now();
    await once();
    took.push((performance.now() - started) / 1000);
  }
  return median(took);
}

async function ask(
  { address, password }: Server,
  method: string,
  path: string,
  body?: Uint8Array<ArrayBuffer> | string,
) {
  const auth = Buffer.from(`${NAME}:${password}`).toString('base64');
  const reply = await fetch(`${address}${path}`, {
    method,
    headers: { authorization: `Basic ${auth}`, depth: '1' },
    ...(body && { body }),
  });
  if (method === 'PUT') await reply.arrayBuffer();
  if (!reply.ok) throw new Error(`${method} ${address}${path}: ${reply.status}`);
  return reply;
}
