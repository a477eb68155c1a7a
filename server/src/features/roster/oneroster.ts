import type { TakenRoster, TakeQuery } from '@sammlung/contract';
import {
  dayAt,
  lineName,
  writeRoster,
  type readRoster,
  type Roster,
  type RosterFault,
} from '@sammlung/core';
import { and, desc, eq, inArray, isNull, sql } from 'drizzle-orm';
import type { z } from 'zod';
import { at, ms, rows, type Queries } from '../../db/database.ts';
import { notOver } from '../../domain/spans.ts';
import {
  classes,
  courses,
  courseTeachers,
  memberships,
  people,
  years,
} from '../../db/schema/index.ts';
import { AppError } from '../../platform/errors.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { readRosterIn } from './reading.ts';
import { chunks, columnsOf, endMemberships, lasting } from '../../domain/memberships.ts';
import { runs } from './rights.ts';

type Needs = Pick<Services, 'db' | 'now'>;

const FAULTS_SHOWN = 50;

class Preview extends Error {
  constructor(readonly taken: TakenRoster) {
    super('preview');
  }
}

/** Takes a roster into the newest open year, or says what that would do. For the office. */
export async function takeRoster(
  { db, now, workers }: Needs & Pick<Services, 'workers'>,
  person: SignedIn,
  archive: Buffer,
  { take, leave }: z.infer<typeof TakeQuery>,
): Promise<TakenRoster> {
  if (person.kind !== 'office') throw new AppError('not-found');
  const read = await readRosterIn(workers, archive);
  try {
    return await db.transaction(async (tx) => {
      const taken = await new Taking(tx, person, now(), read).run(leave === 'yes');
      // The same steps tell beforehand what they do, and are then undone.
      if (take === 'no') throw new Preview(taken);
      return taken;
    });
  } catch (error) {
    if (error instanceof Preview) return error.taken;
    throw error;
  }
}

class Taking {
  readonly #faults: RosterFault[] = [];

  constructor(
    private readonly tx: Queries,
    private readonly person: SignedIn,
    private readonly t: number,
    private readonly read: ReturnType<typeof readRoster>,
  ) {}

  async run(leave: boolean): Promise<TakenRoster> {
    const { roster, faults } = this.read;
    const year = await newestYear(this.tx, this.person.schoolId);
    const courseIds = await this.#courses(roster, year.id);
    const classIds = await this.#classes(roster, year.id, courseIds.ids);
    const personIds = await this.#people(roster);
    const { joined, left } = await this.#members(roster, classIds.ids, personIds.ids, leave);
    await this.#teachers(roster, courseIds.ids, personIds.ids);
    const all = [...faults, ...this.#faults];
    const count = ({ made, ids }: { made: number; ids: ReadonlyMap<string, string> }) => ({
      made,
      known: ids.size - made,
    });
    return {
      courses: count(courseIds),
      classes: count(classIds),
      people: count(personIds),
      joined,
      left,
      faults: all.slice(0, FAULTS_SHOWN),
      faultCount: all.length,
    };
  }

  async #courses(roster: Roster, yearId: string) {
    const known = await this.tx
      .select({ id: courses.id, externalId: courses.externalId })
      .from(courses)
      .where(and(eq(courses.schoolId, this.person.schoolId), isNull(courses.removedAt)));
    const ids = named(known, roster.courses);
    let made = 0;
    for (const { id, title } of roster.courses) {
      const there = ids.get(id);
      if (there) {
        await this.tx.update(courses).set({ title }).where(eq(courses.id, there));
        continue;
      }
      const values = {
        schoolId: this.person.schoolId,
        yearId,
        title,
        colour: 'slate' as const,
        externalId: id,
      };
      const [put] = await this.tx.insert(courses).values(values).returning({ id: courses.id });
      ids.set(id, put!.id);
      made += 1;
    }
    return { ids, made };
  }

