import { viewerOf } from '../../domain/access/viewer.ts';
import type { NewThings } from '@sammlung/contract';
import { wallTime } from '@sammlung/core';
import { and, eq, isNotNull, sql } from 'drizzle-orm';
import { rows, type Queries } from '../../db/database.ts';
import { people, schools } from '../../db/schema/index.ts';
import type { Mail } from '../../platform/mail.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { whatCame } from './queries.ts';

type Needs = Pick<Services, 'db' | 'now' | 'post'>;

const DAY_MS = 24 * 60 * 60 * 1000;
/** The hour of the school's clock at which the mails go out: after the lessons. */
const HOUR = 16;
const NAMED = 20;

/** Whether somebody gets a mail each day with what is new. */
export async function chooseDigest({ db }: Needs, person: SignedIn, digest: boolean) {
  await db.update(people).set({ digest }).where(eq(people.id, person.id));
}

/** What stands on the page of somebody besides what came in: that choice, and how many classes they are asked to join. */
export async function ownNotes(
  db: Queries,
  personId: string | null,
): Promise<Pick<NewThings, 'digest' | 'joinRequests'>> {
  const [found] = await rows<Pick<NewThings, 'digest' | 'joinRequests'>>(
    db,
    sql`select case when p.email is not null then p.digest end as digest, (
        select count(*)::int from join_requests r where r.person_id = p.id and r.answer is null) as "joinRequests"
      from people p where p.id = ${personId}::uuid`,
  );
  return found ?? { digest: null, joinRequests: 0 };
}

/**
 * Queues the mails of the schools where it is the hour: to each who wants one, what came in the last day and has not
 * been opened. Nothing new, no mail; nobody gets two within half a day. Resolves to how many were queued.
 */
export async function sendDigests({ db, now, post }: Needs): Promise<number> {
  const t = now();
  const due = await db
    .select({
      zone: schools.timeZone,
      school: schools.name,
      id: people.id,
      language: people.language,
      schoolId: schools.id,
    })
    .from(people)
    .innerJoin(schools, eq(schools.id, people.schoolId))
    .where(
      and(
        eq(people.digest, true),
        isNotNull(people.email),
        sql`not exists (select from mails m where m.person_id = ${people.id} and m.kind = 'digest'
          and m.created_at > ${new Date(t - DAY_MS / 2).toISOString()}::timestamptz)`,
      ),
    );
  let queued = 0;
  for (const { zone, school, id, language, schoolId } of due) {
    if (Number(wallTime(t, zone).slice(11, 13)) !== HOUR) continue;
    const { things: came } = await whatCame(db, viewerOf({ id }, t), { limit: 100 });
    const fresh = came.filter((thing) => thing.cameAt > t - DAY_MS && !thing.opened);
    if (fresh.length === 0) continue;
    const words = post.words(language).digest;
    const mail: Mail = {
      schoolId,
      kind: 'digest',
      personId: id,
      subject: fresh.length === 1 ? words.one(fresh[0]!.title) : words.many(fresh.length, school),
      body: [
        ...fresh.slice(0, NAMED).map((thing) => `- ${thing.title}`),
        ...(fresh.length > NAMED ? [`- ${words.more(fresh.length - NAMED)}`] : []),
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
