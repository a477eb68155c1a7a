import { spawn } from 'node:child_process';
import { randomFillSync } from 'node:crypto';
import { chmodSync, mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { eq, sql } from 'drizzle-orm';
import { freePort, run } from '../../scripts/lib/run.mjs';
import type { ScratchPostgres } from '../../scripts/lib/scratch-server.mjs';
import { openDatabase } from '../../server/src/db/database.ts';
import * as s from '../../server/src/db/schema/index.ts';
import { DiskStorage } from '../../server/src/platform/storage.ts';
import { median, report } from './report.ts';
import { sampleCookie } from './sample.ts';

const SIZE = 256 * 1024 * 1024;
const ROUNDS = 7;

/** download_large: a file of 256 MB with its access checked, against nginx with the same file. */
export async function benchDownload(postgres: ScratchPostgres, address: string) {
  const bytes = Buffer.allocUnsafe(SIZE);
  randomFillSync(bytes);
  const placement = await layDown(postgres, bytes);
  const cookie = await sampleCookie(address, 'ilse.vandermoor@fennmoor.example');

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
  report('download_large', median(ours), 'MB/s', median(theirs), 'ratio at least 0.8');
  nginx.kill('SIGTERM');
  await new Promise((resolve) => nginx.on('close', resolve));
}

/** The bytes as a file in the sample teacher's first folder; resolves to the placement. */
async function layDown(postgres: ScratchPostgres, bytes: Buffer): Promise<string> {
  const { db, close } = openDatabase(postgres.url('postgres'));
  const [owner] = await db
    .select()
    .from(s.people)
    .where(eq(s.people.email, 'ilse.vandermoor@fennmoor.example'));
  const [folder] = await db
    .select()
    .from(s.folders)
    .where(sql`owner_id = ${owner!.id} and title = 'Masters'`);
  const { schoolId } = owner!;
  const content = await new DiskStorage(postgres.data).put(schoolId, bytes);
  await db.insert(s.blobs).values({ schoolId, ...content });
  const placement = await db.transaction(async (tx) => {
    const [item] = await tx
      .insert(s.items)
      .values({ schoolId, ownerId: owner!.id, kind: 'file', title: 'Large', extension: 'bin' })
      .returning();
    const [version] = await tx
      .insert(s.versions)
      .values({
        schoolId,
        itemId: item!.id,
        number: 1,
        ...content,
        mediaType: 'application/octet-stream',
        originalName: 'Large.bin',
        createdBy: owner!.id,
      })
      .returning();
    await tx.update(s.items).set({ currentVersionId: version!.id }).where(eq(s.items.id, item!.id));
    const [made] = await tx
      .insert(s.placements)
      .values({ schoolId, folderId: folder!.id, itemId: item!.id, addedBy: owner!.id })
      .returning();
    return made!.id;
  });
  await close();
  return placement;
}
