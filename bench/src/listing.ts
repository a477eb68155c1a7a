import { spawn } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import autocannon from 'autocannon';
import { hash } from '@node-rs/argon2';
import { sql } from 'drizzle-orm';
import { freePort } from '../../scripts/lib/run.mjs';
import { startServerProcess, type ScratchPostgres } from '../../scripts/lib/scratch-server.mjs';
import { migrateDatabase, openDatabase } from '../../server/src/db/database.ts';
import { viewerOf } from '../../server/src/domain/access/viewer.ts';
import { find } from '../../server/src/features/find/service.ts';
import { listFolder } from '../../server/src/domain/files/list.ts';
import { newThings } from '../../server/src/features/receive/service.ts';
import type { SignedIn } from '../../server/src/platform/sessions.ts';
import { median, ratioAtMost, report } from './report.ts';
import { plantSchool } from './school.ts';

const SMALL = 10_000;
const LARGE = Number(process.env.BENCH_PLACEMENTS ?? 1_000_000);
const ROUNDS = 7;
const CALLS = 100;
const SEARCHES = 40;
const LOOKS = 10;

async function database(postgres: ScratchPostgres, name: string, placements: number) {
  const admin = openDatabase(postgres.url('postgres'));
  await admin.db.execute(sql`create database ${sql.identifier(name)}`);
  await admin.close();
  await migrateDatabase(postgres.url(name));
  const opened = openDatabase(postgres.url(name));
  const started = Date.now();
  const school = await plantSchool(opened.db, placements);
  console.log(
    `(${school.placements} placements made in ${((Date.now() - started) / 1000).toFixed(0)} s)`,
  );
  return { ...opened, ...school };
}

type School = Awaited<ReturnType<typeof database>>;

/** Milliseconds of one listing as a student, without HTTP. */
async function listing({ db, student, folder }: School): Promise<number> {
  const asStudent = () => viewerOf({ id: student }, Date.now());
  const started = performance.now();
  for (let n = 0; n < CALLS; n += 1) {
    const page = (await listFolder(db, asStudent(), folder, { limit: 100 })).contents.read();
    if (page.items.length !== 10) throw new Error(`expected 10 items, got ${page.items.length}`);
  }
  return (performance.now() - started) / CALLS;
}

/** Milliseconds of one search as a student, in names and contents, without HTTP; half of the words have a slip. */
async function searching({ db, schoolId, student, words }: School): Promise<number> {
  const person = { id: student, schoolId } as SignedIn;
  const started = performance.now();
  for (let n = 0; n < SEARCHES; n += 1) {
    const word = words[(n * 7) % words.length]!;
    const asked = n % 2 ? `${word.slice(0, 2)}${word.slice(3)}` : word;
    const { hits } = await find({ db, now: Date.now }, person, { words: asked });
    if (n % 2 === 0 && hits.length === 0) throw new Error(`nothing found for ${asked}`);
  }
  return (performance.now() - started) / SEARCHES;
}

/** Milliseconds of "new for me" for a student in eight classes, without HTTP. */
async function coming({ db, eight }: School): Promise<number> {
  const asEight = () => viewerOf({ id: eight }, Date.now());
  const started = performance.now();
  for (let n = 0; n < LOOKS; n += 1) {
    const { things } = (await newThings(db, asEight(), { limit: 100 })).read();
    if (things.length !== 100) throw new Error(`expected 100 things, got ${things.length}`);
  }
  return (performance.now() - started) / LOOKS;
}

/** list_growth, new_growth and search_growth, and access_overhead on the small school. */
export async function benchListing(postgres: ScratchPostgres) {
  const small = await database(postgres, 'small', SMALL);
  const large = await database(postgres, 'large', LARGE);
  for (const [name, measure, bar] of [
    ['list_growth', listing, ratioAtMost(1.3)],
    ['new_growth', coming, ratioAtMost(1.5)],
    ['search_growth', searching, ratioAtMost(3)],
  ] as const) {
    const times: Record<'small' | 'large', number[]> = { small: [], large: [] };
    await measure(small);
    await measure(large);
    for (let round = 0; round < ROUNDS; round += 1) {
      times.large.push(await measure(large));
      times.small.push(await measure(small));
    }
    report(name, median(times.large), 'ms', median(times.small), bar);
  }
  await large.close();
  await overHttp(postgres, small);
  await small.close();
}

async function overHttp(postgres: ScratchPostgres, small: School) {
  await small.db.execute(sql`insert into credentials (user_id, account_id, provider_id, password)
    values (${small.student}::uuid, ${small.student}, 'credential', ${await hash('bench')})`);
  const server = await startServerProcess(postgres, 'small', { SAMMLUNG_SAMPLE: 'no' });
  const port = await freePort();
  const bare = spawn(
    process.execPath,
    [
      '--import',
      'tsx',
      fileURLToPath(new URL('./bare.ts', import.meta.url)),
      postgres.url('small'),
      String(port),
      small.folder,
    ],
    { stdio: ['ignore', 'inherit', 'inherit', 'ipc'] },
  );
  await new Promise((resolve) => bare.once('message', resolve));
  const signedIn = await fetch(`${server.address}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email: 'student@bench.example', password: 'bench' }),
  });
  const cookie = signedIn.headers
    .getSetCookie()
    .map((c) => c.split(';')[0])
    .join('; ');
  const once = await fetch(`${server.address}/api/folders/${small.folder}/contents`, {
    headers: { cookie },
  });
  if (once.status !== 200)
    throw new Error(`The listing answers ${once.status}: ${await once.text()}`);
  const perRequest = async (url: string) => {
    const result = await autocannon({ url, connections: 8, duration: 3, headers: { cookie } });
    if (result.non2xx > 0 || result.errors > 0)
      throw new Error(`${url}: ${result.non2xx} refused, ${result.errors} failed`);
    return 1000 / result.requests.average;
  };
  const ours: number[] = [];
  const theirs: number[] = [];
  for (let round = 0; round < ROUNDS; round += 1) {
    ours.push(await perRequest(`${server.address}/api/folders/${small.folder}/contents`));
    theirs.push(await perRequest(`http://127.0.0.1:${port}/`));
  }
  report(
    'access_overhead',
    median(ours.slice(1)),
    'ms a request',
    median(theirs.slice(1)),
    ratioAtMost(3),
  );
  bare.disconnect();
  await server.stop();
}
