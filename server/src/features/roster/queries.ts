import type { AskedToJoin, Courses, JoinAnswer, JoinRequests, Member } from '@sammlung/contract';
import type { KnownPerson } from '@sammlung/core';
import { and, eq, inArray, isNull, sql, type SQL } from 'drizzle-orm';
import { at, iso, ms, rows, uuids, type Queries } from '../../db/database.ts';
import { joinRequests, memberships, people } from '../../db/schema/index.ts';
import { lasting } from '../../domain/memberships.ts';
import { isActive, mailLanguage } from '../../domain/people.ts';
import { inSpan, notOver } from '../../domain/spans.ts';
import { chunks } from '../../platform/chunks.ts';
import type { SignedIn } from '../../platform/sessions.ts';

/** Whether the person manages a course: teachers their own, the office all. */
const managesCourse = (person: SignedIn, courseId: SQL) =>
  sql`(${person.kind === 'office'} or exists (select from course_teachers x
    where x.course_id = ${courseId} and x.person_id = ${person.id}::uuid))`;

/** An account of a student, as far as changing it is concerned. */
export interface Account extends Record<string, unknown> {
  readonly id: string;
  readonly name: string;
  readonly email: string | null;
  /** Whether its owner has chosen a password: nobody else changes its name, address or password then. */
  readonly inUse: boolean;
  /**
   * Whether the person may take it into a class, and change it while it is not in use: the office may, whoever made it,
   * and the teachers of a class into which the office put it.
   */
  readonly managed: boolean;
}

/** The accounts of students of the person's school among these ids. */
export async function accountsOf(
  db: Queries,
  person: SignedIn,
  ids: readonly string[],
): Promise<Map<string, Account>> {
  const found = await rows<Account>(
    db,
    sql`select p.id, p.name, p.email,
        exists (select from credentials d where d.user_id = p.id and d.provider_id = 'credential' and d.password is not null) as "inUse",
        p.deactivated_at is null and (${person.kind === 'office'} or coalesce(p.made_by = ${person.id}::uuid, false) or exists (
          select from memberships m join classes c on c.id = m.class_id join courses k on k.id = c.course_id
            join years y on y.id = k.year_id join course_teachers x on x.course_id = k.id
          where m.person_id = p.id and m.added_by is null and x.person_id = ${person.id}::uuid
            and y.closed_at is null and c.removed_at is null and k.removed_at is null)) as managed
      from people p
      where p.id = any (${uuids(ids)}) and p.school_id = ${person.schoolId}::uuid and p.kind = 'student'`,
  );
  return new Map(found.map((account) => [account.id, account]));
}

/** What is handed out to classes and courses. */
export function handedOutTo(
  db: Queries,
  classIds: readonly string[],
  courseIds: readonly string[],
) {
  return rows<{ folderId: string | null; itemId: string | null }>(
    db,
    sql`select folder_id as "folderId", item_id as "itemId" from grants
      where taken_back_at is null and (class_id = any (${uuids(classIds)}) or course_id = any (${uuids(courseIds)}))`,
  );
}

/** Those of these people who belong to a class now or later. */
export function lastingMembers(tx: Queries, classId: string, ids: readonly string[], t: number) {
  return tx
    .select({
      id: people.id,
      name: people.name,
      email: people.email,
      signInName: people.signInName,
      language: mailLanguage(sql`people`),
    })
    .from(memberships)
    .innerJoin(people, eq(people.id, memberships.personId))
    .where(
      sql`${memberships.classId} = ${classId}::uuid and ${inArray(people.id, [...ids])}
        and ${lasting(t)}`,
    )
    .groupBy(people.id)
    .orderBy(people.name);
}

/** Somebody who is to be asked, and from when until when they would belong to the class. */
export interface Joining {
  readonly personId: string;
  readonly fromAt: Date | null;
  readonly untilAt: Date | null;
}

