import type { Colour, Merging, PersonRow } from '@sammlung/contract';
import { and, eq, inArray, isNull, sql } from 'drizzle-orm';
import { jsonArray, jsonObject } from '../../db/json-sql.ts';
import { rows, type Queries } from '../../db/database.ts';
import { people } from '../../db/schema/index.ts';
import { active, mailLanguage } from '../../domain/people.ts';

/** Which people are asked for. */
export interface Wanted {
  readonly words: readonly string[];
  readonly kind?: PersonRow['kind'] | undefined;
  /** Those who cannot come in any more, in place of all others. */
  readonly ended: boolean;
  /** The last person of the page before. */
  readonly after?: string | undefined;
  readonly limit: number;
}

const CARD = jsonObject([
  ['id', 'word', sql`x.id`],
  ['label', 'text', sql`x.label`],
  ['colour', 'word', sql`x.colour`],
]);

/** A person `p` as the office sees them. */
const PERSON = sql`p.id, p.kind, p.name, p.email, p.sign_in_name as "signInName",
  case when p.deactivated_at is not null then 'ended'
    when exists (select from credentials d where d.user_id = p.id and d.provider_id = 'credential' and d.password is not null) then 'ready'
    when exists (select from credentials d where d.user_id = p.id and d.password is not null) then 'first'
    when exists (select from mails l where l.person_id = p.id and l.kind = 'invitation') then 'invited'
    else 'none' end as access, p.two_factor_enabled as "secondStep", (
  select ${jsonArray(CARD, sql`x.label`)} from (
    select c.id, c.code as label, c.colour from memberships m join classes c on c.id = m.class_id
      join courses k on k.id = c.course_id join years y on y.id = k.year_id
    where m.person_id = p.id and y.closed_at is null and c.removed_at is null and k.removed_at is null
      and (m.until_at is null or m.until_at > now())
    union
    select k.id, k.title, k.colour from course_teachers x join courses k on k.id = x.course_id join years y on y.id = k.year_id
    where x.person_id = p.id and y.closed_at is null and k.removed_at is null) x)::json as belongs`;

type Found = PersonRow & Record<string, unknown>;

/** People of a school by name. */
export function peopleFound(
  db: Queries,
  schoolId: string,
  { words, kind, ended, after, limit }: Wanted,
): Promise<PersonRow[]> {
  const last = sql`${after ?? null}::uuid`;
  const found = sql`lower(concat_ws(' ', p.name, p.email, p.sign_in_name, p.external_id))`;
  return rows<Found>(
    db,
    sql`select ${PERSON} from people p
      where p.school_id = ${schoolId}::uuid and p.erased_at is null and (p.deactivated_at is not null) = ${ended}
        and (${kind ?? null}::text is null or p.kind::text = ${kind ?? null}::text)
        and (${last} is null or (p.name collate natural_order, p.id) > (
          select o.name collate natural_order, o.id from people o where o.id = ${last}))
        and not exists (select from unnest(${sql.param([...words])}::text[]) w (word) where strpos(${found}, w.word) = 0)
      order by p.name collate natural_order, p.id limit ${limit}`,
  );
}

/** A person of a school; null where there is none. */
export async function personFound(
  db: Queries,
  schoolId: string,
  id: string,
): Promise<PersonRow | null> {
  const [found] = await rows<Found>(
    db,
    sql`select ${PERSON} from people p where p.school_id = ${schoolId}::uuid and p.erased_at is null and p.id = ${id}::uuid`,
  );
  return found ?? null;
}

/** Those of these people of a school who may come in, with what they come in by. */
export function activePeople(db: Queries, schoolId: string, ids: readonly string[]) {
  return db
    .select({
      id: people.id,
      name: people.name,
      email: people.email,
      signInName: people.signInName,
      language: mailLanguage(sql`people`),
      ready: sql<boolean>`exists (select from credentials d where d.user_id = people.id and d.provider_id = 'credential' and d.password is not null)`,
    })
    .from(people)
    .where(
      and(
        eq(people.schoolId, schoolId),
        inArray(people.id, [...ids]),
        isNull(people.deactivatedAt),
      ),
    )
    .orderBy(people.name);
}

/** The accounts of the office that are in use, locked until the transaction ends: so that one is left. */
export function lockOffice(tx: Queries, schoolId: string): Promise<{ id: string }[]> {
  return rows(
    tx,
    sql`select id from people where school_id = ${schoolId}::uuid and kind = 'office' and deactivated_at is null
      order by id for update`,
  );
}

