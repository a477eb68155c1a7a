import { thingsBelow } from '../../domain/access/below.ts';
import { doorAddress, doorOf } from '../../domain/doors.ts';
import { AppError } from '../../platform/errors.ts';
import { atom } from '../../domain/feeds.ts';
import { feedContent } from '../../domain/pages/document.ts';
import type { Services } from '../../services.ts';
import { titleBehind } from './queries.ts';
import { resolveDoor } from './wall.ts';

type Needs = Pick<Services, 'db' | 'now' | 'sign' | 'address'>;

/** What programs that belong to nobody may know of an address: of an open public door without a word, its title. */
export interface Cover {
  readonly title: string;
  /** Whether search engines may list it. */
  readonly listed: boolean;
  readonly folderId: string | null;
  readonly placementId: string | null;
}

/** Null for every address that does not say what is behind it. */
export async function coverOf(needs: Needs, token: string): Promise<Cover | null> {
  const { db } = needs;
  const found = await doorOf(db, token);
  if (found?.door.kind !== 'public') return null;
  const seen = await resolveDoor(needs, token, { person: null, cookies: {} });
  if (seen.state !== 'open') return null;
  const { folderId, placementId } = seen;
  return {
    title: await titleBehind(db, found.door),
    listed: found.door.listed,
    folderId,
    placementId,
  };
}

/** How many of the newest things a feed holds. */
const HELD = 50;

/** What lies behind a public door, the newest first, as Atom. Throws `not-found` where there is no such door. */
export async function doorFeed(
  needs: Needs & Pick<Services, 'storage'>,
  token: string,
): Promise<string> {
  const { db, now, address, storage } = needs;
  const cover = await coverOf(needs, token);
  const found = await doorOf(db, token);
  if (!cover || !found) throw new AppError('not-found');
  const { items: seen } = await thingsBelow(
    db,
    { personId: null, doorIds: [found.door.id], at: now() },
    cover.folderId
      ? [{ kind: 'folder', id: cover.folderId }]
      : [{ kind: 'placement', id: cover.placementId! }],
  );
  const newest = seen.sort((a, b) => b.changedAt.localeCompare(a.changedAt)).slice(0, HELD);
  const says = new Map<string, string | null>();
  for (const page of newest)
    if (page.kind === 'page') says.set(page.placementId, await feedContent(storage, page));
  const link = doorAddress(address(), token);
  return atom(
    {
      id: `urn:uuid:${found.door.id}`,
      title: cover.title,
      link,
      self: `${address()}/api/open/${token}/atom.xml`,
    },
    newest.map((item) => ({
      id: `urn:uuid:${item.versionId ?? item.placementId}`,
      title: item.title,
      link: item.url ?? `${link}/item/${item.placementId}`,
      at: new Date(item.changedAt).toISOString(),
      place: cover.folderId ? item.folderTitle : null,
      content: says.get(item.placementId) ?? null,
    })),
  );
}
