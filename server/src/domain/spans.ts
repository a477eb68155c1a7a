import { sql, type SQL } from 'drizzle-orm';
import { AppError } from '../platform/errors.ts';

/** Whether the instant `t` is in the span of `row`: from its `from_at` on, before its `until_at`; null is no bound. */
export function inSpan(row: SQL, t: SQL): SQL {
  return sql`((${row}.from_at is null or ${row}.from_at <= ${t}) and ${notOver(row, t)})`;
}

/** Whether the span of `row` has not ended at the instant `t`: it is on, or will be. */
export function notOver(row: SQL, t: SQL): SQL {
  return sql`(${row}.until_at is null or ${t} < ${row}.until_at)`;
}

/** Throws `ends-before-start` where an end, as the API writes instants or days, is not after the beginning. */
export function refuseEndBeforeStart({
  from,
  until,
}: {
  from: string | null;
  until: string | null;
}) {
  if (from !== null && until !== null && Date.parse(until) <= Date.parse(from))
    throw new AppError('ends-before-start');
}
