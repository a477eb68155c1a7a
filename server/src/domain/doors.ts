import { timingSafeEqual } from 'node:crypto';
import type { Door } from '@sammlung/contract';
import type { ShownDoor } from '@sammlung/core';
import { and, eq, inArray, isNull, sql, type SQL } from 'drizzle-orm';
import type { FastifyReply, FastifyRequest } from 'fastify';
import { at, rows, toIso, uuids, type Queries } from '../db/database.ts';
import { classes, doors, schools, years } from '../db/schema/index.ts';
import { AppError } from '../platform/errors.ts';
import type { Services } from '../services.ts';
import type { SignedIn } from '../platform/sessions.ts';
import { visitorOf } from '../platform/visitors.ts';
import type { Viewer } from './access/access-sql.ts';
import { appearsOnWebsite } from './class-pages.ts';
import type { Wanted } from './requests.ts';
import { inSpan } from './spans.ts';

export type DoorRow = typeof doors.$inferSelect;

/** The address of a door in the browser. */
export function doorAddress(base: string, token: string): string {
  return `${base}/open/${token}`;
}

/** A door as whoever manages what lies behind it sees it. */
export function doorView(base: string, door: DoorRow): Door {
  return {
    id: door.id,
    kind: door.kind,
    address: doorAddress(base, door.token),
    shortAddress: door.shortAddress && `${base}/at/${door.shortAddress}`,
    until: toIso(door.untilAt),
    hasWord: door.wordHash !== null,
    coverText: door.coverText,
    listed: door.listed,
  };
}

/** The door of a token with its school, whatever state it is in; null for a token that never was. */
export async function doorOf(db: Queries, token: string) {
  const [found] = await db
    .select({
      door: doors,
      schoolName: schools.name,
      /** Whether it leads to the website of a class that is no more, or whose year has been closed. */
      over: sql<boolean>`coalesce(${classes.removedAt}, ${years.closedAt}) is not null`,
    })
    .from(doors)
    .innerJoin(schools, eq(schools.id, doors.schoolId))
    .leftJoin(classes, eq(classes.id, doors.classId))
    .leftJoin(years, eq(years.id, classes.yearId))
    .where(eq(doors.token, token));
  return found ?? null;
}
export type FoundDoor = NonNullable<Awaited<ReturnType<typeof doorOf>>>;

/** Why a door does not let somebody through by itself; null when it does. `worded`: its word has been given. */
export function denialReason(
  { door, over }: FoundDoor,
  person: SignedIn | null,
  t: number,
  worded: boolean,
) {
  if (door.closedAt || over) return 'closed' as const;
  if (door.untilAt && door.untilAt.getTime() <= t) return 'ended' as const;
  if (door.fromAt && t < door.fromAt.getTime()) return 'later' as const;
  if (door.kind === 'school' && !person) return 'sign-in' as const;
  if (door.kind === 'school' && person?.schoolId !== door.schoolId) return 'other-school' as const;
  if (door.wordHash && !worded) return 'word' as const;
  return null;
}

/**
 * Who sees something through a door that is open for them, and by which doors. Through a public one everybody is a stranger; a school
 * door needs to know who comes.
 */
export async function viewerThrough(
  db: Queries,
  { door }: FoundDoor,
  person: SignedIn | null,
  t: number,
): Promise<{ viewer: Viewer; doors: ShownDoor[] }> {
  const { id, kind, schoolId, classId } = door;
  const onWebsite = classId === null ? [] : await websiteDoors(db, classId, kind, t);
  const through = [{ id, kind, schoolId }, ...onWebsite.map((one) => ({ ...one, schoolId }))];
  const personId = kind === 'school' ? (person?.id ?? null) : null;
  return { viewer: { personId, doorIds: through.map((one) => one.id), at: t }, doors: through };
}

/**
 * The doors by which whoever comes to the website of a class sees what is on it: those of its things that the teachers of the class
 * have opened themselves, to everybody (or to all at the school, where the website is for them), and without a password. What a
 * colleague has opened for somebody else does not get known here, and neither does what is above or beside a thing.
 */
