import { timingSafeEqual } from 'node:crypto';
import type { Door } from '@sammlung/contract';
import type { ShownDoor } from '@sammlung/core';
import { and, eq, inArray, isNull } from 'drizzle-orm';
import type { FastifyReply, FastifyRequest } from 'fastify';
import { toIso, type Queries } from '../db/database.ts';
import { doors, schools } from '../db/schema/index.ts';
import { AppError } from '../platform/errors.ts';
import type { Services } from '../services.ts';
import type { SignedIn } from '../platform/sessions.ts';
import type { Viewer } from './access/access-sql.ts';
import type { Wanted } from './requests.ts';

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
    .select({ door: doors, schoolName: schools.name })
    .from(doors)
    .innerJoin(schools, eq(schools.id, doors.schoolId))
    .where(eq(doors.token, token));
  return found ?? null;
}
export type FoundDoor = NonNullable<Awaited<ReturnType<typeof doorOf>>>;

/** Why a door does not let somebody through by itself; null when it does. `worded`: its word has been given. */
export function denialReason(
  { door }: FoundDoor,
  person: SignedIn | null,
  t: number,
  worded: boolean,
) {
  if (door.closedAt) return 'closed' as const;
  if (door.untilAt && door.untilAt.getTime() <= t) return 'ended' as const;
  if (door.fromAt && t < door.fromAt.getTime()) return 'later' as const;
  if (door.kind === 'school' && !person) return 'sign-in' as const;
  if (door.kind === 'school' && person?.schoolId !== door.schoolId) return 'other-school' as const;
  if (door.wordHash && !worded) return 'word' as const;
  return null;
}

/** Through a public door everybody is a stranger; a school door needs to know who comes. */
export function viewerThrough({ door }: FoundDoor, person: SignedIn | null, at: number): Viewer {
  return { personId: door.kind === 'school' ? (person?.id ?? null) : null, doorIds: [door.id], at };
}

type Needs = Pick<Services, 'db' | 'now' | 'sign'>;

/** Who asks with a token, and the door. Throws `not-found` unless it stands open for them. */
export async function throughDoor(
  { db, now, sign }: Needs,
  request: Pick<FastifyRequest, 'person' | 'cookies'>,
  token: string,
): Promise<{ viewer: Viewer; door: ShownDoor; wordHash: string | null }> {
  const t = now();
  const found = await doorOf(db, token);
  if (!found || denialReason(found, request.person, t, passwordGiven(sign, found, request, t)))
    throw new AppError('not-found');
  const { id, kind, schoolId, wordHash } = found.door;
  return {
    viewer: viewerThrough(found, request.person, t),
    door: { id, kind, schoolId },
    wordHash,
  };
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

/** A door, open or closed. */
export async function doorById(db: Queries, id: string): Promise<DoorRow> {
  const [found] = await db.select().from(doors).where(eq(doors.id, id));
  return found!;
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
