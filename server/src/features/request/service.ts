import type { Answer, Answered, Thing, Wall } from '@sammlung/contract';
import type { Queries } from '../../db/database.ts';
import { viewerOf } from '../../domain/access/viewer.ts';
import { putGrants } from '../../domain/grants.ts';
import { AppError } from '../../platform/errors.ts';
import { addDoor, changeDoor, publicDoorTo } from '../../domain/doors.ts';
import {
  answerRequest,
  askingOf,
  askToSee,
  reopenRequest,
  targetOf,
  type Wanted,
} from '../../domain/requests.ts';
import { newToken } from '../../platform/tokens.ts';
import type { Services } from '../../services.ts';
import { atAddress, belongsTo, requestTo, type AtAddress, type RequestTo } from './queries.ts';
import type { SignedIn } from '../../platform/sessions.ts';

type Needs = Pick<Services, 'db' | 'now'>;

/** What lies at a school address, when it lies in the same school and not in the Bin. Throws `not-found`. */
async function behindAddress(
  db: Queries,
  person: SignedIn,
  { kind, id }: Thing,
  t: number,
): Promise<AtAddress> {
  const found = await atAddress(db, viewerOf(person, t), person.schoolId, { kind, id });
  if (!found || found.ownerId === person.id) throw new AppError('not-found');
  return found;
}

/** What the wall at a school address says to somebody who has signed in: never a title. */
export async function wallAt({ db, now }: Needs, person: SignedIn, thing: Thing): Promise<Wall> {
  const found = await behindAddress(db, person, thing, now());
  return {
    schoolName: person.schoolName,
    ownerName: found.ownerName,
    forWhom: found.forWhom ?? [],
    later: found.mine,
    ask: await askingOf(db, person.id, found),
  };
}

export async function request(
  { db, now }: Needs,
  person: SignedIn,
  thing: Thing,
  message: string,
): Promise<void> {
  const t = now();
  await askToSee(db, person, await behindAddress(db, person, thing, t), message, t);
}

/**
 * Answers a request once: hands out to the person, or to a class of theirs, or says no; a visitor gets a link. The answer
 * goes by mail.
 */
export async function answer(
  { db, now, post }: Needs & Pick<Services, 'post'>,
  person: SignedIn,
  requestId: string,
  asked: Answer,
): Promise<Answered> {
  const t = now();
  const answered = await db.transaction(async (tx) => {
    const found = await requireRequest(tx, person, requestId);
    if (found.answer !== null) throw new AppError('answered-already');
    await answerRequest(tx, requestId, { answer: asked.answer, by: person.id, t });
    const given = await give(tx, person, found, asked, t);
    if (found.email !== null) {
      const words = post.words(found.language).answer;
      const no = asked.answer === 'no';
      const mail = {
        ...(found.personId === null
          ? { toName: found.visitorName, toEmail: found.email }
          : { personId: found.personId }),
        ...{ schoolId: person.schoolId, kind: 'answer' as const },
        subject: words.subject(person.name),
        body: no ? words.no(person.name) : words.yes(found.title, person.name),
        path: no ? null : (given.path ?? found.path),
      };
      await post.queue(tx, [mail], t);
    }
    return { made: given.made, changed: given.changed, doorId: given.doorId };
  });
  await post.soon();
  return answered;
}

/** How long a door stays open that is opened for somebody who asked. */
const DOOR_DAYS = 30;

/** What an answer gives, and for Undo what was made of it. Throws `audience-unknown` where it would give them nothing. */
async function give(tx: Queries, person: SignedIn, found: RequestTo, asked: Answer, t: number) {
  const nothing = { made: [], changed: [], doorId: null, path: null };
  if (asked.answer === 'no') return nothing;
  // Who has no account gets a link, and nobody else.
  if ((asked.answer === 'link') !== (found.personId === null))
    throw new AppError('audience-unknown');
  if (found.personId === null) return { ...nothing, ...(await openFor(tx, person, found, t)) };
  // Of any other class they would get nothing by it.
  if (asked.answer === 'class' && !(await belongsTo(tx, asked.classId, found.personId, t)))
    throw new AppError('audience-unknown');
  const audience =
    asked.answer === 'class'
      ? { kind: 'class' as const, id: asked.classId }
      : { kind: 'person' as const, id: found.personId };
  const terms = { level: 'view' as const, from: null, until: null };
  const { made, changed } = await putGrants(
    tx,
    [{ ...found, schoolId: person.schoolId }],
    [audience],
    terms,
    { personId: person.id, t },
  );
  return { ...nothing, made, changed };
}

/** The public door to what was asked for, opened for a month where there is none. */
async function openFor(tx: Queries, person: SignedIn, wanted: Wanted, t: number) {
  const there = await publicDoorTo(tx, wanted);
  if (there && (there.untilAt === null || there.untilAt.getTime() > t))
    return { doorId: null, path: `/open/${there.token}` };
  if (there) await changeDoor(tx, there.id, { closedAt: new Date(t) });
  const door = await addDoor(tx, {
    ...targetOf(wanted),
    ...{ schoolId: person.schoolId, kind: 'public', token: newToken(), createdBy: person.id },
    ...{ createdAt: new Date(t), untilAt: new Date(t + DOOR_DAYS * 86_400_000) },
  });
  return { doorId: door.id, path: `/open/${door.token}` };
}

/** Undo of an answer: the request waits again. The handing out is taken back by itself. */
export async function reopen({ db }: Needs, person: SignedIn, requestId: string) {
  await db.transaction(async (tx) => {
    await requireRequest(tx, person, requestId);
    await reopenRequest(tx, requestId);
  });
}

async function requireRequest(tx: Queries, person: SignedIn, requestId: string) {
  const found = await requestTo(tx, person.id, requestId);
  if (!found) throw new AppError('not-found');
  return found;
}
