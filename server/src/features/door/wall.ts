import type { DoorState } from '@sammlung/contract';
import type { FastifyRequest } from 'fastify';
import { toIso } from '../../db/database.ts';
import {
  viewerThrough,
  denialReason,
  doorOf,
  passwordGiven,
  type FoundDoor,
} from '../../domain/doors.ts';
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
    return {
      state: 'wall',
      reason,
      schoolName,
      from,
      ask: await asking(db, found, person, reason),
    };
  }
  const website = door.classId !== null;
  const through = () => viewerThrough(db, found, person, t);
  const seen = website ? NO_THING : await openedBy(db, (await through()).viewer, door);
  if (!seen) {
    const ask = askingOfVisitor(person, 'held');
    return { state: 'wall', reason: 'held', schoolName, from: null, ask };
  }
  const takes = person?.kind === 'student' && person.schoolId === door.schoolId;
  const feed = door.kind === 'public' && door.wordHash === null;
  return { state: 'open', schoolName, ...seen, website, coverText: door.coverText, feed, takes };
}

const NO_THING = { folderId: null, placementId: null };

/** Whether somebody before the wall can ask to be let in: what is asked for is a folder or an item. */
async function asking(
  db: Services['db'],
  { door }: FoundDoor,
  person: FastifyRequest['person'],
  reason: string,
) {
  if (door.classId !== null) return null;
  return person?.schoolId === door.schoolId
    ? askingOf(db, person.id, targetOf(door))
    : askingOfVisitor(person, reason);
}

/** Where somebody without an account can ask: not for a password, nor for what opens by itself. */
const askingOfVisitor = (person: unknown, reason: string) =>
  person === null && ['closed', 'ended', 'held', 'sign-in'].includes(reason)
    ? ('visitor' as const)
    : null;
