import { sql } from 'drizzle-orm';
import type { ScratchPostgres } from '../../scripts/lib/scratch-server.mjs';
import { migrateDatabase, openDatabase, rows } from '../../server/src/db/database.ts';
import { findPeople } from '../../server/src/features/people/service.ts';
import { closeYear } from '../../server/src/features/years/service.ts';
import { atMost, median, report } from './report.ts';
import { makeTeacher, plantSchool } from './school.ts';

const ROUNDS = 7;
const PEOPLE = 20_000;
const STUDENTS = 2000;
const CLASSES = 80;
/** What somebody types, one character after the other, who looks for a student. */
const TYPED = [
  'k',
  'ko',
  'kov',
  'kovar',
  'kovarik',
  'kovarik m',
  'kovarik mi',
  'nobody at all',
  '',
];

/**
 * people_find: the slowest answer of a list of 20,000 people to each of some words as they are typed, within the service; year_close: a year
 * closed whose 80 classes have 2,000 students, a hand-in box for each class and 40 folders.
 */
export async function benchPeople(postgres: ScratchPostgres) {
  await migrateDatabase(postgres.url('postgres'));
  const { db, close } = openDatabase(postgres.url('postgres'));
  const { schoolId } = await plantSchool(db, 10_000);
  const school = sql`${schoolId}::uuid`;
  const teacher = await makeTeacher(db, schoolId, 'people');
  const owner = sql`${teacher.id}::uuid`;
  const office = { ...teacher, kind: 'office' as const };
  await db.execute(sql`
    insert into people (school_id, kind, name, email, sign_in_name)
    select ${school}, 'student', (array['Mina','Jonas','Priya','Tariq','Ilse','Noor','Wanda'])[1 + n % 7] || ' ' ||
        (array['Kovarik','Brandsma','Raghavane','Haddadi','Lindroos','Sorokine'])[1 + n % 6] || n,
      'student' || n || '@bench.example', 'bench' || n
    from generate_series(1, ${PEOPLE}::int) n`);
  const [year] = await rows<{ id: string }>(
    db,
    sql`insert into years (school_id, label, first_day, last_day) values (${school}, 'Over', '2025-08-30', '2026-07-10') returning id`,
  );
  await db.execute(sql`
    with course as (insert into courses (school_id, year_id, title, colour) values (${school}, ${year!.id}::uuid, 'Large', 'leaf') returning *),
      teaches as (insert into course_teachers (school_id, course_id, person_id) select ${school}, id, ${owner} from course),
      made as (insert into classes (school_id, year_id, course_id, code, colour)
        select ${school}, year_id, id, 'LG' || n, 'leaf' from course, generate_series(1, ${CLASSES}::int) n returning id),
      numbered as (select id, row_number() over () as n from made)
    insert into memberships (school_id, class_id, person_id)
    select ${school}, c.id, p.id from (
        select id, row_number() over (order by id) as n from people where sign_in_name like 'bench%' limit ${STUDENTS}::int) p
      join numbered c on c.n = 1 + p.n % ${CLASSES}::int`);
  await db.execute(sql`
    with folders as (insert into folders (school_id, owner_id, created_by, title, year_id)
        select ${school}, ${owner}, ${owner}, 'Large ' || n, ${year!.id}::uuid from generate_series(1, 40) n returning id)
    insert into grants (school_id, folder_id, audience_kind, course_id, created_by)
    select ${school}, f.id, 'course', k.id, ${owner} from folders f, courses k where k.title = 'Large'`);
  await db.execute(sql`insert into boxes (school_id, class_id, title, created_by)
    select ${school}, c.id, 'Log', ${owner} from classes c where c.year_id = ${year!.id}::uuid`);
  await db.execute(sql`vacuum analyze`);
  const settings = { smtp: null, postRoom: false } as Parameters<typeof findPeople>[0]['settings'];
  const slowest: number[] = [];
  for (let round = 0; round <= ROUNDS; round += 1) {
    const took: number[] = [];
    for (const words of TYPED) {
      const started = performance.now();
      await findPeople({ db, settings }, office, { words });
      took.push(performance.now() - started);
    }
    // The first round warms PostgreSQL up.
    if (round > 0) slowest.push(Math.max(...took));
  }
  report('people_find', median(slowest), 'ms', null, atMost(100));
  const needs = { db, now: () => Date.now() };
  const closing: number[] = [];
  for (let round = 0; round < ROUNDS; round += 1) {
    const started = performance.now();
    await closeYear(needs, office, year!.id, true);
    closing.push((performance.now() - started) / 1000);
    await closeYear(needs, office, year!.id, false);
  }
  report('year_close', median(closing), 's', null, atMost(5));
  await close();
}
