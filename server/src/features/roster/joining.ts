import type { JoinAnswer, JoinRequests } from '@sammlung/contract';
import { addMemberships, lastingIn } from '../../domain/memberships.ts';
import { requireManagedClass } from '../../domain/managed.ts';
import { changesBy } from '../../domain/log.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import {
  answerJoinRequest,
  joinRequestById,
  lockAnswerable,
  requestsToAnswer,
  withdrawRequests,
} from './queries.ts';

/** What waits for the person's answer: a student's own requests, all of the school for the office. */
export async function requestsFor(
  { db }: Pick<Services, 'db'>,
  person: SignedIn,
): Promise<JoinRequests> {
  if (person.kind === 'teacher') return { requests: [] };
  const requests = await requestsToAnswer(db, person);
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
    await changesBy(tx, person, t);
    const request = await lockAnswerable(tx, person, requestId);
    if (!request) throw new AppError('not-found');
    if (request.answer !== null) throw new AppError('answered-already');
    await answerJoinRequest(tx, requestId, { answer, by: person.id, t });
    if (answer === 'no') return;
    const { schoolId, classId, personId, untilAt, askedBy } = request;
    const members = await lastingIn(tx, [classId], t);
    const there = members.some((m) => m.personId === personId);
    if (there || (untilAt && untilAt.getTime() <= t)) return;
    const fromAt = request.fromAt ?? new Date(t);
    const addedBy = person.kind === 'office' ? null : askedBy;
    await addMemberships(tx, [{ schoolId, classId, personId, fromAt, untilAt, addedBy }]);
  });
}

/** Withdraws a request that nobody has answered. For those who run its class. */
export async function withdrawRequest(
  { db }: Pick<Services, 'db'>,
  person: SignedIn,
  requestId: string,
): Promise<void> {
  await db.transaction(async (tx) => {
    const request = await joinRequestById(tx, requestId);
    if (!request) throw new AppError('not-found');
    await requireManagedClass(tx, person, request.classId);
    await withdrawRequests(tx, request.classId, [requestId]);
  });
}
