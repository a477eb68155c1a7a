import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { hash } from '@node-rs/argon2';
import { sql } from 'drizzle-orm';
import { startServerProcess, type ScratchPostgres } from '../../scripts/lib/scratch-server.mjs';
import { migrateDatabase, openDatabase, rows } from '../../server/src/db/database.ts';
import { viewerOf } from '../../server/src/domain/access/viewer.ts';
import { find } from '../../server/src/features/find/service.ts';
import { listFolder } from '../../server/src/domain/files/list.ts';
import { newThings } from '../../server/src/features/receive/service.ts';
import type { SignedIn } from '../../server/src/platform/sessions.ts';
import { median, ratioAtMost, report } from './report.ts';
import { perRequest, signInAs, startBare, startListener, withWrk } from './requests.ts';
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
    const { things } = (await newThings(db, asEight(), { limit: 50 })).read();
    if (things.length !== 50) throw new Error(`expected 50 things, got ${things.length}`);
  }
  return (performance.now() - started) / LOOKS;
}

/** Milliseconds of reading one row by its key. */
async function rowByKey({ db, folder }: School): Promise<number> {
  const started = performance.now();
  for (let n = 0; n < CALLS; n += 1)
    await rows(db, sql`select id, title from folders where id = ${folder}::uuid`);
  return (performance.now() - started) / CALLS;
}

/** new_for_me, list_growth, new_growth and search_growth; access_overhead and session_overhead on the small school. */
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
  const [came, row]: number[][] = [[], []];
  for (let round = 0; round < ROUNDS; round += 1) {
    came!.push(await coming(large));
    row!.push(await rowByKey(large));
  }
  report('new_for_me', median(came!), 'ms', median(row!), ratioAtMost(50));
  await large.close();
  await overHttp(postgres, small);
  await small.close();
}

/**
 * access_overhead: a listing as a student over HTTP, against a bare route that reads one row; session_overhead: a route that
 * answers a constant to whoever has signed in, against a bare one.
 */
async function overHttp(postgres: ScratchPostgres, small: School) {
  await small.db.execute(sql`insert into credentials (user_id, account_id, provider_id, password)
    values (${small.student}::uuid, ${small.student}, 'credential', ${await hash('bench')})`);
  const url = postgres.url('small');
  const server = await startServerProcess(postgres, 'small', { SAMMLUNG_SAMPLE: 'no' });
  const secret = readFileSync(join(postgres.data, 'secret'), 'utf8');
  const constant = await startListener('./constant.ts', () => [secret], {
    SAMMLUNG_DATA: postgres.data,
    SAMMLUNG_DATABASE_URL: url,
    SAMMLUNG_SAMPLE: 'no',
  });
  const bare = await startBare(url, small.folder);
  const cookie = await signInAs(server.address, 'student@bench.example', 'bench');
  const ms = await perRequest({
    listing: { url: `${server.address}/api/folders/${small.folder}/contents`, cookie },
    row: { url: `${bare.address}/row` },
  });
  report('access_overhead', ms.listing, 'ms a request', ms.row, ratioAtMost(3));
  const { session, none } = await perRequest(
    {
      session: { url: `${constant.address}/api/constant`, cookie },
      none: { url: `${bare.address}/constant` },
    },
    withWrk,
  );
  report('session_overhead', session, 'ms a request', none, ratioAtMost(1.5));
  bare.stop();
  constant.stop();
  await server.stop();
}
