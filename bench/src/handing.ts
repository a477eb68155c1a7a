import { sql } from 'drizzle-orm';
import type { ScratchPostgres } from '../../scripts/lib/scratch-server.mjs';
import {
  migrateDatabase,
  openDatabase,
  rows,
  type Database,
} from '../../server/src/db/database.ts';
import { board } from '../../server/src/features/board/service.ts';
import { consequences } from '../../server/src/domain/access/consequences.ts';
import { importList, undoList } from '../../server/src/features/roster/lists.ts';
import type { SignedIn } from '../../server/src/platform/sessions.ts';
import { median, ratioAtMost, report } from './report.ts';
import { makeTeacher, plantSchool } from './school.ts';

const ROUNDS = 5;
/** Placements of the library around what is measured: nothing may grow with it. */
const AROUND = 100_000;
const AUDIENCES = 30;
/** Ten times as much may take ten times as long, and a little more. */
const BAR = ratioAtMost(13);

async function timed(work: () => Promise<unknown>): Promise<number> {
  const started = performance.now();
  await work();
  return performance.now() - started;
}

/** A figure beside the same with a tenth, in turns. */
async function beside(name: string, whole: () => Promise<number>, tenth: () => Promise<number>) {
  const times: Record<'whole' | 'tenth', number[]> = { whole: [], tenth: [] };
  await whole();
  await tenth();
  for (let round = 0; round < ROUNDS; round += 1) {
    times.whole.push(await whole());
    times.tenth.push(await tenth());
  }
  report(name, median(times.whole), 'ms', median(times.tenth), BAR);
}

/** consequence_move, board and class_join. */
export async function benchHanding(postgres: ScratchPostgres) {
  await migrateDatabase(postgres.url('postgres'));
  const { db, close } = openDatabase(postgres.url('postgres'));
  const { schoolId } = await plantSchool(db, AROUND);
  const teacher = await plantTeacher(db, schoolId);
  const needs = { db, now: Date.now };

  const moving = (from: string) =>
    timed(async () => {
      const things = [{ kind: 'folder' as const, id: await folderCalled(db, from) }];
      const to = await folderCalled(db, 'Handed to thirty');
      const result = await consequences(needs, teacher, { do: 'move', things, to });
      if (result.audiences.length !== AUDIENCES)
        throw new Error(`expected ${AUDIENCES} audiences, got ${result.audiences.length}`);
    });
  await beside(
    'consequence_move',
    () => moving('Ten thousand'),
    () => moving('One thousand'),
  );

  const seeing = (who: SignedIn, folders: number) =>
    timed(async () => {
      const found = await board(needs, who, undefined);
      const squares = found.folders.reduce((sum, f) => sum + f.squares.length, 0);
      if (squares !== folders * AUDIENCES) throw new Error(`${squares} squares`);
    });
  const [large, small] = [
    await plantBoard(db, schoolId, 'large', 300),
    await plantBoard(db, schoolId, 'small', 30),
  ];
  await beside(
    'board',
    () => seeing(large, 300),
    () => seeing(small, 30),
  );

  const [joining] = await rows<{ id: string }>(
    db,
    sql`select c.id from classes c join course_teachers t on t.course_id = c.course_id
      where t.person_id = ${teacher.id}::uuid order by c.code limit 1`,
  );
  let run = 0;
  const join = async (count: number) => {
    run += 1;
    const list = Array.from({ length: count }, (_, n) => ({
      name: `Pupil ${n} of run ${run}`,
      email: `pupil${n}.run${run}@bench.example`,
      signInName: null,
      externalId: null,
      from: null,
      until: null,
      personId: null,
    }));
    const started = performance.now();
    const taken = await importList(needs, teacher, joining!.id, { rows: list, leaving: [] });
    const took = performance.now() - started;
    if (taken.joined !== count) throw new Error(`${taken.joined} joined`);
    await undoList(needs, teacher, joining!.id, taken.undo);
    return took;
  };
  await beside(
    'class_join',
    () => join(2000),
    () => join(200),
  );
  await close();
}

async function folderCalled(db: Database, title: string): Promise<string> {
  const [found] = await rows<{ id: string }>(
    db,
    sql`select id from folders where title = ${title}`,
  );
  return found!.id;
}

