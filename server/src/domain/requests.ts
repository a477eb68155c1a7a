import type { Visitor } from '@sammlung/contract';
import { and, eq, gt, isNotNull, isNull, sql } from 'drizzle-orm';
import type { Database, Queries } from '../db/database.ts';
import { requests } from '../db/schema/index.ts';
import { AppError } from '../platform/errors.ts';
import type { SignedIn } from '../platform/sessions.ts';

/** What somebody asks to see: one of the two is null. */
export type Wanted = {
  readonly folderId: string | null;
  readonly itemId: string | null;
};

export const targetOf = ({ folderId, itemId }: Wanted): Wanted => ({ folderId, itemId });

const about = ({ folderId, itemId }: Wanted) =>
  folderId === null ? eq(requests.itemId, itemId!) : eq(requests.folderId, folderId);

/** Whether a person has asked for something already and waits for the answer. */
export async function askingOf(
  db: Queries,
  personId: string,
  wanted: Wanted,
): Promise<'may' | 'asked'> {
  const [open] = await db
    .select({ id: requests.id })
    .from(requests)
    .where(and(eq(requests.personId, personId), isNull(requests.answer), about(wanted)));
  return open ? 'asked' : 'may';
}

/** How many things one person may ask for in a day. */
const A_DAY = 10;
const DAY_MS = 24 * 60 * 60 * 1000;

/** Notes that somebody asks to see something; a second time while the first is open changes nothing. */
export async function askToSee(
  db: Database,
  person: SignedIn,
  wanted: Wanted,
  message: string,
  t: number,
): Promise<void> {
  await db.transaction(async (tx) => {
    // What one person asks for is counted one after the other.
    await tx.execute(
      sql`select pg_advisory_xact_lock(hashtextextended('requests of ' || ${person.id}::text, 0))`,
    );
    if ((await askingOf(tx, person.id, wanted)) === 'asked') return;
    const [day] = await tx
      .select({ count: sql<number>`count(*)::int` })
      .from(requests)
      .where(and(eq(requests.personId, person.id), gt(requests.createdAt, new Date(t - DAY_MS))));
    if (day!.count >= A_DAY) throw new AppError('asked-enough');
    await tx.insert(requests).values({
      ...targetOf(wanted),
      schoolId: person.schoolId,
      personId: person.id,
      message,
      createdAt: new Date(t),
    });
  });
}

/** How many requests from outside may wait for one school, and be made for one address in a day. */
const [WAITING_AT_ONCE, OF_ONE_ADDRESS] = [50, 5];

/** The same for somebody without an account. What waits is counted one after the other, so that no more come than may. */
export async function askAsVisitor(
  db: Database,
  schoolId: string,
  wanted: Wanted,
  { name, email, language }: Visitor,
  message: string,
  t: number,
): Promise<void> {
  await db.transaction(async (tx) => {
    await tx.execute(
      sql`select pg_advisory_xact_lock(hashtextextended('visitors of ' || ${schoolId}::text, 0))`,
    );
    const same = sql`lower(${requests.visitorEmail}) = lower(${email})`;
    const [known] = await tx
      .select({
        same: sql<number>`count(*) filter (where ${same} and ${requests.answer} is null and ${about(wanted)})::int`,
        waiting: sql<number>`count(*) filter (where ${requests.answer} is null)::int`,
        today: sql<number>`count(*) filter (where ${same} and ${requests.createdAt} > ${new Date(t - DAY_MS).toISOString()}::timestamptz)::int`,
      })
      .from(requests)
      .where(and(eq(requests.schoolId, schoolId), isNotNull(requests.visitorEmail)));
    if (known!.same > 0) return;
    if (known!.waiting >= WAITING_AT_ONCE || known!.today >= OF_ONE_ADDRESS)
      throw new AppError('asked-enough');
    await tx.insert(requests).values({
      ...targetOf(wanted),
      schoolId,
      ...{ visitorName: name, visitorEmail: email, visitorLanguage: language },
      ...{ message, createdAt: new Date(t) },
    });
  });
}

/** Notes how somebody answered a request. */
export async function answerRequest(
  tx: Queries,
  id: string,
  {
    answer,
    by,
    t,
  }: { answer: NonNullable<typeof requests.$inferSelect.answer>; by: string; t: number },
): Promise<void> {
  await tx
    .update(requests)
    .set({ answer, answeredBy: by, answeredAt: new Date(t) })
    .where(eq(requests.id, id));
}

/** Undoes an answer: the request waits again. */
export async function reopenRequest(tx: Queries, id: string): Promise<void> {
  await tx
    .update(requests)
    .set({ answer: null, answeredBy: null, answeredAt: null })
    .where(eq(requests.id, id));
}
