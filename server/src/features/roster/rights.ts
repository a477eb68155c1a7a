import type { Queries } from '../../db/database.ts';
import { classesOfYear } from '../../domain/courses.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';

/** Whether a class of this code may be made in the year. */
export async function refuseCodeTaken(db: Queries, yearId: string, code: string, except?: string) {
  const taken = await classesOfYear(db, yearId);
  if (taken.some((c) => c.id !== except && c.code.toLowerCase() === code.toLowerCase()))
    throw new AppError('code-taken', { faults: [{ field: 'code', fault: code }] });
}

/** Who is noted as having put somebody into a class, or made their account: nobody where it was the office. */
export const noted = ({ kind, id }: SignedIn) => (kind === 'office' ? null : id);
