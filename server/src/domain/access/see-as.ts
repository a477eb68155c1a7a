import { and, eq, inArray, isNull, sql } from 'drizzle-orm';
import { at as instant, type Queries } from '../../db/database.ts';
import { classes, doors, folders, items, people } from '../../db/schema/index.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Viewer } from './access-sql.ts';

/**
 * The viewer for a teacher who sees their own things as somebody else: `class.<id>`, `person.<id>`, or `visitor` with
 * all of the teacher's public doors. Never more than what is the teacher's own. Throws `not-found` for whoever is not
 * of this school.
 */
export async function viewerAs(
  db: Queries,
  teacher: SignedIn,
  as: string,
  at: number,
): Promise<Viewer> {
  if (teacher.kind === 'student') throw new AppError('not-found');
  const only = teacher.id;
  if (as === 'visitor') {
    const open = await db
      .select({ id: doors.id })
      .from(doors)
      .leftJoin(folders, eq(folders.id, doors.folderId))
      .leftJoin(items, eq(items.id, doors.itemId))
      .where(
        and(
          eq(doors.kind, 'public'),
          isNull(doors.closedAt),
          sql`coalesce(${folders.ownerId}, ${items.ownerId}) = ${only}::uuid`,
          sql`(${doors.untilAt} is null or ${doors.untilAt} > ${instant(at)})`,
        ),
      );
    return { personId: null, doorIds: open.map((d) => d.id), at, only };
  }
  const [kind, id] = as.split('.') as ['class' | 'person', string];
  const table = kind === 'class' ? classes : people;
  const [known] = await db
    .select({ id: table.id })
    .from(table)
    .where(and(inArray(table.id, [id]), eq(table.schoolId, teacher.schoolId)));
  if (!known || id === teacher.id) throw new AppError('not-found');
  return kind === 'class'
    ? { personId: null, doorIds: [], at, asClass: id, only }
    : { personId: id, doorIds: [], at, only };
}
