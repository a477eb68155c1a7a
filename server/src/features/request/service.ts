import type { Answer, Answered, Language, Thing, Wall } from '@sammlung/contract';
import { eq, sql } from 'drizzle-orm';
import { at, rows, type Queries } from '../../db/database.ts';
import { notOver } from '../../domain/spans.ts';
import { requests } from '../../db/schema/index.ts';
import { viewerOf } from '../../domain/access/viewer.ts';
import { pathTo, putGrants } from '../../domain/grants.ts';
import { accessParams, waysInTable } from '../../domain/access/access-sql.ts';
import { AppError } from '../../platform/errors.ts';
import { askingOf, askToSee, type Wanted } from '../../domain/requests.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';

type Needs = Pick<Services, 'db' | 'now'>;

type Behind = Wanted & {
  ownerId: string;
  ownerName: string;
  forWhom: string[] | null;
  mine: boolean;
};

/** What lies at a school address, when it lies in the same school and not in the Bin. Throws `not-found`. */
async function behindAddress(
  db: Queries,
  person: SignedIn,
  { kind, id }: Thing,
  t: number,
): Promise<Behind> {
  const params = accessParams(viewerOf(person, t));
  const [found] = await rows<Behind>(
    db,
    sql`with ${waysInTable(params)},
      target as (
        select f.id as folder_id, null::uuid as item_id, f.path, f.owner_id from folders f
          where ${kind} = 'folder' and f.id = ${id}::uuid and f.school_id = ${person.schoolId}::uuid
        union all
        select null, p.item_id, f.path, f.owner_id from placements p join folders f on f.id = p.folder_id
          where ${kind} = 'placement' and p.id = ${id}::uuid and p.school_id = ${person.schoolId}::uuid
            and p.binned_at is null),
      handed as (
        select g.audience_kind, g.audience_id, coalesce(c.code, k.title) as label
        from target t join grants g on g.taken_back_at is null and ${notOver(sql`g`, at(t))}
            and (g.folder_id = any (t.path) or g.item_id = t.item_id)
          left join classes c on c.id = g.class_id left join courses k on k.id = g.course_id)
      select t.folder_id as "folderId", t.item_id as "itemId", t.owner_id as "ownerId", o.name as "ownerName",
        (select json_agg(distinct label) from handed where label is not null) as "forWhom",
        exists (select from handed h join ways_in on ways_in.kind = h.audience_kind::text and ways_in.id = h.audience_id) as mine
      from target t join people o on o.id = t.owner_id
      where not exists (select from folders n where n.id = any (t.path) and n.binned_at is not null)`,
  );
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
    const found = await ownRequest(tx, person, requestId);
    if (found.answer !== null) throw new AppError('answered-already');
    if (asked.answer === 'class') await refuseOtherClass(tx, asked.classId, found.personId, t);
    await tx
      .update(requests)
      .set({ answer: asked.answer, answeredBy: person.id, answeredAt: new Date(t) })
      .where(eq(requests.id, requestId));
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
    await ownRequest(tx, person, requestId);
    await tx
      .update(requests)
      .set({ answer: null, answeredBy: null, answeredAt: null })
      .where(eq(requests.id, requestId));
  });
}

type Own = Wanted & {
  personId: string;
  email: string | null;
  language: Language | null;
  answer: string | null;
  title: string;
  path: string;
};

async function ownRequest(tx: Queries, person: SignedIn, requestId: string): Promise<Own> {
  const [found] = await rows<Own>(
    tx,
    sql`select r.person_id as "personId", p.email, p.language, r.folder_id as "folderId", r.item_id as "itemId", r.answer,
        coalesce(f.title, i.title) as title,
        ${pathTo(sql`f`, sql`i`)} as path
      from requests r join people p on p.id = r.person_id
        left join folders f on f.id = r.folder_id left join items i on i.id = r.item_id
      where r.id = ${requestId}::uuid and coalesce(f.owner_id, i.owner_id) = ${person.id}::uuid for update of r`,
  );
  if (!found) throw new AppError('not-found');
  return found;
}

/** Only a class to which the person belongs now or will: of anybody else they get nothing by it. */
async function refuseOtherClass(tx: Queries, classId: string, personId: string, t: number) {
  const [member] = await rows(
    tx,
    sql`select m.id from memberships m join classes c on c.id = m.class_id
      where m.class_id = ${classId}::uuid and m.person_id = ${personId}::uuid and c.removed_at is null
        and ${notOver(sql`m`, at(t))}`,
  );
  if (!member) throw new AppError('audience-unknown');
}