/** Whether somebody has what only teachers have: things of their own, or courses. */
export async function hasLibrary(tx: Queries, personId: string): Promise<boolean> {
  const [found] = await rows<{ has: boolean }>(
    tx,
    sql`select exists (select from folders where owner_id = ${personId}::uuid)
      or exists (select from items where owner_id = ${personId}::uuid)
      or exists (select from course_teachers where person_id = ${personId}::uuid) as has`,
  );
  return found!.has;
}

/** A person of a school, locked until the transaction ends; null where there is none. */
export async function lockPerson(tx: Queries, schoolId: string, id: string) {
  const [found] = await tx
    .select()
    .from(people)
    .where(and(eq(people.schoolId, schoolId), isNull(people.erasedAt), eq(people.id, id)))
    .for('update');
  return found ?? null;
}

const OPEN_COURSE = sql`k.removed_at is null and exists (select from years y where y.id = k.year_id and y.closed_at is null)`;

/** The courses of open years that this person teaches, and nobody else who may come in. */
export function coursesTaughtAlone(db: Queries, personId: string) {
  return rows<{ id: string; label: string; colour: Colour }>(
    db,
    sql`select k.id, k.title as label, k.colour from course_teachers x join courses k on k.id = x.course_id
      where x.person_id = ${personId}::uuid and ${OPEN_COURSE} and not exists (
        select from course_teachers o join people p on p.id = o.person_id
        where o.course_id = k.id and o.person_id <> x.person_id and ${active(sql`p`)})
      order by k.title collate natural_order, k.id`,
  );
}

/** How many folders and items a teacher has, the Bin left out. */
export async function thingsOf(db: Queries, personId: string) {
  const [found] = await rows<{ folders: number; items: number }>(
    db,
    sql`select (select count(*)::int from folders f where f.owner_id = ${personId}::uuid and not exists (
          select from folders b where b.id = any (f.path) and b.binned_at is not null)) as folders,
        (select count(*)::int from items i where i.owner_id = ${personId}::uuid and exists (
          select from placements p where p.item_id = i.id and p.binned_at is null)) as items`,
  );
  return found!;
}

/** What becomes of one record of a person when it is merged into another. */
export async function mergingOf(db: Queries, from: string, to: string): Promise<Merging> {
  const own = (id: string) => sql`${id}::uuid`;
  const signIn = (id: string) =>
    sql`(select coalesce(email, sign_in_name) from people where id = ${own(id)})`;
  const password = (id: string) =>
    sql`exists (select from credentials where user_id = ${own(id)} and provider_id = 'credential')`;
  const slip = (id: string) =>
    sql`exists (select from credentials where user_id = ${own(id)} and provider_id = 'start')`;
  const [found] = await rows<Merging>(
    db,
    sql`select (select count(*)::int from folders f where f.owner_id = ${own(from)}) as folders,
        (select count(*)::int from items i where i.owner_id = ${own(from)} and not exists (
          select from placements p join folders f on f.id = p.folder_id where p.item_id = i.id and f.in_place)) as items,
        array(select c.code from classes c where c.removed_at is null
          and exists (select from memberships m where m.class_id = c.id and m.person_id = ${own(from)} and (m.until_at is null or m.until_at > now()))
          and exists (select from memberships m where m.class_id = c.id and m.person_id = ${own(to)} and (m.until_at is null or m.until_at > now()))
          order by c.code collate natural_order) as classes,
        (select count(*)::int from places g join places s on s.box_id = g.box_id and s.person_id = ${own(to)}
          where g.person_id = ${own(from)} and exists (select from placements p join folders f on f.id = p.folder_id where f.path[1] = g.folder_id)
            and exists (select from placements p join folders f on f.id = p.folder_id where f.path[1] = s.folder_id)) as boxes,
        coalesce(${signIn(to)}, ${signIn(from)}) as "signIn",
        case when ${password(to)} then 'own' when ${password(from)} or ${slip(from)} then 'other' when ${slip(to)} then 'own' else 'none' end as password,
        (select count(*) = 2 from people where id in (${own(from)}, ${own(to)}) and external_id is not null) as listed`,
  );
  return found!;
}

/** How many levels the library of a teacher has, the Bin too. */
export async function deepestFolder(tx: Queries, ownerId: string): Promise<number> {
  const [found] = await rows<{ levels: number }>(
    tx,
    sql`select coalesce(max(cardinality(path)), 0) as levels from folders where owner_id = ${ownerId}::uuid`,
  );
  return found!.levels;
}

/** Whether nothing is in a folder, not even something that is in the Bin. */
export async function folderIsEmpty(tx: Queries, id: string): Promise<boolean> {
  const [found] = await rows<{ empty: boolean }>(
    tx,
    sql`select not exists (select from folders where parent_id = ${id}::uuid)
      and not exists (select from placements where folder_id = ${id}::uuid) as empty`,
  );
  return found!.empty;
}
