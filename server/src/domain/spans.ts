import { AppError } from '../platform/errors.ts';

/** Throws `ends-before-start` where an end, as the API writes instants or days, does not lie after the beginning. */
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
