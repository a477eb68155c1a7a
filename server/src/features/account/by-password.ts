import type { FastifyRequest } from 'fastify';
import { AppError } from '../../platform/errors.ts';
import { countAttempt } from '../../platform/rate-limits.ts';
import { signedIn, type SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';

/** Who teaches, or works in the office: of them more is asked when they sign in, and their names are their own. */
export const isStaff = (person: SignedIn): boolean => person.kind !== 'student';

/**
 * Does something that wants the password once more: `work` resolves to null where it is wrong, which counts as a try. Throws
 * `wrong-password`, `too-many-tries`.
 */
export async function byPassword<T>(
  { hashing, rateLimits }: Pick<Services, 'hashing' | 'rateLimits'>,
  request: FastifyRequest,
  work: () => Promise<T | null>,
): Promise<T> {
  const giveBack = await countAttempt(rateLimits, `own ${signedIn(request).id}`, request.ip);
  const done = await hashing(work);
  if (done === null) throw new AppError('wrong-password');
  await giveBack();
  return done;
}
