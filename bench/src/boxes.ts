import { sql } from 'drizzle-orm';
import type { ScratchPostgres } from '../../scripts/lib/scratch-server.mjs';
import { migrateDatabase, openDatabase, rows } from '../../server/src/db/database.ts';
import { boxesOf, makeBoxes, placesOf } from '../../server/src/features/box/service.ts';
import { give } from '../../server/src/features/box/copies.ts';
import { atMost, median, report } from './report.ts';
import { makeTeacher, plantSchool } from './school.ts';

const ROUNDS = 5;
const STUDENTS = 2000;
const GOING_THROUGH = 300;

/**
 * box_make: a hand-in box for 2,000 students; box_copies: a copy of a file for each of 300; box_list: the list of 300 by which they are gone
 * through, with a file of each; box_today: all boxes of a
 * teacher with 1,500 places.
 */
export async function benchBoxes(postgres: ScratchPostgres) {
  await migrateDatabase(postgres.url('postgres'));
  const { db, close } = openDatabase(postgres.url('postgres'));
  const { schoolId } = await plantSchool(db, 10_000);
  const school = sql`${schoolId}::uuid`;
  const teacher = await makeTeacher(db, schoolId, 'boxes');
  const owner = sql`${teacher.id}::uuid`;
  const classOf = async (code: string, students: number) => {
    const [made] = await rows<{ id: string }>(
      db,
      sql`with course as (insert into courses (school_id, year_id, title, colour)
            select ${school}, id, ${code}, 'leaf' from years limit 1 returning *),
          teaches as (insert into course_teachers (school_id, course_id, person_id) select ${school}, id, ${owner} from course)
        insert into classes (school_id, year_id, course_id, code, colour) select ${school}, year_id, id, ${code}, 'leaf' from course returning id`,
    );
    await db.execute(sql`
      with people as (insert into people (school_id, kind, name, sign_in_name)
          select ${school}, 'student', 'Student ' || n, ${code} || n from generate_series(1, ${students}::int) n returning id)
      insert into memberships (school_id, class_id, person_id) select ${school}, ${made!.id}::uuid, id from people`);
    return made!.id;
  };
  const needs = { db, now: () => Date.now() };
  const timed = async (work: () => Promise<unknown>) => {
    const started = performance.now();
    await work();
    return performance.now() - started;
  };
  const large = await classOf('LARGE', STUDENTS);
  const usual = await classOf('USUAL', GOING_THROUGH);
  // As in a database that has been running for a while.
  await db.execute(sql`analyze`);
  const facts = { text: '', endsAt: null, takesLate: true };
  const [making, giving]: [number[], number[]] = [[], []];
  const placements = await rows<{ id: string }>(
    db,
    sql`select p.id from placements p join items i on i.id = p.item_id join folders f on f.id = p.folder_id
      where i.kind = 'file' and f.id = (select id from folders where parent_id is null order by title limit 1) limit ${ROUNDS}::int`,
  );
  // What is given is a colleague’s.
  await db.execute(sql`insert into grants (school_id, folder_id, audience_kind, created_by)
    select school_id, folder_id, 'staff', added_by from placements where id = ${placements[0]!.id}::uuid`);
  let boxId = '';
  for (let round = 0; round < ROUNDS; round += 1) {
    const box = (classId: string) =>
      makeBoxes(needs, teacher, { ...facts, title: `Log ${round}`, classIds: [classId] });
    making.push(await timed(() => box(large)));
    boxId = (await box(usual)).ids[0]!;
    const placement = placements[round]?.id;
    if (!placement) throw new Error('no file to give');
    giving.push(await timed(() => give(needs, teacher, boxId, { placement, pattern: '{title}' })));
  }
  // Each has handed in the sheet that was given, filled in.
  await db.execute(sql`update versions v set created_by = i.owner_id from items i, placements p, places l
    where v.item_id = i.id and p.item_id = i.id and l.folder_id = p.folder_id and l.box_id = ${boxId}::uuid`);
  // Nobody goes through 2,000 in one box, let alone in five.
  await db.execute(sql`update boxes set removed_at = now() where class_id = ${large}::uuid`);
  await db.execute(sql`analyze`);
  const [listing, all]: [number[], number[]] = [[], []];
  for (let round = 0; round < ROUNDS; round += 1) {
    listing.push(await timed(() => placesOf(needs, teacher, boxId)));
    all.push(await timed(() => boxesOf(needs, teacher, 'current')));
  }
  report('box_make', median(making), 'ms', null, atMost(2000));
  report('box_copies', median(giving), 'ms', null, atMost(2000));
  report('box_list', median(listing), 'ms', null, atMost(300));
  report('box_today', median(all), 'ms', null, atMost(300));
  await close();
}