  async #classes(roster: Roster, yearId: string, courseIds: ReadonlyMap<string, string>) {
    const known = await this.tx
      .select({
        id: classes.id,
        externalId: classes.externalId,
        code: classes.code,
        yearId: classes.yearId,
      })
      .from(classes)
      .where(and(eq(classes.schoolId, this.person.schoolId), isNull(classes.removedAt)));
    const ids = named(known, roster.classes);
    const codes = new Set(
      known.filter((c) => c.yearId === yearId).map((c) => c.code.toLowerCase()),
    );
    let made = 0;
    for (const { id, code, courseId } of roster.classes) {
      if (ids.has(id)) continue;
      if (codes.has(code.toLowerCase())) {
        const line = this.read.lines.get(lineName('classes', id)) ?? 0;
        this.#faults.push({ file: 'classes', line, fault: 'twice', what: code });
        continue;
      }
      const [put] = await this.tx
        .insert(classes)
        .values({
          schoolId: this.person.schoolId,
          yearId,
          courseId: courseIds.get(courseId)!,
          code,
          colour: 'slate',
          externalId: id,
        })
        .returning({ id: classes.id });
      codes.add(code.toLowerCase());
      ids.set(id, put!.id);
      made += 1;
    }
    return { ids, made };
  }

  /** Gives people their names of the roster, and accounts to those who have none. Nobody becomes somebody else. */
  async #people(roster: Roster) {
    const { schoolId } = this.person;
    const known = await this.tx.select().from(people).where(eq(people.schoolId, schoolId));
    const byId = new Map(known.map((p) => [p.id, p]));
    const ids = named(known, roster.people);
    const by = (key: (p: (typeof known)[number]) => string | null) =>
      new Map(known.flatMap((p) => (key(p) ? [[key(p)!.toLowerCase(), p.id] as const] : [])));
    const byMail = by((p) => p.email);
    const bySignIn = by((p) => p.signInName);
    const elsewhere = await this.#mailsElsewhere(roster);
    const making: (typeof people.$inferInsert & { externalId: string })[] = [];
    for (const one of roster.people) {
      const fault = (what: RosterFault['fault'], about: string) => {
        const line = this.read.lines.get(lineName('users', one.id)) ?? 0;
        this.#faults.push({ file: 'users', line, fault: what, what: about });
      };
      const same = byId.get(
        ids.get(one.id) ?? byMail.get(one.email ?? '') ?? bySignIn.get(one.signInName ?? '') ?? '',
      );
      if (same && (same.kind === 'student') !== (one.kind === 'student')) {
        ids.delete(one.id);
        fault('other-kind', one.email ?? one.signInName ?? one.id);
      } else if (same) {
        ids.set(one.id, same.id);
        if (same.name !== one.name || same.externalId === null)
          await this.tx
            .update(people)
            .set({ name: one.name, externalId: same.externalId ?? one.id })
            .where(eq(people.id, same.id));
      } else if (one.email && elsewhere.has(one.email)) fault('twice', one.email);
      else {
        const { kind, name, email, signInName } = one;
        making.push({ schoolId, kind, name, email, signInName, externalId: one.id });
      }
    }
    for (const chunk of chunks(making)) {
      const put = await this.tx.insert(people).values(chunk).returning({ id: people.id });
      put.forEach(({ id }, n) => ids.set(chunk[n]!.externalId, id));
    }
    return { ids, made: making.length };
  }

  async #mailsElsewhere(roster: Roster) {
    const asked = roster.people.flatMap((p) => p.email ?? []);
    const found = await rows<{ email: string }>(
      this.tx,
      sql`select lower(email) as email from people where school_id <> ${this.person.schoolId}::uuid
        and lower(email) = any (${sql.param(asked)}::text[])`,
    );
    return new Set(found.map((p) => p.email));
  }

  async #members(
    roster: Roster,
    classIds: ReadonlyMap<string, string>,
    personIds: ReadonlyMap<string, string>,
    leave: boolean,
  ) {
    const { schoolId, timeZone } = this.person;
    const now = await this.tx
      .select({ id: memberships.id, classId: memberships.classId, personId: memberships.personId })
      .from(memberships)
      .where(and(inArray(memberships.classId, [...classIds.values()]), lasting(this.t)));
    const there = new Map(now.map((m) => [`${m.classId} ${m.personId}`, m.id]));
    const staying = new Set<string>();
    const joining: (typeof memberships.$inferInsert)[] = [];
    for (const e of roster.enrollments) {
      const [classId, personId] = [classIds.get(e.classId), personIds.get(e.personId)];
      if (e.role !== 'student' || !classId || !personId) continue;
      const key = `${classId} ${personId}`;
      const id = there.get(key);
      if (id) {
        staying.add(id);
        if (e.until)
          await this.tx
            .update(memberships)
            .set({ untilAt: columnsOf(e, timeZone).untilAt })
            .where(eq(memberships.id, id));
      } else if (!staying.has(key)) {
        staying.add(key);
        joining.push({ schoolId, classId, personId, ...columnsOf(e, timeZone) });
      }
    }
    for (const chunk of chunks(joining)) await this.tx.insert(memberships).values(chunk);
    const leaving = leave ? now.filter((m) => !staying.has(m.id)).map((m) => m.id) : [];
    if (leaving.length > 0) await endMemberships(this.tx, leaving, this.t, this.person.id);
    return { joined: joining.length, left: leaving.length };
  }

  async #teachers(
    roster: Roster,
    courseIds: ReadonlyMap<string, string>,
    personIds: ReadonlyMap<string, string>,
  ) {
    const courseOf = new Map(roster.classes.map((c) => [c.id, courseIds.get(c.courseId)]));
    const teaching = roster.enrollments.flatMap((e) => {
      const [courseId, personId] = [courseOf.get(e.classId), personIds.get(e.personId)];
      return e.role === 'teacher' && courseId && personId
        ? [{ schoolId: this.person.schoolId, courseId, personId }]
        : [];
    });
    if (teaching.length > 0)
      await this.tx.insert(courseTeachers).values(teaching).onConflictDoNothing();
  }
}

