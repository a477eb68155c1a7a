import type {
  ClassChange,
  Consequences,
  CourseChange,
  Courses,
  NewClass,
  NewCourse,
} from '@sammlung/contract';
import { Library } from '@sammlung/core';
import type { z } from 'zod';
import type { Queries } from '../../db/database.ts';
import { previewDifference } from '../../domain/access/preview-change.ts';
import {
  addClass,
  addCourse,
  addTeachers,
  changeClass as writeClass,
  changeCourse as writeCourse,
  classById,
  classesOfCourse,
  classesRemovedAt,
  courseById,
  openYears,
  removeClasses,
  restoreClasses,
  setTeachers,
  yearById,
} from '../../domain/courses.ts';
import { giveBackTo, takeBackFrom } from '../../domain/grants.ts';
import { requireManagedClass, requireManagedCourse } from '../../domain/managed.ts';
import { changesBy } from '../../domain/log.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import { coursesManaged, teachersOf } from './queries.ts';
import { refuseCodeTaken } from './rights.ts';
import { worldOf } from './world.ts';

type Needs = Pick<Services, 'db' | 'now'>;

/** The courses of open years that the person runs, with their classes. */
export async function coursesOf({ db, now }: Needs, person: SignedIn): Promise<Courses> {
  if (person.kind === 'student') throw new AppError('not-found');
  const t = now();
  const [found, open, teachers] = await Promise.all([
    coursesManaged(db, person, t),
    openYears(db, person.schoolId),
    teachersOf(db, person.schoolId),
  ]);
  const years = open.reverse().map(({ id, label }) => ({ id, label }));
  return { years, courses: found, teachers };
}

/** Makes a course with its first classes; whoever teaches and makes it is its teacher. Throws `code-taken`. */
export async function makeCourse(
  { db, now }: Needs,
  person: SignedIn,
  { title, colour, yearId, classes: codes }: z.infer<typeof NewCourse>,
) {
  if (person.kind === 'student') throw new AppError('not-found');
  return db.transaction(async (tx) => {
    await changesBy(tx, person, now());
    const year = await yearById(tx, yearId);
    if (year?.schoolId !== person.schoolId || year.closedAt) throw new AppError('not-found');
    const { schoolId } = person;
    const courseId = await addCourse(tx, { schoolId, yearId, title, colour });
    if (person.kind === 'teacher')
      await addTeachers(tx, [{ schoolId, courseId, personId: person.id }]);
    for (const code of codes) {
      await refuseCodeTaken(tx, yearId, code);
      await addClass(tx, { schoolId, courseId, yearId, code, colour });
    }
    return { id: courseId };
  });
}

export async function changeCourse(
  { db, now }: Needs,
  person: SignedIn,
  courseId: string,
  { teachers, ...facts }: z.infer<typeof CourseChange>,
) {
  await db.transaction(async (tx) => {
    await changesBy(tx, person, now());
    const course = await requireManagedCourse(tx, person, courseId);
    await writeCourse(tx, courseId, facts);
    if (!teachers) return;
    const ids = [...new Set(teachers)];
    const known = new Set((await teachersOf(tx, course.schoolId)).map(({ id }) => id));
    if (!ids.every((id) => known.has(id))) throw new AppError('audience-unknown');
    await setTeachers(tx, course, ids);
  });
}

export async function makeClass(
  { db }: Needs,
  person: SignedIn,
  { courseId, code, colour }: z.infer<typeof NewClass>,
) {
  return db.transaction(async (tx) => {
    const { schoolId, yearId } = await requireManagedCourse(tx, person, courseId);
    await refuseCodeTaken(tx, yearId, code);
    return { id: await addClass(tx, { schoolId, yearId, courseId, code, colour }) };
  });
}

export async function changeClass(
  { db }: Needs,
  person: SignedIn,
  classId: string,
  change: z.infer<typeof ClassChange>,
) {
  await db.transaction(async (tx) => {
    const { yearId } = await requireManagedClass(tx, person, classId);
    if (change.code !== undefined) await refuseCodeTaken(tx, yearId, change.code, classId);
    await writeClass(tx, classId, change);
  });
}

/** What is removed: a course with its classes, or one class. */
export type Removing = { readonly courseId: string } | { readonly classId: string };

async function concerned(db: Queries, person: SignedIn, what: Removing, state?: 'removed') {
  if ('classId' in what) {
    await requireManagedClass(db, person, what.classId, state);
    return { classIds: [what.classId], courseIds: [] as string[] };
  }
  await requireManagedCourse(db, person, what.courseId, state);
  const found = await classesOfCourse(db, what.courseId);
  return { classIds: found.map((c) => c.id), courseIds: [what.courseId] };
}

/** What removing would take from whom. */
export async function removal(
  { db, now }: Needs,
  person: SignedIn,
  what: Removing,
): Promise<Consequences> {
  const those = await concerned(db, person, what);
  const { world, scope } = await worldOf(db, person.schoolId, those);
  const gone = new Set([...those.classIds, ...those.courseIds]);
  const { data } = world.library;
  const after = {
    ...world,
    library: new Library({
      ...data,
      handingsOut: data.handingsOut.filter((h) => !gone.has(h.audience.id)),
    }),
  };
  return previewDifference(
    db,
    world,
    after,
    { schoolId: person.schoolId, words: [], scope },
    now(),
  );
}

/** Removes a course or class. What was handed out to it is taken back with it; `bringBack` undoes both. */
export async function remove({ db, now }: Needs, person: SignedIn, what: Removing) {
  const t = now();
  const removedAt = new Date(t);
  await db.transaction(async (tx) => {
    await changesBy(tx, person, t);
    const those = await concerned(tx, person, what);
    await takeBackFrom(tx, those, { personId: person.id, t });
    await removeClasses(tx, those.classIds, removedAt);
    if ('courseId' in what) await writeCourse(tx, what.courseId, { removedAt });
  });
}

export async function bringBack({ db, now }: Needs, person: SignedIn, what: Removing) {
  await db.transaction(async (tx) => {
    await changesBy(tx, person, now());
    const those = await concerned(tx, person, what, 'removed');
    const removed =
      'courseId' in what ? await courseById(tx, what.courseId) : await classById(tx, what.classId);
    const removedAt = removed!.removedAt!;
    for (const { yearId, code } of await classesRemovedAt(tx, those.classIds, removedAt))
      await refuseCodeTaken(tx, yearId, code);
    if ('courseId' in what) await writeCourse(tx, what.courseId, { removedAt: null });
    await restoreClasses(tx, those.classIds, removedAt);
    await giveBackTo(tx, those, removedAt);
  });
}
