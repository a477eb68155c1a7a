import { sql } from 'drizzle-orm';
import { rows, type Database } from '../../server/src/db/database.ts';
import type { SignedIn } from '../../server/src/platform/sessions.ts';

/**
 * Fills an empty database by SQL with a school of `placements` placements, 10 in a folder, 20 folders below each of
 * the topmost ones; the first topmost folder is handed out to a class of one student. Resolves to what benches need.
 */
export async function plantSchool(db: Database, placements: number) {
  const folderCount = placements / 10;
  await db.execute(sql`create function bench_id(name text) returns uuid immutable language sql as
    $$ select overlay(overlay(md5(name) placing '4' from 13) placing '8' from 17)::uuid $$`);
  await db.transaction(async (tx) => {
    // Triggers and references are not checked while loading: the rows are made right.
    await tx.execute(sql`set local session_replication_role = replica`);
    await tx.execute(sql`
    with school as (insert into schools (name, time_zone) values ('Bench', 'UTC') returning id),
    made as (insert into people (school_id, kind, name, email)
      select id, kind::person_kind, kind, kind || '@bench.example' from school, unnest(array['teacher', 'student']) kind
      returning id, school_id, kind),
    year as (insert into years (school_id, label, first_day, last_day) select id, 'now', '2026-08-01', '2027-07-01' from school returning *),
    course as (insert into courses (school_id, year_id, title, colour) select school_id, id, 'Course', 'leaf' from year returning *),
    class as (insert into classes (school_id, year_id, course_id, code, colour)
      select course.school_id, year_id, id, 'C1', 'leaf' from course returning *)
    insert into memberships (school_id, class_id, person_id)
      select class.school_id, class.id, made.id from class, made where made.kind = 'student'`);
    await tx.execute(sql`
    insert into folders (id, school_id, owner_id, created_by, title, path)
    select made.id, p.school_id, p.id_, p.id_, 'Top ' || n, array[made.id]
    from (select school_id, id as id_ from people where kind = 'teacher') p,
      generate_series(1, ${folderCount / 20}::int) n, lateral (select bench_id('top' || n) as id) made`);
    await tx.execute(sql`
    insert into folders (id, school_id, owner_id, created_by, parent_id, title, path, position)
    select made.id, t.school_id, t.owner_id, t.owner_id, t.id, 'Unit ' || k, array[t.id, made.id], k
    from folders t, generate_series(1, 19) k, lateral (select bench_id(t.id::text || k) as id) made
    where t.parent_id is null`);
    await tx.execute(sql`
    insert into blobs (school_id, hash, size)
    select f.school_id, md5(f.id::text) || md5(f.title), 1000 from folders f`);
    // What is written inside: one content for a folder's files, of sixty words out of two thousand.
    await tx.execute(sql`
    insert into texts (school_id, hash, body, opening)
    select f.school_id, md5(f.id::text) || md5(f.title), w.body, left(w.body, 400)
    from folders f, lateral (select string_agg(substr(md5((hashtext(f.id::text || n) % 2000)::text), 1, 7), ' ') as body
      from generate_series(1, 60) n) w`);
    await tx.execute(sql`
    insert into items (id, school_id, owner_id, kind, title, extension, current_version_id)
    select bench_id(f.id::text || k), f.school_id, f.owner_id, 'file', 'Sheet ' || k || ' ' || substr(md5((hashtext(f.id::text || k) % 2000)::text), 1, 7), 'pdf', bench_id('v' || f.id::text || k)
    from folders f, generate_series(1, 10) k`);
    await tx.execute(sql`
    insert into versions (id, school_id, item_id, number, hash, size, media_type, original_name, created_by, created_at)
    select bench_id('v' || f.id::text || k), f.school_id, bench_id(f.id::text || k), 1, md5(f.id::text) || md5(f.title), 1000,
      'application/pdf', 'x.pdf', f.owner_id, now() - abs(hashtext(f.id::text || k)) % 8640000 * interval '1 second'
    from folders f, generate_series(1, 10) k`);
    await tx.execute(sql`
    insert into placements (school_id, folder_id, item_id, name_key, position, added_by, added_at, version_id, version_at, several)
    select f.school_id, f.id, v.item_id, 'sheet ' || k || '.pdf', k, f.owner_id, v.created_at, v.id, v.created_at, false
    from folders f cross join generate_series(1, 10) k join versions v on v.id = bench_id('v' || f.id::text || k)`);
    await tx.execute(sql`
    insert into grants (school_id, folder_id, audience_kind, class_id, created_by)
    select f.school_id, f.id, 'class', (select id from classes), f.owner_id from folders f where f.title = 'Top 1'`);
    // Another student is in eight classes, each with one of the topmost folders.
    await tx.execute(sql`
    with class as (insert into classes (school_id, year_id, course_id, code, colour)
        select school_id, year_id, id, 'E' || n, 'leaf' from courses, generate_series(1, 8) n returning *),
      eight as (insert into people (school_id, kind, name, email)
        select id, 'student', 'eight', 'eight@bench.example' from schools returning *),
      joined as (insert into memberships (school_id, class_id, person_id)
        select class.school_id, class.id, eight.id from class, eight)
    insert into grants (school_id, folder_id, audience_kind, class_id, created_by)
      select f.school_id, f.id, 'class', class.id, f.owner_id
      from class join folders f on f.title = 'Top ' || (substr(class.code, 2)::int + 1)`);
  });
  await db.execute(sql`vacuum analyze`);
  const [found] = await rows<{
    schoolId: string;
    student: string;
    /** A student in eight classes. */
    eight: string;
    folder: string;
    placements: number;
    /** Words that stand in what the student sees, as anywhere else. */
    words: string[];
  }>(
    db,
    sql`select (select id from schools) as "schoolId", (select id from people where name = 'student') as student,
      (select id from people where name = 'eight') as eight,
      (select f.id from folders f join folders t on t.id = f.parent_id where t.title = 'Top 1' and f.title = 'Unit 7') as folder,
      (select count(*)::int from placements) as placements,
      (select array_agg(distinct word) from texts x
        join folders f on md5(f.id::text) || md5(f.title) = x.hash join folders t on t.id = f.parent_id,
        regexp_split_to_table(x.body, ' ') word where t.title = 'Top 1' and f.title = 'Unit 7') as words`,
  );
  return found!;
}

/** A teacher of the school, as who has signed in. */
export async function makeTeacher(db: Database, schoolId: string, name: string): Promise<SignedIn> {
  const [made] = await rows<{ id: string }>(
    db,
    sql`insert into people (school_id, kind, name, email) values
      (${schoolId}::uuid, 'teacher', ${name}, ${`${name}@bench.example`}) returning id`,
  );
  return {
    id: made!.id,
    name,
    kind: 'teacher',
    schoolId,
    schoolName: 'Bench',
    timeZone: 'UTC',
    sample: false,
    language: null,
    sessionId: '',
  };
}