/** Asks people to join a class; whoever has been asked already is not asked again. Returns the new requests. */
export async function askToJoin(
  tx: Queries,
  person: SignedIn,
  classId: string,
  asked: readonly Joining[],
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

/** The requests that a person may answer and nobody has answered, the oldest first. */
export function requestsToAnswer(db: Queries, person: SignedIn) {
  return rows<JoinRequests['requests'][number]>(
    db,
    sql`select r.id, p.name, b.name as "askedBy", c.code, c.colour, k.title as course, ${iso(sql`r.created_at`)} as "askedAt"
      from ${answerable(person)} and r.answer is null
      order by r.created_at, p.name collate natural_order limit 200`,
  );
}

/** A request to join; null where there is none. */
export async function joinRequestById(db: Queries, id: string) {
  const [found] = await db.select().from(joinRequests).where(eq(joinRequests.id, id));
  return found ?? null;
}

/** A request that the person may answer, answered or not, locked until the transaction ends. */
export async function lockAnswerable(tx: Queries, person: SignedIn, id: string) {
  const found = await rows(
    tx,
    sql`select r.id from ${answerable(person)} and r.id = ${id}::uuid for update of r`,
  );
  return found.length > 0 ? joinRequestById(tx, id) : null;
}

/** Notes how somebody answered a request to join. */
export async function answerJoinRequest(
  tx: Queries,
  id: string,
  { answer, by, t }: { answer: JoinAnswer['answer']; by: string; t: number },
): Promise<void> {
  await tx
    .update(joinRequests)
    .set({ answer, answeredBy: by, answeredAt: new Date(t) })
    .where(eq(joinRequests.id, id));
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

/** The courses of open years that the person manages, with their classes. */
export function coursesManaged(db: Queries, person: SignedIn, t: number) {
  return rows<Courses['courses'][number]>(
    db,
    sql`select k.id, k.title, k.colour, k.year_id as "yearId",
        coalesce((select json_agg(json_build_object('id', p.id, 'name', p.name) order by p.name)
          from course_teachers ct join people p on p.id = ct.person_id where ct.course_id = k.id), '[]') as teachers,
        coalesce((select json_agg(x order by x.code) from (
          select c.id, c.code, c.colour, count(distinct m.person_id)::int as students,
            count(distinct m.person_id) filter (where exists (
              select from credentials d where d.user_id = m.person_id and d.password is not null))::int as ready,
            (select count(*)::int from grants g where g.taken_back_at is null and g.folder_id is not null
              and (g.class_id = c.id or g.course_id = k.id)) as folders
          from classes c left join memberships m on m.class_id = c.id
            and ${inSpan(sql`m`, at(t))} and ${isActive(sql`m.person_id`)}
          where c.course_id = k.id and c.removed_at is null group by c.id) x), '[]') as classes
      from courses k join years y on y.id = k.year_id
      where k.school_id = ${person.schoolId}::uuid and y.closed_at is null and k.removed_at is null and ${managesCourse(person, sql`k.id`)}
      order by k.title collate natural_order`,
  );
}

/** Everybody who teaches at a school. */
export function teachersOf(db: Queries, schoolId: string) {
  return db
    .select({ id: people.id, name: people.name })
    .from(people)
    .where(
      and(eq(people.schoolId, schoolId), eq(people.kind, 'teacher'), isNull(people.deactivatedAt)),
    )
    .orderBy(people.name);
}

/** Who belongs, belonged or will belong to a class, and to which others of its course. */
export function membersOf(db: Queries, classId: string, courseId: string, t: number) {
  return rows<Omit<Member, 'managed'> & Record<string, unknown>>(
    db,
    sql`select m.id as "membershipId", p.id as "personId", p.name, p.email, p.sign_in_name as "signInName",
        ${iso(sql`m.from_at`)} as "from", ${iso(sql`m.until_at`)} as until,
        case when m.until_at <= ${at(t)} then 'left' when m.from_at > ${at(t)} then 'later' else 'now' end as state,
        case when p.deactivated_at is not null then 'ended'
          when exists (select from credentials d where d.user_id = p.id and d.password is not null) then 'ready'
          when exists (select from mails l where l.person_id = p.id and l.kind = 'invitation') then 'invited'
          else 'none' end as access,
        coalesce((select json_agg(distinct c.code) from memberships o join classes c on c.id = o.class_id
          where o.person_id = p.id and c.course_id = ${courseId}::uuid and c.id <> m.class_id and c.removed_at is null
            and ${notOver(sql`o`, at(t))}), '[]') as "otherClasses"
      from memberships m join people p on p.id = m.person_id
      where m.class_id = ${classId}::uuid
      order by m.until_at <= ${at(t)} nulls first, p.name collate natural_order, m.from_at`,
  );
}

type Known = Record<string, unknown> & KnownPerson & { membershipId: string | null };

/** Everybody at the school to whom a row could refer, all members, and which addresses belong to other schools. */
export async function knownFor(
  db: Queries,
  schoolId: string,
  classId: string,
  courseId: string,
  list: readonly {
    name: string;
    email: string | null;
    signInName: string | null;
    externalId: string | null;
  }[],
  t: number,
) {
  const texts = (values: readonly (string | null)[]) =>
    sql`${sql.param([...new Set(values.filter((v) => v !== null))])}::text[]`;
  const lower = (values: readonly (string | null)[]) =>
    texts(values.map((v) => v?.toLowerCase() ?? null));
  const known = await rows<Known>(
    db,
    sql`select p.id, p.name, p.kind, p.email, p.sign_in_name as "signInName", p.external_id as "externalId",
        m.id is not null as member, m.id as "membershipId",
        coalesce((select json_agg(distinct c.code) from memberships o join classes c on c.id = o.class_id
          where o.person_id = p.id and c.course_id = ${courseId}::uuid and c.id <> ${classId}::uuid and c.removed_at is null
            and ${notOver(sql`o`, at(t))}), '[]') as "otherClasses"
      from people p left join lateral (
        select m.id from memberships m where m.person_id = p.id and m.class_id = ${classId}::uuid
          and ${notOver(sql`m`, at(t))} order by m.from_at nulls first limit 1) m on true
      where p.school_id = ${schoolId}::uuid and (m.id is not null
        or lower(p.email) = any (${lower(list.map((r) => r.email))})
        or lower(p.sign_in_name) = any (${lower(list.map((r) => r.signInName))})
        or p.external_id = any (${texts(list.map((r) => r.externalId))})
        or lower(p.name) = any (${lower(list.map((r) => r.name))}))`,
  );
  const emails = list.flatMap(({ email }) => email?.toLowerCase() ?? []);
  return { known, elsewhere: await emailsElsewhere(db, schoolId, emails) };
}

/** Which of these addresses people of other schools have, in lower case. */
export async function emailsElsewhere(
  db: Queries,
  schoolId: string,
  emails: readonly string[],
): Promise<ReadonlySet<string>> {
  const found = await rows<{ email: string }>(
    db,
    sql`select lower(email) as email from people
      where school_id <> ${schoolId}::uuid and lower(email) = any (${sql.param([...emails])}::text[])`,
  );
  return new Set(found.map(({ email }) => email));
}

/** The courses of a year that a person manages, their classes, people and enrolments, each as a row of a roster. */
export function rosterRows(db: Queries, person: SignedIn, yearId: string, t: number) {
  const mine = sql`select k.id, coalesce(k.external_id, k.id::text) as name, k.title from courses k
    where k.year_id = ${yearId}::uuid and k.removed_at is null and ${managesCourse(person, sql`k.id`)}`;
  return rows<{
    kind: string;
    a: string;
    b: string;
    c: string | null;
    d: string | null;
    staff: boolean | null;
    from: number | null;
    until: number | null;
  }>(
    db,
    sql`with mine as materialized (${mine}),
      rooms as materialized (
        select c.id, coalesce(c.external_id, c.id::text) as name, c.code, mine.name as course, mine.id as course_id
        from mine join classes c on c.course_id = mine.id and c.removed_at is null),
      members as (
        select rooms.name as room, m.person_id, 'student' as role, m.from_at, m.until_at from rooms join memberships m on m.class_id = rooms.id
          where ${notOver(sql`m`, at(t))}
        union all
        select rooms.name, ct.person_id, 'teacher', null, null from rooms join course_teachers ct on ct.course_id = rooms.course_id)
      select 'course' as kind, name as a, title as b, null as c, null as d, null::boolean as staff, null::float8 as "from", null::float8 as until from mine
      union all select 'class', name, code, course, null, null, null, null from rooms
      union all select 'person', coalesce(p.external_id, p.id::text), p.name, p.email, p.sign_in_name, p.kind <> 'student', null, null
        from people p where p.id in (select person_id from members)
      union all select 'enrollment', room, coalesce(p.external_id, p.id::text), role, null, null,
          ${ms(sql`from_at`)}, ${ms(sql`until_at`)} from members join people p on p.id = members.person_id`,
  );
}
