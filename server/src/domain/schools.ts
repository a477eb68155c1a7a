import type { ReachLevel } from '@sammlung/contract';
import { eq, sql } from 'drizzle-orm';
import { at, ms, type Queries } from '../db/database.ts';
import { schools } from '../db/schema/index.ts';

/** How much is told, from little to much. */
const LEVELS: readonly ReachLevel[] = ['nothing', 'numbers', 'names'];

/** What a school tells its teachers of who has opened their things, and since when. */
export interface ToldReach {
  readonly level: ReachLevel;
  readonly since: number;
}

export async function toldReach(db: Queries, schoolId: string): Promise<ToldReach> {
  const [found] = await db
    .select({ level: schools.reach, since: ms(schools.reachSince) })
    .from(schools)
    .where(eq(schools.id, schoolId));
  return { level: found!.level, since: found!.since ?? 0 };
}

/** Sets that. Where more is told than before, it begins at `t`: whoever opened something until then had been told otherwise. */
export async function setToldReach(
  db: Queries,
  schoolId: string,
  level: ReachLevel,
  t: number,
): Promise<void> {
  const less = LEVELS.slice(0, LEVELS.indexOf(level));
  await db
    .update(schools)
    .set({
      reach: level,
      reachSince: sql`case when ${schools.reach}::text = any (${sql.param([...less])}::text[]) then ${at(t)} else ${schools.reachSince} end`,
    })
    .where(eq(schools.id, schoolId));
}