export function websiteDoors(
  db: Queries,
  classId: string,
  kind: DoorRow['kind'],
  t: number,
): Promise<{ id: string; kind: DoorRow['kind'] }[]> {
  return rows(
    db,
    sql`with things as materialized (
        select x.folder_id, p.item_id from appearances a
          left join headings h on h.id = a.heading_id and h.removed_at is null
          join entry_things x on x.entry_id = a.entry_id left join placements p on p.id = x.placement_id
        where a.class_id = ${classId}::uuid and ${appearsOnWebsite(at(t))})
      select d.id, d.kind from doors d
      where ${opensOnWebsite(classId, kind, t)}
        and (d.folder_id in (select folder_id from things) or d.item_id in (select item_id from things))`,
  );
}

/**
 * Those of the things to which there is a door of this kind that has not been closed, or to which one of the doors by which they are seen
 * on the website of a class leads: `open` where that is so, `other` where it opens nothing there.
 */
export async function doorsToThings(
  db: Queries,
  classId: string,
  kind: DoorRow['kind'],
  things: readonly { readonly id: string; readonly itemId: string | null }[],
  t: number,
): Promise<ReadonlyMap<string, 'open' | 'other'>> {
  const targets = things.map(({ id, itemId }) => itemId ?? id);
  const found = await rows<{ target: string; opens: boolean }>(
    db,
    sql`select coalesce(d.folder_id, d.item_id) as target, bool_or(${opensOnWebsite(classId, kind, t)}) as opens
      from doors d where d.closed_at is null and (d.folder_id = any (${uuids(targets)}) or d.item_id = any (${uuids(targets)}))
        and (d.kind = ${kind} or ${opensOnWebsite(classId, kind, t)})
      group by 1`,
  );
  const opens = new Map(found.map((one) => [one.target, one.opens ? 'open' : 'other'] as const));
  return new Map(
    things.flatMap(({ id, itemId }) => {
      const state = opens.get(itemId ?? id);
      return state ? [[id, state] as const] : [];
    }),
  );
}

/** Whether door `d`, if it is to something on the website of a class, opens it there. */
export function opensOnWebsite(classId: string, kind: DoorRow['kind'], t: number): SQL {
  return sql`(d.closed_at is null and d.word_hash is null and ${inSpan(sql`d`, at(t))}
    and (d.kind = 'public' or ${kind} = 'school') and exists (
      select from course_teachers k join classes c on c.course_id = k.course_id
      where c.id = ${classId}::uuid and k.person_id = d.created_by))`;
}

type Needs = Pick<Services, 'db' | 'now' | 'sign'>;

/** Who asks with a token, and the doors by which they see: the first is the one of the token. Throws `not-found` unless it is open. */
export async function throughDoor(
  { db, now, sign }: Needs,
  request: Pick<FastifyRequest, 'person' | 'cookies' | 'headers' | 'ip'>,
  token: string,
): Promise<{ viewer: Viewer; doors: ShownDoor[]; door: DoorRow }> {
  const t = now();
  const found = await doorOf(db, token);
  if (!found || denialReason(found, request.person, t, passwordGiven(sign, found, request, t)))
    throw new AppError('not-found');
  const { viewer, doors: through } = await viewerThrough(db, found, request.person, t);
  return { viewer: { ...viewer, visitor: visitorOf(request) }, doors: through, door: found.door };
}

/** How long a word that was given at a door holds, in this browser. */
const WORD_HOURS = 12;
const COOKIE = 'sammlung.word';

/** Says in a cookie that the word of a door was given; another word, or another hour, and it says nothing. */
export function setPasswordCookie(
  reply: FastifyReply,
  { sign, address }: Pick<Services, 'sign' | 'address'>,
  { door }: FoundDoor,
  t: number,
): void {
  const until = t + WORD_HOURS * 3_600_000;
  void reply.setCookie(COOKIE, `${until}.${sign(`${door.id} ${door.wordHash} ${until}`)}`, {
    path: `/api/open/${door.token}`,
    maxAge: WORD_HOURS * 3600,
    httpOnly: true,
    sameSite: 'lax',
    secure: address().startsWith('https:'),
  });
}

