import { startOfDay } from '@sammlung/core';
import { inArray, sql } from 'drizzle-orm';
import { at, toDate, type Queries } from '../db/database.ts';
import { memberships } from '../db/schema/index.ts';

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
export const lasting = (t: number) =>
  sql`(${memberships.untilAt} is null or ${memberships.untilAt} > ${at(t)})`;

/** Ends memberships at `t`; one that has not begun is moved to where it ends. */
export async function endMemberships(
  tx: Queries,
  ids: readonly string[],
  t: number,
  endedBy: string,
) {
  await tx
    .update(memberships)
    .set({
      untilAt: new Date(t),
      endedBy,
      fromAt: sql`case when ${memberships.fromAt} >= ${at(t)} then ${at(t - 1)} else ${memberships.fromAt} end`,
    })
    .where(inArray(memberships.id, [...ids]));
}

/** How many rows one statement puts in. */
const CHUNK = 500;
export function* chunks<T>(list: readonly T[]): Generator<T[]> {
  for (let n = 0; n < list.length; n += CHUNK) yield list.slice(n, n + CHUNK);
}
