import { sql } from 'drizzle-orm';
import { rows, type Queries } from '../db/database.ts';
import type { Settings } from '../settings.ts';
import type { SignedIn } from './sessions.ts';

/** Bytes of all versions of a person's files, each content counted once, the Bin included. */
export async function usedBy(db: Queries, personId: string): Promise<number> {
  const [found] = await rows<{ used: number }>(
    db,
    sql`select coalesce(sum(size), 0)::float8 as used from (
      select distinct v.hash, v.size from items i join versions v on v.item_id = i.id
      where i.owner_id = ${personId}::uuid) contents`,
  );
  return found!.used;
}

/** Room for the files of a person, in bytes. */
export function quotaOf(settings: Settings, { kind }: Pick<SignedIn, 'kind'>): number {
  return kind === 'student' ? settings.studentQuota : settings.teacherQuota;
}
