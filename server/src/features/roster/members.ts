import type { ClassList, Consequences, MembersChange, MovedToClass } from '@sammlung/contract';
import { type Membership as Belonging, type World } from '@sammlung/core';
import { toIso, type Queries } from '../../db/database.ts';
import { previewDifference } from '../../domain/access/preview-change.ts';
import { classesOfCourse } from '../../domain/courses.ts';
import {
  addMemberships,
  columnsOf,
  endMemberships,
  lastingIn,
  membershipById,
  membershipsOfClass,
  setDays,
  spanOf,
  type Membership,
} from '../../domain/memberships.ts';
import { refuseEndBeforeStart } from '../../domain/spans.ts';
import { requireManagedClass } from '../../domain/managed.ts';
import { changesBy } from '../../domain/log.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import { accountsOf, membersOf, openRequests, type Account } from './queries.ts';

import { worldOf } from './world.ts';

type Needs = Pick<Services, 'db' | 'now'>;

/** Who belongs, belonged or will belong to a class. */
export async function classList(
  { db, now }: Needs,
  person: SignedIn,
  classId: string,
): Promise<ClassList> {
  const t = now();
  const { code, colour, language, course } = await requireManagedClass(db, person, classId);
  const members = await membersOf(db, classId, course.id, t);
  const accounts = await accountsOf(
    db,
    person,
    members.map((m) => m.personId),
  );
  const siblings = (await classesOfCourse(db, course.id)).filter((c) => c.removedAt === null);
  return {
    id: classId,
    code,
    colour,
    language,
    course: { id: course.id, title: course.title },
    members: members.map((m) => ({
      ...m,
      managed: accounts.get(m.personId)?.managed ?? false,
    })),
    asked: await openRequests(db, classId),
    siblings: siblings
      .filter((c) => c.id !== classId)
      .map((c) => ({ id: c.id, code: c.code, colour: c.colour })),
  };
}

/**
 * What it would give and take if these memberships had other days, were moved to another class, or else ended now.
 * Throws `not-found` for one of another class.
 */
export async function previewMembers(
  { db, now }: Needs,
  person: SignedIn,
  classId: string,
  { memberships: membershipIds, days, to }: MembersChange,
): Promise<Consequences> {
  const t = now();
  const { course } = await requireManagedClass(db, person, classId);
  const courseId = course.id;
  if (to !== undefined) await sisterClass(db, person, { id: classId, courseId }, to);
  const concerned = (await membershipsOfClass(db, classId, membershipIds)).map(
    ({ membership }) => membership,
  );
  if (concerned.length < new Set(membershipIds).size) throw new AppError('not-found');
  const untilOf = new Map(concerned.map((m) => [m.personId, m.untilAt]));
  const { world, scope } = await worldOf(db, person.schoolId, {
    classIds: to === undefined ? [classId] : [classId, to],
    courseIds: [courseId],
  });
  const instead = (personId: string): Belonging[] => {
    if (days) return [{ classId, courseId, ...spanOf(days, person.timeZone) }];
    const until = untilOf.get(personId)?.getTime() ?? null;
    return to === undefined ? [] : [{ classId: to, courseId, from: t, until }];
  };
  const after: World = {
    ...world,
    people: world.people.map((p) =>
      untilOf.has(p.id)
        ? {
            ...p,
            memberships: [...p.memberships.filter((m) => m.classId !== classId), ...instead(p.id)],
          }
        : p,
    ),
  };
  return previewDifference(db, world, after, { schoolId: person.schoolId, words: [], scope }, t);
}

/**
 * Throws `not-allowed` when a membership that has ended would go on, unless the person manages the account, or ended it
 * themselves.
 */
export function refuseReopening(
  person: SignedIn,
  { untilAt, endedBy }: Pick<Membership, 'untilAt' | 'endedBy'>,
  account: Account | undefined,
  until: Date | null,
  t: number,
) {
  const ended = untilAt !== null && untilAt.getTime() <= t;
  const goesOn = until === null || until.getTime() > t;
  if (ended && goesOn && endedBy !== person.id && !account?.managed)
    throw new AppError('not-allowed');
}

/** Gives a membership its days, and notes who gave it its end. */
export const giveDays = (
  tx: Queries,
  person: SignedIn,
  id: string,
  days: Pick<Membership, 'fromAt' | 'untilAt'>,
) => setDays(tx, id, { ...days, endedBy: days.untilAt && person.id });

/** Other days of joining and leaving. Throws `not-allowed` as `refuseReopening` does. */
export async function changeMembership(
  { db, now }: Needs,
  person: SignedIn,
  membershipId: string,
  days: { from: string | null; until: string | null },
): Promise<void> {
  refuseEndBeforeStart(days);
  await db.transaction(async (tx) => {
    await changesBy(tx, person, now());
    const member = await requireManagedMembership(tx, person, membershipId);
    const account = (await accountsOf(tx, person, [member.personId])).get(member.personId);
    const columns = columnsOf(days, person.timeZone);
    refuseReopening(person, member, account, columns.untilAt, now());
    await giveDays(tx, person, membershipId, columns);
  });
}

/** A membership of a class that the person manages. Throws `not-found`. */
async function requireManagedMembership(tx: Queries, person: SignedIn, membershipId: string) {
  const found = await membershipById(tx, membershipId);
  if (!found) throw new AppError('not-found');
  await requireManagedClass(tx, person, found.classId);
  return found;
}

/** Another class of the same course. Throws `audience-unknown` for any other. */
async function sisterClass(
  db: Queries,
  person: SignedIn,
  from: { id: string; courseId: string },
  classId: string,
) {
  const to = await requireManagedClass(db, person, classId);
  if (from.courseId !== to.courseId || from.id === to.id) throw new AppError('audience-unknown');
  return to;
}

/** Moves somebody to another class of the course: there from now, here until now. */
export async function moveToClass(
  { db, now }: Needs,
  person: SignedIn,
  membershipId: string,
  classId: string,
): Promise<MovedToClass> {
  const t = now();
  return db.transaction(async (tx) => {
    await changesBy(tx, person, t);
    const found = await requireManagedMembership(tx, person, membershipId);
    const to = await sisterClass(
      tx,
      person,
      await requireManagedClass(tx, person, found.classId),
      classId,
    );
    const before = await endNow(tx, person, found.classId, [membershipId], t);
    const there = await currentMembers(tx, classId, t);
    if (there.has(found.personId)) return { undo: { joined: [], asked: [], before } };
    const joined = await addMemberships(tx, [
      {
        ...{ schoolId: to.schoolId, classId, personId: found.personId },
        ...{ fromAt: new Date(t), untilAt: found.untilAt, addedBy: found.addedBy },
      },
    ]);
    return { undo: { joined, asked: [], before } };
  });
}
/** The memberships of a class that are on or will be, by whose they are; of several the first one. */
export async function currentMembers(tx: Queries, classId: string, t: number) {
  return new Map((await lastingIn(tx, [classId], t)).map((m) => [m.personId, m]));
}

/** Ends memberships of a class at `t`. Returns them as they were; throws `not-found` for one of another class. */
export async function endNow(
  tx: Queries,
  person: SignedIn,
  classId: string,
  ids: readonly string[],
  t: number,
) {
  const found = await membershipsOfClass(tx, classId, ids);
  if (found.length < new Set(ids).size) throw new AppError('not-found');
  await endMemberships(tx, ids, t, person.id);
  return found.map(({ membership: m, name }) => ({
    membershipId: m.id,
    name,
    from: toIso(m.fromAt),
    until: toIso(m.untilAt),
  }));
}
