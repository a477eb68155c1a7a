import { randomBytes } from 'node:crypto';
import type { Door } from '@sammlung/contract';
import { eq } from 'drizzle-orm';
import type { Queries } from '../../db/database.ts';
import { doors, schools } from '../../db/schema/index.ts';
import { AppError } from '../errors.ts';
import type { SignedIn } from '../sessions.ts';
import type { Asker } from './twin.ts';

/** A token of 160 random bits in letters that fit an address. */
export function newToken(): string {
  return randomBytes(20).toString('base64url');
}

/** The address of a door in the browser. */
export function doorAddress(base: string, token: string): string {
  return `${base}/open/${token}`;
}

/** A door as whoever manages what lies behind it sees it. */
export function doorView(base: string, door: typeof doors.$inferSelect): Door {
  return {
    id: door.id,
    kind: door.kind,
    address: doorAddress(base, door.token),
    shortAddress: door.shortAddress && `${base}/at/${door.shortAddress}`,
    until: door.untilAt?.toISOString() ?? null,
    hasWord: door.wordHash !== null,
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

/** Why a door does not let somebody through by itself; null when it does. */
export function barred({ door }: FoundDoor, person: SignedIn | null, t: number) {
  if (door.closedAt) return 'closed' as const;
  if (door.untilAt && door.untilAt.getTime() <= t) return 'ended' as const;
  if (door.fromAt && t < door.fromAt.getTime()) return 'later' as const;
  if (door.wordHash) return 'word' as const;
  if (door.kind === 'school' && !person) return 'sign-in' as const;
  if (door.kind === 'school' && person?.schoolId !== door.schoolId) return 'other-school' as const;
  return null;
}

/** Through a public door everybody is a stranger; a school door needs to know who comes. */
export function askerThrough({ door }: FoundDoor, person: SignedIn | null): Asker {
  return { personId: door.kind === 'school' ? (person?.id ?? null) : null, doorIds: [door.id] };
}

/** The asker for a request that shows a token. Throws `not-found` unless the door stands open for them. */
export async function askerAtDoor(
  db: Queries,
  token: string,
  person: SignedIn | null,
  t: number,
): Promise<Asker> {
  const found = await doorOf(db, token);
  if (!found || barred(found, person, t)) throw new AppError('not-found');
  return askerThrough(found, person);
}
