import { createHmac } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { Agent, request } from 'node:http';
import { join } from 'node:path';
import { buffer } from 'node:stream/consumers';
import { gunzipSync } from 'node:zlib';
import { sql } from 'drizzle-orm';
import { startServerProcess, type ScratchPostgres } from '../../scripts/lib/scratch-server.mjs';
import {
  migrateDatabase,
  openDatabase,
  rows,
  type Database,
} from '../../server/src/db/database.ts';
import { DiskStorage } from '../../server/src/platform/storage.ts';
import { held, highestOf } from './measure.ts';
import { atMost, report } from './report.ts';
import { plantSchool } from './school.ts';

const STUDENTS = 1000;
/** So many students are served at the same time: each waits for a page before asking for the next. */
const AT_ONCE = 50;
/** Bytes of the PDF that each opens. */
const SHEET = 150_000;

/**
 * 1,000 students of 40 forms, signed in: each is in five classes with their form and in one that is chosen. Resolves to their
 * cookies, with a folder of their form and a PDF in it.
 */
async function plantStudents(db: Database, data: string, secret: string) {
  const { schoolId } = await plantSchool(db, 10_000);
  await db.execute(sql`
    with class as (insert into classes (school_id, year_id, course_id, code, colour)
      select school_id, year_id, id, 'M' || n, 'leaf' from courses, generate_series(1, 210) n returning *),
    handed as (insert into grants (school_id, folder_id, audience_kind, class_id, created_by)
      select f.school_id, f.id, 'class', class.id, f.owner_id
      from class join folders f on f.title = 'Top ' || (1 + substr(class.code, 2)::int % 50) and f.parent_id is null),
    made as (insert into people (school_id, kind, name, email)
      select ${schoolId}::uuid, 'student', 'Student ' || n, n || '@bench.example' from generate_series(0, ${STUDENTS - 1}::int) n returning id, split_part(name, ' ', 2)::int as n)
    insert into memberships (school_id, class_id, person_id)
      select class.school_id, class.id, made.id from made join class
        on substr(class.code, 2)::int in (select (n % 40) * 5 + k from generate_series(1, 5) k union select 201 + n % 10)`);
  const content = await new DiskStorage(data).put(schoolId, Buffer.alloc(SHEET, '%PDF-1.7 '));
  await db.execute(
    sql`insert into blobs (school_id, hash, size) values (${schoolId}::uuid, ${content.hash}, ${content.size})`,
  );
  await db.execute(sql`update versions set hash = ${content.hash}, size = ${content.size}`);
  await db.execute(sql`insert into sessions (user_id, token, expires_at)
    select id, 'token' || id, now() + interval '1 day' from people where kind = 'student'`);
  await db.execute(sql`vacuum analyze`);
  const found = await rows<{ token: string; folder: string; placement: string }>(
    db,
    sql`select s.token, f.id as folder, (select p.id from placements p where p.folder_id = f.id limit 1) as placement
      from sessions s join people on people.id = s.user_id
        join classes c on c.code = 'M' || (split_part(people.name, ' ', 2)::int % 40 * 5 + 1)
        join folders t on t.title = 'Top ' || (1 + substr(c.code, 2)::int % 50) and t.parent_id is null
        join folders f on f.parent_id = t.id and f.title = 'Unit 7'
      where people.name like 'Student %'`,
  );
  return found.map(({ token, ...student }) => {
    const sign = createHmac('sha256', secret).update(token).digest('base64');
    return {
      ...student,
      cookie: `sammlung.session_token=${encodeURIComponent(`${token}.${sign}`)}`,
    };
  });
}

/**
 * morning: seconds until 1,000 students have New, a folder and a PDF, one process serving them; morning_slowest_5: what
 * ninety-five in a hundred requests stay under; morning_memory: what the server holds at most meanwhile.
 */
export async function benchMorning(postgres: ScratchPostgres) {
  await migrateDatabase(postgres.url('postgres'));
  const { db, close } = openDatabase(postgres.url('postgres'));
  const none = { SAMMLUNG_SAMPLE: 'no' };
  // The secret is made at the first start.
  await (await startServerProcess(postgres, 'postgres', none)).stop();
  const secret = readFileSync(join(postgres.data, 'secret'), 'utf8');
  const students = await plantStudents(db, postgres.data, secret);
  await close();
  if (students.length !== STUDENTS) throw new Error(`${students.length} students`);
  const server = await startServerProcess(postgres, 'postgres', none);
  const agent = new Agent({ keepAlive: true, maxSockets: AT_ONCE });
  const times: number[] = [];

  let undrawn = 0;
  /** A page; where too many are being drawn it comes empty, and then fetches what it shows as any browser would. */
  async function page(path: string, cookie: string, asks: string, holds: string) {
    if (await get(path, cookie, holds)) return;
    undrawn += 1;
    for (const one of ['/api/session', asks])
      if (!(await get(one, cookie, one === asks ? holds : '')))
        throw new Error(`${one}: without ${holds}`);
  }
  /** Resolves to whether what comes holds a text. */
  async function get(path: string, cookie: string, holds: string): Promise<boolean> {
    const started = performance.now();
    const reply = await new Promise<{ status: number; bytes: Buffer; packed: boolean }>(
      (resolve, reject) =>
        request(
          `${server.address}${path}`,
          { agent, headers: { cookie, 'accept-encoding': 'gzip' } },
          (message) =>
            void buffer(message).then(
              (bytes) =>
                resolve({
                  status: message.statusCode!,
                  bytes,
                  packed: message.headers['content-encoding'] === 'gzip',
                }),
              reject,
            ),
        )
          .on('error', reject)
          .end(),
    );
    times.push(performance.now() - started);
    const text = () => (reply.packed ? gunzipSync(reply.bytes) : reply.bytes).toString('latin1');
    if (reply.status !== 200) throw new Error(`${path}: ${reply.status}`);
    return text().includes(holds);
  }

  const waiting = [...students];
  async function serve() {
    for (let one = waiting.pop(); one; one = waiting.pop()) {
      const { cookie, folder, placement } = one;
      await page('/', cookie, '/api/new', 'placementId');
      await page(`/folder/${folder}`, cookie, `/api/folders/${folder}/contents`, placement);
      const sheet = await get(`/api/placements/${placement}/content?as=inline`, cookie, '%PDF');
      if (!sheet) throw new Error('no PDF');
    }
  }
  const before = held(server.pid);
  const started = performance.now();
  const highest = await highestOf(server.pid, async () => {
    await Promise.all(Array.from({ length: AT_ONCE }, serve));
  });
  const took = (performance.now() - started) / 1000;
  times.sort((a, b) => a - b);
  console.log(
    `(${times.length} requests; ${undrawn} pages came empty; the server held ${before.toFixed(0)} MB before)`,
  );
  report('morning', took, 's', null, atMost(25));
  report('morning_slowest_5', times[Math.floor(times.length * 0.95)]! / 1000, 's', null, atMost(1));
  report('morning_memory', highest, 'MB', null, atMost(400));
  agent.destroy();
  await server.stop();
}
