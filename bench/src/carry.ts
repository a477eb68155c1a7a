import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { sql } from 'drizzle-orm';
import type { ScratchPostgres } from '../../scripts/lib/scratch-server.mjs';
import { migrateDatabase, openDatabase, rows } from '../../server/src/db/database.ts';
import { viewerOf } from '../../server/src/domain/access/viewer.ts';
import { listFolder } from '../../server/src/domain/files/list.ts';
import { carryOverById } from '../../server/src/domain/carry-overs.ts';
import { personOf } from '../../server/src/features/carry-over/queries.ts';
import { beginCarryOver } from '../../server/src/features/carry-over/service.ts';
import { DiskStorage } from '../../server/src/platform/storage.ts';
import { startWorkers } from '../../server/src/platform/workers.ts';
import { atMost, median, ratioAtMost, report } from './report.ts';
import { plantSchool } from './school.ts';

/** 10 in a folder: 5,000 folders. */
const PLACEMENTS = 50_000;
/** Every so many milliseconds a student opens a folder. */
const EVERY = 25;
const ALONE = 100;

/**
 * carry_over: 5,000 folders and 50,000 placements carried over to another year, in seconds; carry_listing: the listing of a folder by somebody else
 * in the same process meanwhile, against the same with nothing else going on.
 */
export async function benchCarry(postgres: ScratchPostgres) {
  await migrateDatabase(postgres.url('postgres'));
  const { db, close } = openDatabase(postgres.url('postgres'));
  const { schoolId, student, folder } = await plantSchool(db, PLACEMENTS);
  const school = sql`${schoolId}::uuid`;
  const [owner] = await rows<{ id: string }>(
    db,
    sql`select owner_id as id from folders where owner_id is not null limit 1`,
  );
  const [next] = await rows<{ from: string; to: string; before: string; after: string }>(
    db,
    sql`with year as (insert into years (school_id, label, first_day, last_day) values (${school}, 'next', '2027-08-01', '2028-07-01') returning *),
        course as (insert into courses (school_id, year_id, title, colour) select school_id, id, 'Course', 'leaf' from year returning *),
        teaches as (insert into course_teachers (school_id, course_id, person_id)
          select ${school}, id, ${owner!.id}::uuid from (select id from course union all select id from courses) k returning course_id),
        class as (insert into classes (school_id, year_id, course_id, code, colour)
          select school_id, year_id, id, 'C1', 'leaf' from course returning *)
      select c.year_id as "from", class.year_id as "to", c.id as before, class.id as after
      from class, classes c where c.code = 'C1'`,
  );
  const tops = await rows<{ id: string }>(db, sql`select id from folders where parent_id is null`);
  await db.execute(sql`vacuum analyze`);

  const took = { alone: [] as number[], meanwhile: [] as number[] };
  const list = async (into: number[]) => {
    const started = performance.now();
    await listFolder(db, viewerOf({ id: student }, Date.now()), folder, { limit: 100 });
    into.push(performance.now() - started);
    await new Promise((resolve) => setTimeout(resolve, EVERY));
  };
  for (let n = 0; n < ALONE; n += 1) await list(took.alone);

  const data = mkdtempSync(join(tmpdir(), 'sammlung-bench-'));
  const workers = startWorkers({ limitMs: 60_000 });
  const person = (await personOf(db, owner!.id))!;
  const settings = { teacherQuota: 1e12, studentQuota: 1e12, diskReserve: 0 };
  const needs = {
    ...{ db, workers, jobs: null, now: () => Date.now(), storage: new DiskStorage(data) },
    settings: settings as Parameters<typeof beginCarryOver>[0]['settings'],
  };
  const started = performance.now();
  let running = true;
  const carried = beginCarryOver(needs, person, {
    ...{ from: next!.from, to: next!.to, folders: tops.map(({ id }) => id), into: null },
    ...{ pages: [], boxes: [], names: [], handOut: true },
    classes: [{ from: next!.before, to: [next!.after] }],
  }).finally(() => (running = false));
  while (running) await list(took.meanwhile);
  const { id } = await carried;
  const seconds = (performance.now() - started) / 1000;
  const record = await carryOverById(db, id);
  if (record?.state !== 'done' || record.total !== PLACEMENTS + PLACEMENTS / 10)
    throw new Error(`carried over ${record?.total}: ${record?.state} ${record?.fault}`);
  report('carry_over', seconds, 's', null, atMost(30));
  report('carry_listing', median(took.meanwhile), 'ms', median(took.alone), ratioAtMost(2));
  const p95 = (all: number[]) => all.sort((a, b) => a - b)[Math.floor(all.length * 0.95)]!;
  console.log(
    `(p95 of ${took.meanwhile.length} listings meanwhile: ${p95(took.meanwhile).toFixed(1)} ms, alone ${p95(took.alone).toFixed(1)} ms)`,
  );
  await workers.close();
  await close();
  rmSync(data, { recursive: true });
}
