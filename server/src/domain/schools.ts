import type { ReachLevel } from '@sammlung/contract';
import { eq, sql } from 'drizzle-orm';
import { at, ms, rows, type Queries } from '../db/database.ts';
import { schools } from '../db/schema/index.ts';

/** Makes a school. Resolves to its id. */
export async function addSchool(
  tx: Queries,
  school: Pick<typeof schools.$inferInsert, 'name' | 'timeZone' | 'language'>,
): Promise<string> {
  const [made] = await tx.insert(schools).values(school).returning({ id: schools.id });
  return made!.id;
}

/** What a school is called, its language and its time zone. */
export async function schoolFacts(db: Queries, id: string) {
  const [found] = await db
    .select({ name: schools.name, language: schools.language, timeZone: schools.timeZone })
    .from(schools)
    .where(eq(schools.id, id));
  return found!;
}

/** Gives a school another name or language. */
export async function changeSchool(
  db: Queries,
  id: string,
  facts: Pick<typeof schools.$inferInsert, 'name' | 'language'>,
): Promise<void> {
  await db.update(schools).set(facts).where(eq(schools.id, id));
}

/** Whether there is a school besides the sample. */
export async function hasSchool(db: Queries): Promise<boolean> {
  const found = await db.select({ id: schools.id }).from(schools).where(eq(schools.sample, false));
  return found.length > 0;
}

/** The id of the sample school; null where it is not there. */
export async function sampleId(db: Queries): Promise<string | null> {
  const [found] = await db.select({ id: schools.id }).from(schools).where(eq(schools.sample, true));
  return found?.id ?? null;
}

/** The first account of the office of the real school that is in use; null where there is none. What is done by command is done for it. */
export async function firstOffice(db: Queries) {
  const [found] = await rows<{ id: string; kind: 'office'; schoolId: string; timeZone: string }>(
    db,
    sql`select p.id, p.kind, s.id as "schoolId", s.time_zone as "timeZone"
      from schools s join people p on p.school_id = s.id and p.kind = 'office' and p.deactivated_at is null
      where not s.sample order by s.created_at, p.created_at, p.id limit 1`,
  );
  return found ?? null;
}

/** Lets nobody else begin a school, until the transaction ends. */
export async function lockSchools(tx: Queries): Promise<void> {
  await tx.execute(sql`lock table schools in share row exclusive mode`);
}

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

/** The schools whose openings have not been put together by day until today, each with until when they have been, and its time zone. */
export async function schoolsToPack(db: Queries, t: number) {
  return rows<{ id: string; timeZone: string; from: number | null; until: number }>(
    db,
    sql`select id, time_zone as "timeZone", ${ms(schools.openingsPackedUntil)} as "from", ${ms(sql`today`)} as until
      from schools cross join lateral (select date_trunc('day', ${at(t)} at time zone time_zone) at time zone time_zone as today) x
      where openings_packed_until is null or openings_packed_until < today`,
  );
}

export async function notePacked(tx: Queries, schoolId: string, until: number): Promise<void> {
  await tx
    .update(schools)
    .set({ openingsPackedUntil: new Date(until) })
    .where(eq(schools.id, schoolId));
}