/**
 * A teacher with thirty classes of 25, a folder that is handed out to all of them, and two others with 10,000 and 1,000
 * items below them, a hundred in a folder.
 */
async function plantTeacher(db: Database, schoolId: string): Promise<SignedIn> {
  const teacher = await makeTeacher(db, schoolId, 'mover');
  const owner = sql`${teacher.id}::uuid`;
  const school = sql`${schoolId}::uuid`;
  await db.execute(sql`
    with course as (insert into courses (school_id, year_id, title, colour) select ${school}, id, 'Thirty', 'leaf' from years returning *),
      teaches as (insert into course_teachers (school_id, course_id, person_id) select ${school}, id, ${owner} from course)
    insert into classes (school_id, year_id, course_id, code, colour)
      select ${school}, year_id, id, 'T' || lpad(n::text, 2, '0'), 'leaf' from course, generate_series(1, ${AUDIENCES}::int) n`);
  await db.execute(sql`
    with pupils as (insert into people (school_id, kind, name, email)
      select ${school}, 'student', 'P' || n, 'p' || n || '@bench.example' from generate_series(1, ${AUDIENCES * 25}::int) n returning id)
    insert into memberships (school_id, class_id, person_id)
      select ${school}, c.id, p.id
      from (select id, row_number() over (order by id) as n from pupils) p
        join (select id, row_number() over (order by code) as n from classes where code like 'T%') c on c.n = p.n % ${AUDIENCES}::int + 1`);
  for (const [title, items] of [
    ['Handed to thirty', 0],
    ['Ten thousand', 10_000],
    ['One thousand', 1000],
  ] as const) {
    await db.execute(
      sql`insert into folders (school_id, owner_id, created_by, title) values (${school}, ${owner}, ${owner}, ${title})`,
    );
    await db.execute(sql`insert into folders (school_id, owner_id, created_by, parent_id, title)
      select ${school}, ${owner}, ${owner}, (select id from folders where title = ${title}), 'Part ' || n from generate_series(1, ${items / 100}::int) n`);
    await db.execute(sql`
      with made as (insert into items (school_id, owner_id, kind, title, url)
        select ${school}, ${owner}, 'link', ${title} || ' ' || n, 'https://bench.example/' from generate_series(1, ${items}::int) n returning id, title),
        numbered as (select id, row_number() over (order by title) - 1 as n from made),
        parts as (select f.id, row_number() over (order by f.title) - 1 as n from folders f
          where f.parent_id = (select id from folders where title = ${title}))
      insert into placements (school_id, folder_id, item_id, added_by, name_key)
        select ${school}, parts.id, numbered.id, ${owner}, numbered.id::text
        from numbered join parts on parts.n = numbered.n / 100`);
  }
  await db.execute(sql`insert into grants (school_id, folder_id, audience_kind, class_id, created_by)
    select ${school}, (select id from folders where title = 'Handed to thirty'), 'class', c.id, ${owner} from classes c where c.code like 'T%'`);
  await db.execute(sql`vacuum analyze`);
  return teacher;
}

/** A teacher with this many folders, ten in one, each topmost one handed out to thirty classes. */
async function plantBoard(db: Database, schoolId: string, name: string, folders: number) {
  const teacher = await makeTeacher(db, schoolId, name);
  const owner = sql`${teacher.id}::uuid`;
  const school = sql`${schoolId}::uuid`;
  await db.execute(sql`insert into folders (school_id, owner_id, created_by, title)
    select ${school}, ${owner}, ${owner}, 'Board ' || n from generate_series(1, ${folders / 10}::int) n`);
  await db.execute(sql`insert into folders (school_id, owner_id, created_by, parent_id, title)
    select ${school}, ${owner}, ${owner}, f.id, 'Below ' || n from folders f, generate_series(1, 9) n
    where f.owner_id = ${owner} and f.parent_id is null`);
  await db.execute(sql`insert into grants (school_id, folder_id, audience_kind, class_id, created_by)
    select ${school}, f.id, 'class', c.id, ${owner} from folders f, classes c
    where f.owner_id = ${owner} and f.parent_id is null and c.code like 'T%'`);
  await db.execute(sql`vacuum analyze`);
  return teacher;
}