/** Whether the request carries that cookie. */
export function passwordGiven(
  sign: Services['sign'],
  { door }: FoundDoor,
  { cookies }: Pick<FastifyRequest, 'cookies'>,
  t: number,
): boolean {
  const [until, signature] = cookies[COOKIE]?.split('.') ?? [];
  if (!until || !signature || !(Number(until) > t)) return false;
  const right = Buffer.from(sign(`${door.id} ${door.wordHash} ${until}`));
  const given = Buffer.from(signature);
  return given.length === right.length && timingSafeEqual(given, right);
}

/** Opens a door. Throws `already-handed-out` where one of its kind stands open. */
export async function addDoor(db: Queries, door: typeof doors.$inferInsert): Promise<DoorRow> {
  const [made] = await db.insert(doors).values(door).returning();
  return made!;
}

/** The door to the website of a class that is open; null where there is none. */
export async function doorToWebsite(db: Queries, classId: string): Promise<DoorRow | null> {
  const [found] = await db
    .select()
    .from(doors)
    .where(and(eq(doors.classId, classId), isNull(doors.closedAt)));
  return found ?? null;
}

/** The public door to a folder or item that is open, or has only come to its end; null where there is none. */
export async function publicDoorTo(
  tx: Queries,
  { folderId, itemId }: Wanted,
): Promise<DoorRow | null> {
  const target = folderId === null ? eq(doors.itemId, itemId!) : eq(doors.folderId, folderId);
  const [found] = await tx
    .select()
    .from(doors)
    .where(and(target, eq(doors.kind, 'public'), isNull(doors.closedAt)));
  return found ?? null;
}

/** A door, open or closed; null where there is none. */
export async function doorById(db: Queries, id: string): Promise<DoorRow | null> {
  const [found] = await db.select().from(doors).where(eq(doors.id, id));
  return found ?? null;
}

/** Gives a door other facts; resolves to what it is then. */
export async function changeDoor(
  tx: Queries,
  id: string,
  change: Partial<DoorRow>,
): Promise<DoorRow> {
  const [door] = await tx.update(doors).set(change).where(eq(doors.id, id)).returning();
  return door!;
}

/** Closes the doors that a person has opened, but for websites of classes: those are of all who teach there. */
export async function closeDoorsOf(tx: Queries, personId: string, t: number): Promise<void> {
  await tx
    .update(doors)
    .set({ closedAt: new Date(t) })
    .where(and(eq(doors.createdBy, personId), isNull(doors.classId), isNull(doors.closedAt)));
}

/** Opens those of them again that were closed at that instant, unless another one has taken their place. */
export async function reopenDoorsOf(tx: Queries, personId: string, closedAt: Date): Promise<void> {
  await tx.execute(sql`
    update doors d set closed_at = null where d.created_by = ${personId}::uuid and d.closed_at = ${at(closedAt.getTime())}
      and d.class_id is null and not exists (
        select from doors o where o.closed_at is null and o.kind = d.kind
          and (o.folder_id = d.folder_id or o.item_id = d.item_id or o.short_address = d.short_address))`);
}

/** Has doors that somebody has opened be somebody else’s; only these, where `ids` are given. Resolves to which. */
export async function giveDoors(
  tx: Queries,
  { from, to, ids }: { from: string; to: string; ids?: readonly string[] },
): Promise<string[]> {
  const given = await tx
    .update(doors)
    .set({ createdBy: to })
    .where(
      and(
        eq(doors.createdBy, from),
        isNull(doors.classId),
        ids && sql`${doors.id} = any (${uuids(ids)})`,
      ),
    )
    .returning({ id: doors.id });
  return given.map(({ id }) => id);
}

/** The token of the door that has this short address; null where none has. */
export async function tokenOfShort(db: Queries, shortAddress: string): Promise<string | null> {
  const [found] = await db
    .select({ token: doors.token })
    .from(doors)
    .where(eq(doors.shortAddress, shortAddress));
  return found?.token ?? null;
}

/** Which kind of door each of these is. */
export async function kindsOfDoors(
  db: Queries,
  ids: readonly string[],
): Promise<ReadonlyMap<string, DoorRow['kind']>> {
  if (ids.length === 0) return new Map();
  const found = await db
    .select({ id: doors.id, kind: doors.kind })
    .from(doors)
    .where(inArray(doors.id, [...ids]));
  return new Map(found.map(({ id, kind }) => [id, kind]));
}
