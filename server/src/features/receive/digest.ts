import { changePerson } from '../../domain/people.ts';
import { viewerOf } from '../../domain/access/viewer.ts';
import { unreadSince } from '../../domain/remarks.ts';
import { wallTime } from '@sammlung/core';
import type { Mail } from '../../platform/mail.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { wantingDigest, whatCame } from './queries.ts';

type Needs = Pick<Services, 'db' | 'now' | 'post'>;

const DAY_MS = 24 * 60 * 60 * 1000;
/** The hour of the school's clock at which the mails go out: after the lessons. */
const HOUR = 16;
const NAMED = 20;

/** Whether somebody gets a mail each day with what is new. */
export async function chooseDigest({ db }: Needs, person: SignedIn, digest: boolean) {
  await changePerson(db, person.id, { digest });
}

/**
 * Queues the mails of the schools where it is the hour: to each who wants one, what came in the last day and has not
 * been opened, and what has been written about their work. Nothing new, no mail; nobody gets two within half a day. Resolves to how many were queued.
 */
export async function sendDigests({ db, now, post }: Needs): Promise<number> {
  const t = now();
  const due = await wantingDigest(db, t - DAY_MS / 2);
  let queued = 0;
  for (const { zone, school, id, language, schoolId } of due) {
    if (Number(wallTime(t, zone).slice(11, 13)) !== HOUR) continue;
    const { things: came } = await whatCame(db, viewerOf({ id }, t), { limit: 100 });
    const words = post.words(language).digest;
    const fresh = came
      .read()
      .filter((thing) => Date.parse(thing.cameAt) > t - DAY_MS && !thing.opened);
    const remarks = await unreadSince(db, id, t - DAY_MS);
    const lines = [
      ...fresh.map((thing) => thing.title),
      ...remarks.map(({ title, box, remarks: n }) => words.remarks(n, title, box)),
    ];
    if (lines.length === 0) continue;
    const mail: Mail = {
      schoolId,
      kind: 'digest',
      personId: id,
      subject: lines.length === 1 ? words.one(lines[0]!) : words.many(lines.length, school),
      body: [
        ...lines.slice(0, NAMED).map((line) => `- ${line}`),
        ...(lines.length > NAMED ? [`- ${words.more(lines.length - NAMED)}`] : []),
        '',
        words.end,
      ].join('\n'),
      path: '/new',
    };
    await db.transaction((tx) => post.queue(tx, [mail], t));
    queued += 1;
  }
  if (queued > 0) await post.soon();
  return queued;
}
