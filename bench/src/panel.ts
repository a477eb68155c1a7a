import { sql } from 'drizzle-orm';
import type { ScratchPostgres } from '../../scripts/lib/scratch-server.mjs';
import { migrateDatabase, openDatabase, rows } from '../../server/src/db/database.ts';
import { viewerOf } from '../../server/src/domain/access/viewer.ts';
import { folderAudience } from '../../server/src/features/audience/panel.ts';
import { board } from '../../server/src/features/board/service.ts';
import { consequences } from '../../server/src/domain/access/consequences.ts';
import { today } from '../../server/src/features/today/service.ts';
import { atMost, median, report } from './report.ts';
import { makeTeacher, plantSchool } from './school.ts';

const ROUNDS = 9;
const ITEMS = 3000;
const FOLDERS = 300;
const DATES = 50;
const CLASSES = 12;
const STUDENTS = 1000;

/** The time of some work, and the longest stretch in it during which nothing else was done, in milliseconds. */
async function stretched(work: () => Promise<unknown>) {
  let last = performance.now();
  let longest = 0;
  const beat = () => {
    longest = Math.max(longest, performance.now() - last);
    last = performance.now();
  };
  let over = false;
  const beating = (async () => {
    while (!over) {
      await new Promise((resolve) => setImmediate(resolve));
      beat();
    }
  })();
  const started = performance.now();
  await work();
  const took = performance.now() - started;
  beat();
  over = true;
  await beating;
  return { took, longest };
}

/**
 * panel_heavy and panel_heavy_stretch: the audience panel of a folder with 3,000 items in 300 folders and 50 dates, handed
 * out to 12 classes of a school of 1,000; the same for its board, the consequence of a release there, and Today.
 */
export async function benchPanel(postgres: ScratchPostgres) {
  await migrateDatabase(postgres.url('postgres'));
  const { db, close } = openDatabase(postgres.url('postgres'));
  const { schoolId } = await plantSchool(db, 10_000);
  const school = sql`${schoolId}::uuid`;
  const teacher = await makeTeacher(db, schoolId, 'heavy');
  const owner = sql`${teacher.id}::uuid`;
  await db.execute(sql`
    with course as (insert into courses (school_id, year_id, title, colour) select ${school}, id, 'Heavy', 'leaf' from years returning *),
      teaches as (insert into course_teachers (school_id, course_id, person_id) select ${school}, id, ${owner} from course)
    insert into classes (school_id, year_id, course_id, code, colour)
      select ${school}, year_id, id, 'H' || n, 'leaf' from course, generate_series(1, ${CLASSES}::int) n`);
  // Most are in two of the classes, so that there are many ways of being reached.
  await db.execute(sql`
    with pupils as (insert into people (school_id, kind, name, email)
      select ${school}, 'student', 'H' || n, 'h' || n || '@bench.example' from generate_series(1, ${STUDENTS}::int) n returning id),
      numbered as (select id, row_number() over (order by id)::int as n from pupils)
    insert into memberships (school_id, class_id, person_id)
      select ${school}, c.id, p.id from numbered p
        join (select id, substr(code, 2)::int - 1 as n from classes where code like 'H%') c
          on c.n in (p.n % ${CLASSES}::int, case when p.n % 5 > 0 then (p.n + 1 + p.n / 100) % ${CLASSES}::int end)`);
  const [top] = await rows<{ id: string }>(
    db,
    sql`insert into folders (school_id, owner_id, created_by, title) values (${school}, ${owner}, ${owner}, 'Heavy') returning id`,
  );
  const date = (n: string) =>
    sql`case when ${sql.raw(n)} % 2 = 0 then now() + interval '1 day' * (${sql.raw(n)} % ${DATES}::int) end`;
  await db.execute(sql`insert into folders (school_id, owner_id, created_by, parent_id, title, from_at)
    select ${school}, ${owner}, ${owner}, ${top!.id}::uuid, 'Unit ' || n, ${date('n')} from generate_series(1, ${FOLDERS}::int) n`);
  await db.execute(sql`
    with made as (insert into items (school_id, owner_id, kind, title, url)
      select ${school}, ${owner}, 'link', 'Sheet ' || n, 'https://bench.example/' from generate_series(1, ${ITEMS}::int) n returning id),
      numbered as (select id, row_number() over (order by id)::int - 1 as n from made),
      units as (select id, row_number() over (order by id)::int - 1 as n from folders where parent_id = ${top!.id}::uuid)
    insert into placements (school_id, folder_id, item_id, added_by, name_key, from_at)
      select ${school}, units.id, numbered.id, ${owner}, numbered.id::text, ${date('numbered.n')}
      from numbered join units on units.n = numbered.n % ${FOLDERS}::int`);
  await db.execute(sql`insert into grants (school_id, folder_id, audience_kind, class_id, created_by)
    select ${school}, ${top!.id}::uuid, 'class', id, ${owner} from classes where code like 'H%'`);
  await db.execute(sql`vacuum analyze`);

  const needs = { db, now: Date.now, address: () => 'https://bench.example' };

  const release = { held: true, from: null, until: null };
  const works: Record<string, () => Promise<unknown>> = {
    panel_heavy: async () => {
      const { rows: shown } = await folderAudience(needs, viewerOf(teacher, needs.now()), top!.id);
      const lines = shown.filter(({ change }) => change.loses && change.losesLater);
      if (lines.length !== CLASSES) throw new Error(`${lines.length} classes would lose something`);
    },
    board_heavy: async () => {
      const { folders } = await board(needs, teacher, undefined);
      if (folders.length !== FOLDERS + 1) throw new Error(`${folders.length} folders`);
    },
    consequence_heavy: async () => {
      const things = [{ kind: 'folder' as const, id: top!.id }];
      const change = { do: 'release' as const, things, rules: [{ classId: null, release }] };
      const { audiences } = await consequences(needs, teacher, change);
      if (audiences.length !== CLASSES) throw new Error(`${audiences.length} audiences`);
    },
    today_heavy: async () => {
      const { scheduled } = await today(needs, teacher);
      if (scheduled.length === 0) throw new Error('nothing goes out');
    },
  };
  for (const [name, work] of Object.entries(works)) {
    await work();
    const runs = [];
    for (let round = 0; round < ROUNDS; round += 1) runs.push(await stretched(work));
    report(name, median(runs.map((r) => r.took)), 'ms', null, atMost(300));
    report(`${name}_stretch`, median(runs.map((r) => r.longest)), 'ms', null, atMost(50));
  }
  await close();
}