/** The open year that began last. Throws `not-found` where there is none. */
async function newestYear(db: Queries, schoolId: string) {
  const [year] = await db
    .select()
    .from(years)
    .where(and(eq(years.schoolId, schoolId), isNull(years.closedAt)))
    .orderBy(desc(years.firstDay))
    .limit(1);
  if (!year) throw new AppError('not-found');
  return year;
}

/** The things of ours that a roster means: by the id it gave them earlier, or by our own. */
function named(
  known: readonly { id: string; externalId: string | null }[],
  told: readonly { id: string }[],
): Map<string, string> {
  const byName = new Map(
    known.flatMap(
      (k) => [[k.id, k.id], ...(k.externalId ? [[k.externalId, k.id]] : [])] as [string, string][],
    ),
  );
  return new Map(told.flatMap(({ id }) => (byName.has(id) ? [[id, byName.get(id)!]] : [])));
}

/** The courses a person runs with their classes and people, as the files of OneRoster 1.2. */
export async function rosterFiles(
  { db, now }: Needs,
  person: SignedIn,
): Promise<Record<string, string>> {
  if (person.kind === 'student') throw new AppError('not-found');
  const t = now();
  const year = await newestYear(db, person.schoolId);
  const mine = sql`select k.id, coalesce(k.external_id, k.id::text) as name, k.title from courses k
    where k.year_id = ${year.id}::uuid and k.removed_at is null and ${runs(person, sql`k.id`)}`;
  const found = await rows<{
    kind: string;
    a: string;
    b: string;
    c: string | null;
    d: string | null;
    staff: boolean | null;
    from: number | null;
    until: number | null;
  }>(
    db,
    sql`with mine as materialized (${mine}),
      rooms as materialized (
        select c.id, coalesce(c.external_id, c.id::text) as name, c.code, mine.name as course, mine.id as course_id
        from mine join classes c on c.course_id = mine.id and c.removed_at is null),
      members as (
        select rooms.name as room, m.person_id, 'student' as role, m.from_at, m.until_at from rooms join memberships m on m.class_id = rooms.id
          where ${notOver(sql`m`, at(t))}
        union all
        select rooms.name, ct.person_id, 'teacher', null, null from rooms join course_teachers ct on ct.course_id = rooms.course_id)
      select 'course' as kind, name as a, title as b, null as c, null as d, null::boolean as staff, null::float8 as "from", null::float8 as until from mine
      union all select 'class', name, code, course, null, null, null, null from rooms
      union all select 'person', coalesce(p.external_id, p.id::text), p.name, p.email, p.sign_in_name, p.kind <> 'student', null, null
        from people p where p.id in (select person_id from members)
      union all select 'enrollment', room, coalesce(p.external_id, p.id::text), role, null, null,
          ${ms(sql`from_at`)}, ${ms(sql`until_at`)} from members join people p on p.id = members.person_id`,
  );
  const of = (kind: string) => found.filter((row) => row.kind === kind);
  const day = (instant: number | null) =>
    instant === null ? null : dayAt(instant, person.timeZone);
  return writeRoster(
    {
      id: person.schoolId,
      name: person.schoolName,
      year: { id: year.id, label: year.label, first: year.firstDay, last: year.lastDay },
    },
    {
      courses: of('course').map((row) => ({ id: row.a, title: row.b })),
      classes: of('class').map((row) => ({ id: row.a, code: row.b, courseId: row.c! })),
      people: of('person').map((row) => ({
        id: row.a,
        name: row.b,
        email: row.c,
        signInName: row.d,
        kind: row.staff ? ('teacher' as const) : ('student' as const),
      })),
      enrollments: of('enrollment').map((row) => ({
        classId: row.a,
        personId: row.b,
        role: row.c === 'student' ? ('student' as const) : ('teacher' as const),
        from: day(row.from),
        until: day(row.until),
      })),
    },
  );
}
