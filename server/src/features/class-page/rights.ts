import type { Queries } from '../../db/database.ts';
import { headingById, type Heading } from '../../domain/class-pages.ts';
import { requireTaughtClass } from '../../domain/managed.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';

/** A heading on the page of a class that the person teaches. Throws `not-found`. */
export async function ownHeading(
  db: Queries,
  person: SignedIn,
  id: string,
  state: 'there' | 'removed' = 'there',
): Promise<Heading> {
  const heading = await headingById(db, id);
  if (!heading || (heading.removedAt === null) !== (state === 'there'))
    throw new AppError('not-found');
  await requireTaughtClass(db, person, heading.classId);
  return heading;
}
