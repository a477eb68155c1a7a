import type { DoorState } from '@sammlung/contract';
import type { FastifyRequest } from 'fastify';
import { toIso } from '../../db/database.ts';
import { viewerThrough, denialReason, doorOf, passwordGiven } from '../../domain/doors.ts';
import { askingOf, targetOf } from '../../domain/requests.ts';
import type { Services } from '../../services.ts';
import { openedBy } from './queries.ts';

/** What stands behind an address: what to open, or why not (the wall). A word about the content is never said. */
export async function resolveDoor(
  { db, now, sign }: Pick<Services, 'db' | 'now' | 'sign'>,
  token: string,
  request: Pick<FastifyRequest, 'person' | 'cookies'>,
): Promise<DoorState> {
  const t = now();
  const { person } = request;
  const found = await doorOf(db, token);
  if (!found) return { state: 'wall', reason: 'unknown', schoolName: null, from: null, ask: null };
  const { door, schoolName } = found;
  const reason = denialReason(found, person, t, passwordGiven(sign, found, request, t));
  if (reason) {
    const from = reason === 'later' ? toIso(door.fromAt) : null;
    const ask =
      person?.schoolId === door.schoolId
        ? await askingOf(db, person.id, targetOf(door))
        : askingOfVisitor(person, reason);
    return { state: 'wall', reason, schoolName, from, ask };
  }
  const seen = await openedBy(db, viewerThrough(found, person, t), door);
  if (!seen) {
    const ask = askingOfVisitor(person, 'held');
    return { state: 'wall', reason: 'held', schoolName, from: null, ask };
  }
  const takes = person?.kind === 'student' && person.schoolId === door.schoolId;
  const feed = door.kind === 'public' && door.wordHash === null;
  return { state: 'open', schoolName, ...seen, coverText: door.coverText, feed, takes };
}

/** Where somebody without an account can ask: not for a password, nor for what opens by itself. */
const askingOfVisitor = (person: unknown, reason: string) =>
  person === null && ['closed', 'ended', 'held', 'sign-in'].includes(reason)
    ? ('visitor' as const)
    : null;
