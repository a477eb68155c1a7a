import type { AskedToJoin, JoinAnswer, JoinRequests } from '@sammlung/contract';
import { and, eq, inArray, isNull, sql } from 'drizzle-orm';
import { iso, rows, type Queries } from '../../db/database.ts';
import { joinRequests, memberships } from '../../db/schema/index.ts';
import { AppError } from '../../platform/errors.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { chunks, lasting } from '../../domain/memberships.ts';
import { requireManagedClass } from './rights.ts';

/** Somebody who is to be asked, and from when until when they would belong to the class. */
export interface Asking {
  readonly personId: string;
  readonly fromAt: Date | null;
  readonly untilAt: Date | null;
}

/** Asks people to join a class; whoever has been asked already is not asked again. Returns the new requests. */
export async function askToJoin(
  tx: Queries,
  person: SignedIn,
  classId: string,
  asked: readonly Asking[],
  t: number,
): Promise<string[]> {
  const made: string[] = [];
  for (const chunk of chunks(asked)) {
    const put = await tx
      .insert(joinRequests)
      .values(
        chunk.map((one) => ({
          ...one,
          schoolId: person.schoolId,
          classId,
          askedBy: person.id,
          createdAt: new Date(t),
        })),
      )
      .onConflictDoNothing()
      .returning({ id: joinRequests.id });
    made.push(...put.map(({ id }) => id));
  }
  return made;
}

/** Who has been asked to join a class and has not answered. */
export function openRequests(db: Queries, classId: string): Promise<AskedToJoin[]> {
  return rows<AskedToJoin>(
    db,
    sql`select r.id, p.name, ${iso(sql`r.created_at`)} as "askedAt"
      from join_requests r join people p on p.id = r.person_id
      where r.class_id = ${classId}::uuid and r.answer is null order by p.name collate natural_order`,
  );
}

/** Requests `r` that a person may answer: their own, or as the office; of classes that are there, in an open year. */
const answerable = (person: SignedIn) => sql`join_requests r join people p on p.id = r.person_id
  join people b on b.id = r.asked_by join classes c on c.id = r.class_id
  join courses k on k.id = c.course_id join years y on y.id = k.year_id
  where r.school_id = ${person.schoolId}::uuid and c.removed_at is null and k.removed_at is null and y.closed_at is null
    and (${person.kind === 'office'} or r.person_id = ${person.id}::uuid)`;

/** What waits for the person's answer: a student's own requests, all of the school for the office. */
export async function requestsFor(
  { db }: Pick<Services, 'db'>,
  person: SignedIn,
): Promise<JoinRequests> {
  if (person.kind === 'teacher') return { requests: [] };
  const requests = await rows<JoinRequests['requests'][number]>(
    db,
    sql`select r.id, p.name, b.name as "askedBy", c.code, c.colour, k.title as course, ${iso(sql`r.created_at`)} as "askedAt"
      from ${answerable(person)} and r.answer is null
      order by r.created_at, p.name collate natural_order limit 200`,
  );
  return { requests };
}

/**
 * Answers a request to join: the student themselves, or the office. Yes lets them join from now, or the day that was
 * asked for. Throws `not-found` for anybody else's, `answered-already`.
 */
export async function answerRequest(
  { db, now }: Pick<Services, 'db' | 'now'>,
  person: SignedIn,
  requestId: string,
  { answer }: JoinAnswer,
): Promise<void> {
  const t = now();
  await db.transaction(async (tx) => {
    const found = await rows(
      tx,
      sql`select r.id from ${answerable(person)} and r.id = ${requestId}::uuid for update of r`,
    );
    const [request] = await tx.select().from(joinRequests).where(eq(joinRequests.id, requestId));
    if (found.length === 0 || !request) throw new AppError('not-found');
    if (request.answer !== null) throw new AppError('answered-already');
    await tx
      .update(joinRequests)
      .set({ answer, answeredBy: person.id, answeredAt: new Date(t) })
      .where(eq(joinRequests.id, requestId));
    if (answer === 'no') return;
    const { schoolId, classId, personId, untilAt, askedBy } = request;
    const [there] = await tx
      .select({ id: memberships.id })
      .from(memberships)
      .where(and(eq(memberships.classId, classId), eq(memberships.personId, personId), lasting(t)));
    if (there || (untilAt && untilAt.getTime() <= t)) return;
    await tx.insert(memberships).values({
      schoolId,
      classId,
      personId,
      fromAt: request.fromAt ?? new Date(t),
      untilAt,
      addedBy: person.kind === 'office' ? null : askedBy,
    });
  });
}

/** Withdraws a request that nobody has answered. For those who run its class. */
export async function withdrawRequest(
  { db }: Pick<Services, 'db'>,
  person: SignedIn,
  requestId: string,
): Promise<void> {
  await db.transaction(async (tx) => {
    const [request] = await tx.select().from(joinRequests).where(eq(joinRequests.id, requestId));
    if (!request) throw new AppError('not-found');
    await requireManagedClass(tx, person, request.classId);
    await withdrawRequests(tx, request.classId, [requestId]);
  });
}

/** Withdraws those of a class's requests that nobody has answered. */
export async function withdrawRequests(
  tx: Queries,
  classId: string,
  ids: readonly string[],
): Promise<void> {
  for (const chunk of chunks(ids))
    await tx
      .delete(joinRequests)
      .where(
        and(
          eq(joinRequests.classId, classId),
          inArray(joinRequests.id, chunk),
          isNull(joinRequests.answer),
        ),
      );
}
