import type { Queries } from '../../db/database.ts';
import { headingById, type Heading } from '../../domain/class-pages.ts';
import { requireManagedClass } from '../../domain/managed.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';

/** A class that the person teaches, in a year that is open: they make its page. Throws `not-found`. */
export async function requireTaughtClass(db: Queries, person: SignedIn, classId: string) {
  // The office runs all classes, and teaches none.
  if (person.kind !== 'teacher') throw new AppError('not-found');
  return requireManagedClass(db, person, classId);
}

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
