import { CarryPlan } from '@sammlung/contract';
import { sql } from 'drizzle-orm';
import { rows, type Queries } from '../../db/database.ts';
import { active } from '../../domain/people.ts';
import type { SignedIn } from '../../platform/sessions.ts';

/** What was asked for, out of its record. */
export const parsePlan = (plan: unknown): CarryPlan => CarryPlan.parse(plan);

/** Whoever asked for it, as far as they may still come in: what is done later is done by the rights that they have then. */
export async function personOf(db: Queries, id: string): Promise<SignedIn | null> {
  const [found] = await rows<SignedIn & Record<string, unknown>>(
    db,
    sql`select p.id, p.name, p.kind, p.school_id as "schoolId", s.name as "schoolName", s.time_zone as "timeZone", s.sample, p.language,
        '' as "sessionId"
      from people p join schools s on s.id = p.school_id where p.id = ${id}::uuid and ${active(sql`p`)}`,
  );
  return found ?? null;
}
