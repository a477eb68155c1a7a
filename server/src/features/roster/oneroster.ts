import type { ImportedRoster, ImportQuery } from '@sammlung/contract';
import {
  dayAt,
  lineName,
  writeRoster,
  yearOn,
  type readRoster,
  type Roster,
  type RosterFault,
} from '@sammlung/core';
import type { z } from 'zod';
import type { Queries } from '../../db/database.ts';
import {
  addClass,
  addCourse,
  addTeachers,
  changeCourse,
  classesOfSchool,
  coursesOfSchool,
  openYears,
} from '../../domain/courses.ts';
import {
  addMemberships,
  columnsOf,
  endMemberships,
  lastingIn,
  setDays,
  type NewMembership,
} from '../../domain/memberships.ts';
import { addPeople, changePerson, peopleOf, type NewPerson } from '../../domain/people.ts';
import { changesBy } from '../../domain/log.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import { emailsElsewhere, rosterRows } from './queries.ts';
import { readRosterIn } from './reading.ts';

type Needs = Pick<Services, 'db' | 'now'>;

const FAULTS_SHOWN = 50;

class Preview extends Error {
  constructor(readonly taken: ImportedRoster) {
    super('preview');
  }
}

/** Who imports a roster: somebody of the office. */
type RosterPerson = Pick<SignedIn, 'id' | 'kind' | 'schoolId' | 'timeZone'>;

/** Takes a roster into the year that runs, or says what that would do. For the office. */
export async function importRoster(
  { db, now, workers }: Needs & Pick<Services, 'workers'>,
  person: RosterPerson,
  archive: Buffer,
  { take, leave }: z.infer<typeof ImportQuery>,
): Promise<ImportedRoster> {
  if (person.kind !== 'office') throw new AppError('not-found');
  const read = await readRosterIn(workers, archive);
  try {
    return await db.transaction(async (tx) => {
      await changesBy(tx, person, now());
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
    private readonly person: RosterPerson,
    private readonly t: number,
    private readonly read: ReturnType<typeof readRoster>,
  ) {}

  async run(leave: boolean): Promise<ImportedRoster> {
    const { roster, faults } = this.read;
    const year = await rosterYear(this.tx, this.person, this.t);
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
    const known = await coursesOfSchool(this.tx, this.person.schoolId);
    const ids = named(known, roster.courses);
    let made = 0;
    for (const { id, title } of roster.courses) {
      const there = ids.get(id);
      if (there) {
        await changeCourse(this.tx, there, { title });
        continue;
      }
      const values = {
        schoolId: this.person.schoolId,
        yearId,
        title,
        colour: 'slate' as const,
        externalId: id,
      };
      ids.set(id, await addCourse(this.tx, values));
      made += 1;
    }
    return { ids, made };
  }

  async #classes(roster: Roster, yearId: string, courseIds: ReadonlyMap<string, string>) {
    const known = await classesOfSchool(this.tx, this.person.schoolId);
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
      const classId = await addClass(this.tx, {
        ...{ schoolId: this.person.schoolId, yearId, courseId: courseIds.get(courseId)!, code },
        ...{ colour: 'slate' as const, externalId: id },
      });
      codes.add(code.toLowerCase());
      ids.set(id, classId);
      made += 1;
    }
    return { ids, made };
  }

  /** Gives people their names of the roster, and accounts to those who have none. Nobody becomes somebody else. */
  async #people(roster: Roster) {
    const { schoolId } = this.person;
    const known = await peopleOf(this.tx, schoolId);
    const byId = new Map(known.map((p) => [p.id, p]));
    const ids = named(known, roster.people);
    const by = (key: (p: (typeof known)[number]) => string | null) =>
      new Map(known.flatMap((p) => (key(p) ? [[key(p)!.toLowerCase(), p.id] as const] : [])));
    const byMail = by((p) => p.email);
    const bySignIn = by((p) => p.signInName);
    const elsewhere = await emailsElsewhere(
      this.tx,
      schoolId,
      roster.people.flatMap((p) => p.email ?? []),
    );
    const making: (NewPerson & { externalId: string })[] = [];
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
          await changePerson(this.tx, same.id, {
            ...{ name: one.name, externalId: same.externalId ?? one.id },
          });
      } else if (one.email && elsewhere.has(one.email)) fault('twice', one.email);
      else {
        const { kind, name, email, signInName } = one;
        making.push({ schoolId, kind, name, email, signInName, externalId: one.id });
      }
    }
    const put = await addPeople(this.tx, making);
    put.forEach((id, n) => ids.set(making[n]!.externalId, id));
    return { ids, made: making.length };
  }

  async #members(
    roster: Roster,
    classIds: ReadonlyMap<string, string>,
    personIds: ReadonlyMap<string, string>,
    leave: boolean,
  ) {
    const { schoolId, timeZone } = this.person;
    const now = await lastingIn(this.tx, [...classIds.values()], this.t);
    const there = new Map(now.map((m) => [`${m.classId} ${m.personId}`, m.id]));
    const staying = new Set<string>();
    const joining: NewMembership[] = [];
    for (const e of roster.enrollments) {
      const [classId, personId] = [classIds.get(e.classId), personIds.get(e.personId)];
      if (e.role !== 'student' || !classId || !personId) continue;
      const key = `${classId} ${personId}`;
      const id = there.get(key);
      if (id) {
        staying.add(id);
        if (e.until) await setDays(this.tx, id, { untilAt: columnsOf(e, timeZone).untilAt });
      } else if (!staying.has(key)) {
        staying.add(key);
        joining.push({ schoolId, classId, personId, ...columnsOf(e, timeZone) });
      }
    }
    await addMemberships(this.tx, joining);
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
    await addTeachers(this.tx, teaching);
  }
}

/** The open year that a roster is of today: the next one may be there already. Throws `not-found` where there is none. */
async function rosterYear(db: Queries, { schoolId, timeZone }: RosterPerson, t: number) {
  const year = yearOn(await openYears(db, schoolId), dayAt(t, timeZone));
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
  const year = await rosterYear(db, person, t);
  const found = await rosterRows(db, person, year.id, t);
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
