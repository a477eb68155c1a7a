import type { Feed } from '@sammlung/contract';
import { AppError } from '../../platform/errors.ts';
import { classesOf } from '../../domain/access/reached.ts';
import { viewerOf } from '../../domain/access/viewer.ts';
import { atom, feedAddress, feedBehind, feedsOf, openFeed } from '../../domain/feeds.ts';
import { feedContent } from '../../domain/pages/document.ts';
import { shownPages } from '../../domain/pages/pages.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { whatCame } from './queries.ts';

type Needs = Pick<Services, 'db' | 'now' | 'address' | 'storage'>;

/** How many of the newest things a feed holds. */
const HELD = 50;

export async function feedList({ db, address }: Needs, person: SignedIn): Promise<Feed[]> {
  const found = await feedsOf(db, person.id);
  return found.map((feed) => toFeed(address(), feed));
}

const toFeed = (base: string, feed: { id: string; classId: string | null; token: string }) => ({
  id: feed.id,
  classId: feed.classId,
  address: feedAddress(base, feed),
});

/** Opens the feed of a class one belongs to, or, for those who teach, the calendar. Throws `not-found`. */
export async function openOwnFeed(
  { db, now, address }: Needs,
  person: SignedIn,
  classId: string | null,
): Promise<Feed> {
  const may =
    classId === null
      ? person.kind !== 'student'
      : (await classesOf(db, viewerOf(person, now()))).some((c) => c.id === classId);
  if (!may) throw new AppError('not-found');
  return toFeed(address(), await openFeed(db, person, classId));
}

/** What comes to somebody by a class, as long as they belong to it. Throws `not-found` for a closed address. */
export async function classFeed(
  { db, now, address, storage }: Needs,
  token: string,
): Promise<string> {
  const { feed, person } = await feedBehind(db, token);
  if (feed.classId === null) throw new AppError('not-found');
  const viewer = viewerOf(person, now());
  const mine = (await classesOf(db, viewer)).find((c) => c.id === feed.classId);
  const things = mine
    ? (await whatCame(db, viewer, { limit: HELD, by: feed.classId })).things.read()
    : [];
  const pages = await shownPages(
    db,
    things.flatMap(({ kind, placementId }) => (kind === 'page' ? placementId : [])),
  );
  const says = new Map<string, string | null>();
  for (const page of pages) says.set(page.placementId, await feedContent(storage, page));
  const base = address();
  return atom(
    {
      id: `urn:uuid:${feed.id}`,
      title: mine ? `${mine.code} · ${mine.course}` : 'Sammlung',
      link: `${base}/new`,
      self: feedAddress(base, feed),
    },
    things.map((thing) => ({
      id: `urn:uuid:${thing.placementId}#${thing.version ?? 0}`,
      title: thing.title,
      link: thing.url ?? `${base}/item/${thing.placementId}`,
      at: thing.cameAt,
      place: thing.folder?.title ?? null,
      content: says.get(thing.placementId) ?? null,
    })),
  );
}
