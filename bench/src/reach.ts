import { sql } from 'drizzle-orm';
import type { ScratchPostgres } from '../../scripts/lib/scratch-server.mjs';
import { migrateDatabase, openDatabase, rows } from '../../server/src/db/database.ts';
import { packOpenings } from '../../server/src/domain/openings.ts';
import { folderReach, itemReach } from '../../server/src/features/reach/service.ts';
import { atMost, median, report } from './report.ts';
import { makeTeacher, plantSchool } from './school.ts';

const ROUNDS = 7;
const STUDENTS = 2000;
const CLASSES = 80;
const ITEMS = 500;

/**
 * reach: a folder of 500 things in ten folders, handed out to a course of 2,000 students in 80 classes, of which each student has opened a
 * third, within two weeks after it was handed out, a fifth of them twice; reach_item: one of these things.
 */
export async function benchReach(postgres: ScratchPostgres) {
  await migrateDatabase(postgres.url('postgres'));
  const { db, close } = openDatabase(postgres.url('postgres'));
  const { schoolId } = await plantSchool(db, 10_000);
  const school = sql`${schoolId}::uuid`;
  const teacher = await makeTeacher(db, schoolId, 'reach');
  const owner = sql`${teacher.id}::uuid`;
  await db.execute(sql`
    with course as (insert into courses (school_id, year_id, title, colour)
        select ${school}, id, 'Large', 'leaf' from years limit 1 returning *),
      teaches as (insert into course_teachers (school_id, course_id, person_id) select ${school}, id, ${owner} from course),
      made as (insert into classes (school_id, year_id, course_id, code, colour)
        select ${school}, year_id, id, 'LG' || n, 'leaf' from course, generate_series(1, ${CLASSES}::int) n returning id),
      numbered as (select id, row_number() over () as n from made),
      people as (insert into people (school_id, kind, name, sign_in_name)
        select ${school}, 'student', 'Student ' || n, 'reach' || n from generate_series(1, ${STUDENTS}::int) n returning id, name)
    insert into memberships (school_id, class_id, person_id)
    select ${school}, c.id, p.id from (select id, row_number() over () as n from people) p join numbered c on c.n = 1 + p.n % ${CLASSES}::int`);
  const [top] = await rows<{ id: string }>(
    db,
    sql`insert into folders (school_id, owner_id, created_by, title) values (${school}, ${owner}, ${owner}, 'Large') returning id`,
  );
  const folder = sql`${top!.id}::uuid`;
  await db.execute(sql`
    with units as (insert into folders (school_id, owner_id, created_by, parent_id, title)
        select ${school}, ${owner}, ${owner}, ${folder}, 'Unit ' || n from generate_series(1, 10) n returning id),
      numbered as (select id, row_number() over () as n from units),
      things as (insert into items (school_id, owner_id, kind, title, url)
        select ${school}, ${owner}, 'link', 'Sheet ' || n, 'https://example.org/' from generate_series(1, ${ITEMS}::int) n returning id)
    insert into placements (school_id, folder_id, item_id, added_by)
    select ${school}, u.id, t.id, ${owner} from (select id, row_number() over () as n from things) t join numbered u on u.n = 1 + t.n % 10`);
  await db.execute(sql`insert into grants (school_id, folder_id, audience_kind, course_id, created_by)
    select ${school}, ${folder}, 'course', id, ${owner} from courses where title = 'Large'`);
  await db.execute(sql`update schools set reach_since = now() - interval '300 days'`);
  const [opened] = await rows<{ count: number }>(
    db,
    sql`with made as (insert into openings (school_id, placement_id, person_id, kind, at)
        select ${school}, p.id, m.id, (case when dice % 4 = 0 then 'downloaded' else 'opened' end)::opening_kind,
          now() - interval '1 day' * (abs(hashtext(p.id::text)) % 200 + 15 - least(dice % 14, dice % 11) - nth)
        from placements p join folders f on f.id = p.folder_id and f.parent_id = ${folder}
          cross join (select id from people where sign_in_name like 'reach%') m
          cross join lateral (select abs(hashtext(p.id::text || m.id)) as dice) x cross join generate_series(0, 1) nth
        where dice % 3 = 0 and (nth = 0 or dice % 15 = 0) returning 1)
      select count(*)::int as count from made`,
  );
  // As every night.
  await packOpenings(db, Date.now());
  await db.execute(sql`vacuum analyze`);
  const needs = { db, now: () => Date.now() };
  const [many, one]: [number[], number[]] = [[], []];
  for (let round = 0; round < ROUNDS; round += 1) {
    let started = performance.now();
    const reach = await folderReach(needs, teacher, top!.id, undefined);
    many.push(performance.now() - started);
    if (reach.people !== STUDENTS || reach.items.length !== ITEMS)
      throw new Error(`${reach.people} students, ${reach.items.length} things`);
    started = performance.now();
    await itemReach(needs, teacher, reach.items[0]!.placementId, undefined);
    one.push(performance.now() - started);
  }
  console.log(`${opened!.count} openings`);
  report('reach', median(many), 'ms', null, atMost(300));
  report('reach_item', median(one), 'ms', null, atMost(300));
  await close();
}
