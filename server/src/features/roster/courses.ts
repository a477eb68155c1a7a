import type {
  ClassChange,
  Consequences,
  CourseChange,
  Courses,
  NewClass,
  NewCourse,
} from '@sammlung/contract';
import { Library } from '@sammlung/core';
import { and, eq, inArray, isNull, or, sql, type SQL } from 'drizzle-orm';
import type { z } from 'zod';
import { at, rows, type Queries } from '../../db/database.ts';
import { inSpan } from '../../domain/spans.ts';
import { classes, courses, courseTeachers, grants, people, years } from '../../db/schema/index.ts';
import { previewDifference } from '../../domain/access/preview-change.ts';
import { AppError } from '../../platform/errors.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { requireManagedClass, requireManagedCourse, refuseCodeTaken, runs } from './rights.ts';
import { worldOf } from './world.ts';

type Needs = Pick<Services, 'db' | 'now'>;

/** The courses of open years that the person runs, with their classes. */
export async function coursesOf({ db, now }: Needs, person: SignedIn): Promise<Courses> {
  if (person.kind === 'student') throw new AppError('not-found');
  const t = now();
  const found = await rows<Courses['courses'][number]>(
    db,
    sql`select k.id, k.title, k.colour, k.year_id as "yearId",
        coalesce((select json_agg(json_build_object('id', p.id, 'name', p.name) order by p.name)
          from course_teachers ct join people p on p.id = ct.person_id where ct.course_id = k.id), '[]') as teachers,
        coalesce((select json_agg(x order by x.code) from (
          select c.id, c.code, c.colour, count(distinct m.person_id)::int as students,
            count(distinct m.person_id) filter (where exists (
              select from credentials d where d.user_id = m.person_id and d.password is not null))::int as ready,
            (select count(*)::int from grants g where g.taken_back_at is null and g.folder_id is not null
              and (g.class_id = c.id or g.course_id = k.id)) as folders
          from classes c left join memberships m on m.class_id = c.id
            and ${inSpan(sql`m`, at(t))}
          where c.course_id = k.id and c.removed_at is null group by c.id) x), '[]') as classes
      from courses k join years y on y.id = k.year_id
      where k.school_id = ${person.schoolId}::uuid and y.closed_at is null and k.removed_at is null and ${runs(person, sql`k.id`)}
      order by k.title collate natural_order`,
  );
  const open = await db
    .select({ id: years.id, label: years.label })
    .from(years)
    .where(and(eq(years.schoolId, person.schoolId), isNull(years.closedAt)))
    .orderBy(years.firstDay);
  const teachers = await db
    .select({ id: people.id, name: people.name })
    .from(people)
    .where(and(eq(people.schoolId, person.schoolId), eq(people.kind, 'teacher')))
    .orderBy(people.name);
  return { years: open, courses: found, teachers };
}

/** Makes a course with its first classes; whoever teaches and makes it is its teacher. Throws `code-taken`. */
export async function makeCourse(
  { db }: Needs,
  person: SignedIn,
  { title, colour, yearId, classes: codes }: z.infer<typeof NewCourse>,
) {
  if (person.kind === 'student') throw new AppError('not-found');
  return db.transaction(async (tx) => {
    const [year] = await tx.select().from(years).where(eq(years.id, yearId));
    if (year?.schoolId !== person.schoolId || year.closedAt) throw new AppError('not-found');
    const { schoolId } = person;
    const [course] = await tx
      .insert(courses)
      .values({ schoolId, yearId, title, colour })
      .returning({ id: courses.id });
    const courseId = course!.id;
    if (person.kind === 'teacher')
      await tx.insert(courseTeachers).values({ schoolId, courseId, personId: person.id });
    for (const code of codes) {
      await refuseCodeTaken(tx, yearId, code);
      await tx.insert(classes).values({ schoolId, courseId, yearId, code, colour });
    }
    return { id: courseId };
  });
}

export async function changeCourse(
  { db }: Needs,
  person: SignedIn,
  courseId: string,
  { teachers, ...facts }: z.infer<typeof CourseChange>,
) {
  await db.transaction(async (tx) => {
    const { schoolId } = await requireManagedCourse(tx, person, courseId);
    if (Object.keys(facts).length > 0)
      await tx.update(courses).set(facts).where(eq(courses.id, courseId));
    if (!teachers) return;
    const known = await tx
      .select({ id: people.id })
      .from(people)
      .where(
        and(
          eq(people.schoolId, schoolId),
          eq(people.kind, 'teacher'),
          inArray(people.id, teachers),
        ),
      );
    if (known.length < new Set(teachers).size) throw new AppError('audience-unknown');
    await tx.delete(courseTeachers).where(eq(courseTeachers.courseId, courseId));
    await tx
      .insert(courseTeachers)
      .values(known.map(({ id }) => ({ schoolId, courseId, personId: id })));
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
    const [made] = await tx
      .insert(classes)
      .values({ schoolId, yearId, courseId, code, colour })
      .returning({ id: classes.id });
    return made!;
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
    if (Object.keys(change).length > 0)
      await tx.update(classes).set(change).where(eq(classes.id, classId));
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
  const found = await db
    .select({ id: classes.id })
    .from(classes)
    .where(eq(classes.courseId, what.courseId));
  return { classIds: found.map((c) => c.id), courseIds: [what.courseId] };
}

const handedTo = ({ classIds, courseIds }: { classIds: string[]; courseIds: string[] }): SQL =>
  or(inArray(grants.classId, classIds), inArray(grants.courseId, courseIds))!;

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
  const removedAt = new Date(now());
  await db.transaction(async (tx) => {
    const those = await concerned(tx, person, what);
    await tx
      .update(grants)
      .set({ takenBackAt: removedAt, takenBackBy: person.id })
      .where(and(handedTo(those), isNull(grants.takenBackAt)));
    await tx
      .update(classes)
      .set({ removedAt })
      .where(and(inArray(classes.id, those.classIds), isNull(classes.removedAt)));
    if ('courseId' in what)
      await tx.update(courses).set({ removedAt }).where(eq(courses.id, what.courseId));
  });
}

export async function bringBack({ db }: Needs, person: SignedIn, what: Removing) {
  await db.transaction(async (tx) => {
    const those = await concerned(tx, person, what, 'removed');
    const removedAt =
      'courseId' in what
        ? (await tx.select().from(courses).where(eq(courses.id, what.courseId)))[0]!.removedAt!
        : (await tx.select().from(classes).where(eq(classes.id, what.classId)))[0]!.removedAt!;
    const back = await tx
      .select()
      .from(classes)
      .where(and(inArray(classes.id, those.classIds), eq(classes.removedAt, removedAt)));
    for (const c of back) await refuseCodeTaken(tx, c.yearId, c.code);
    if ('courseId' in what)
      await tx.update(courses).set({ removedAt: null }).where(eq(courses.id, what.courseId));
    await tx
      .update(classes)
      .set({ removedAt: null })
      .where(and(inArray(classes.id, those.classIds), eq(classes.removedAt, removedAt)));
    await tx
      .update(grants)
      .set({ takenBackAt: null, takenBackBy: null })
      .where(and(handedTo(those), eq(grants.takenBackAt, removedAt)));
  });
}
