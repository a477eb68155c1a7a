import type { Answer, Answered, Thing, Wall } from '@sammlung/contract';
import type { Queries } from '../../db/database.ts';
import { viewerOf } from '../../domain/access/viewer.ts';
import { putGrants } from '../../domain/grants.ts';
import { AppError } from '../../platform/errors.ts';
import { answerRequest, askingOf, askToSee, reopenRequest } from '../../domain/requests.ts';
import type { Services } from '../../services.ts';
import { atAddress, belongsTo, requestTo, type AtAddress } from './queries.ts';
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

/** Answers a request once: hands out to the person, or to a class of theirs, or says no. The person gets a mail. */
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
    // Of any other class they would get nothing by it.
    if (asked.answer === 'class' && !(await belongsTo(tx, asked.classId, found.personId, t)))
      throw new AppError('audience-unknown');
    await answerRequest(tx, requestId, { answer: asked.answer, by: person.id, t });
    const { made, changed } =
      asked.answer === 'no'
        ? { made: [], changed: [] }
        : await putGrants(
            tx,
            [{ ...found, schoolId: person.schoolId }],
            [
              asked.answer === 'class'
                ? { kind: 'class', id: asked.classId }
                : { kind: 'person', id: found.personId },
            ],
            { level: 'view', from: null, until: null },
            { personId: person.id, t },
          );
    if (found.email !== null) {
      const words = post.words(found.language).answer;
      await post.queue(
        tx,
        [
          {
            schoolId: person.schoolId,
            kind: 'answer',
            personId: found.personId,
            subject: words.subject(person.name),
            body:
              asked.answer === 'no' ? words.no(person.name) : words.yes(found.title, person.name),
            path: asked.answer === 'no' ? null : found.path,
          },
        ],
        t,
      );
    }
    return { made, changed };
  });
  await post.soon();
  return answered;
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
