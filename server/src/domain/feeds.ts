import { and, eq, isNull } from 'drizzle-orm';
import { Feed as Atom } from 'feed';
import type { Queries } from '../db/database.ts';
import { feeds, people } from '../db/schema/index.ts';
import { newToken } from '../platform/tokens.ts';
import { AppError } from '../platform/errors.ts';
import type { SignedIn } from '../platform/sessions.ts';

type FeedRow = typeof feeds.$inferSelect;

/** Where a program finds what stands behind a feed. */
export function feedAddress(base: string, { token, classId }: Pick<FeedRow, 'token' | 'classId'>) {
  return `${base}/api/feeds/${token}/${classId === null ? 'calendar.ics' : 'atom.xml'}`;
}

/** The feeds of a person that are open. */
export function feedsOf(db: Queries, personId: string): Promise<FeedRow[]> {
  return db
    .select()
    .from(feeds)
    .where(and(eq(feeds.personId, personId), isNull(feeds.closedAt)));
}

/** Opens a feed with an address that cannot be guessed; one that is open already stays. */
export async function openFeed(
  db: Queries,
  person: SignedIn,
  classId: string | null,
): Promise<FeedRow> {
  await db
    .insert(feeds)
    .values({ schoolId: person.schoolId, personId: person.id, classId, token: newToken() })
    .onConflictDoNothing();
  const open = await feedsOf(db, person.id);
  return open.find((feed) => feed.classId === classId)!;
}

/** Closes a feed: its address is of no use from now on. Throws `not-found` for one that is not the person's. */
export async function closeFeed(
  db: Queries,
  person: SignedIn,
  id: string,
  t: number,
): Promise<void> {
  const closed = await db
    .update(feeds)
    .set({ closedAt: new Date(t) })
    .where(and(eq(feeds.id, id), eq(feeds.personId, person.id), isNull(feeds.closedAt)))
    .returning({ id: feeds.id });
  if (closed.length === 0) throw new AppError('not-found');
}

/** Closes all feeds of a person. */
export async function closeFeedsOf(tx: Queries, personId: string, t: number): Promise<void> {
  await tx
    .update(feeds)
    .set({ closedAt: new Date(t) })
    .where(and(eq(feeds.personId, personId), isNull(feeds.closedAt)));
}

/** The open feed of a token and whose it is. Throws `not-found`. */
export async function feedBehind(db: Queries, token: string) {
  const [found] = await db
    .select({ feed: feeds, person: people })
    .from(feeds)
    .innerJoin(people, eq(people.id, feeds.personId))
    .where(and(eq(feeds.token, token), isNull(feeds.closedAt), isNull(people.deactivatedAt)));
  if (!found) throw new AppError('not-found');
  return found;
}

/** One thing in a feed. */
export interface Entry {
  /** Names this state of it for good. */
  readonly id: string;
  readonly title: string;
  readonly link: string;
  readonly at: string;
  /** The folder it lies in. */
  readonly place: string | null;
  /** What a page says, as HTML. */
  readonly content?: string | null;
}

/** A feed as Atom; `id` names it for good, `self` is where it was found. */
export function atom(
  about: { id: string; title: string; link: string; self: string },
  entries: readonly Entry[],
): string {
  const made = new Atom({
    id: about.id,
    title: about.title,
    link: about.link,
    updated: new Date(entries[0]?.at ?? 0),
    copyright: '',
    generator: 'Sammlung',
    feedLinks: { atom: about.self },
  });
  for (const { id, title, link, at, place, content } of entries)
    made.addItem({
      ...{ id, title, link, date: new Date(at) },
      ...(place && { description: place }),
      ...(content && { content }),
    });
  return made.atom1();
}

export const ATOM = 'application/atom+xml; charset=utf-8';
