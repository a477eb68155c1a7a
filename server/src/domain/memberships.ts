import { startOfDay } from '@sammlung/core';
import { and, eq, inArray, sql } from 'drizzle-orm';
import { at, toDate, type Queries } from '../db/database.ts';
import { classes, memberships, people } from '../db/schema/index.ts';
import { chunks } from '../platform/chunks.ts';
import { notOver } from './spans.ts';

/** Who belongs to which class, and when: nothing else writes it, but for the sample. */

export type Membership = typeof memberships.$inferSelect;
export type NewMembership = typeof memberships.$inferInsert;

/** Days of joining and leaving, as lists have them; null: from always, or for good. */
interface Days {
  readonly from: string | null;
  readonly until: string | null;
}

/** The instants at which these days begin at the school. */
export function spanOf({ from, until }: Days, zone: string) {
  return {
    from: from === null ? null : startOfDay(from, zone),
    until: until === null ? null : startOfDay(until, zone),
  };
}

/** The same as columns of a membership. */
export function columnsOf(days: Days, zone: string) {
  const { from, until } = spanOf(days, zone);
  return { fromAt: toDate(from), untilAt: toDate(until) };
}

/** Whether a membership is one now or will be. */
export const lasting = (t: number) => notOver(sql`${memberships}`, at(t));

/** Lets people belong to classes. Resolves to the ids of the memberships. */
export async function addMemberships(
  tx: Queries,
  those: readonly NewMembership[],
): Promise<string[]> {
  const ids: string[] = [];
  for (const chunk of chunks(those)) {
    const put = await tx.insert(memberships).values(chunk).returning({ id: memberships.id });
    ids.push(...put.map(({ id }) => id));
  }
  return ids;
}

/** Gives a membership its days, or some of them, and where `endedBy` is given notes who gave it its end. */
export async function setDays(
  tx: Queries,
  id: string,
  days: Partial<Pick<Membership, 'fromAt' | 'untilAt' | 'endedBy'>>,
): Promise<void> {
  await tx.update(memberships).set(days).where(eq(memberships.id, id));
}

/** Ends memberships at `t`; one that has not begun is moved to where it ends. */
export async function endMemberships(
  tx: Queries,
  ids: readonly string[],
  t: number,
  endedBy: string,
): Promise<void> {
  await tx
    .update(memberships)
    .set({
      untilAt: new Date(t),
      endedBy,
      fromAt: sql`case when ${memberships.fromAt} >= ${at(t)} then ${at(t - 1)} else ${memberships.fromAt} end`,
    })
    .where(inArray(memberships.id, [...ids]));
}

const ofCourse = (db: Queries, courseId: string) =>
  inArray(
    memberships.classId,
    db.select({ id: classes.id }).from(classes).where(eq(classes.courseId, courseId)),
  );

/** Removes memberships of a course without a trace: Undo of what made them. */
export async function removeMemberships(
  tx: Queries,
  courseId: string,
  ids: readonly string[],
): Promise<void> {
  for (const chunk of chunks(ids))
    await tx.delete(memberships).where(and(ofCourse(tx, courseId), inArray(memberships.id, chunk)));
}

/** Those of the memberships that are of a course. */
export function membershipsOfCourse(
  db: Queries,
  courseId: string,
  ids: readonly string[],
): Promise<Membership[]> {
  return db
    .select()
    .from(memberships)
    .where(and(ofCourse(db, courseId), inArray(memberships.id, [...ids])));
}

/** Those of the memberships that are of a class, with the names of whose they are. */
export function membershipsOfClass(
  db: Queries,
  classId: string,
  ids: readonly string[],
): Promise<{ membership: Membership; name: string }[]> {
  return db
    .select({ membership: memberships, name: people.name })
    .from(memberships)
    .innerJoin(people, eq(people.id, memberships.personId))
    .where(and(inArray(memberships.id, [...ids]), eq(memberships.classId, classId)));
}

/** A membership; null where there is none. */
export async function membershipById(db: Queries, id: string): Promise<Membership | null> {
  const [found] = await db.select().from(memberships).where(eq(memberships.id, id));
  return found ?? null;
}

/** The memberships of classes that are on at `t`, or will be; of somebody who has several the first one comes last. */
export function lastingIn(
  db: Queries,
  classIds: readonly string[],
  t: number,
): Promise<Membership[]> {
  return db
    .select()
    .from(memberships)
    .where(and(inArray(memberships.classId, [...classIds]), lasting(t)))
    .orderBy(sql`${memberships.fromAt} desc nulls last`);
}
