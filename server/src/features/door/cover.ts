import { frameHtml } from '@sammlung/core';
import type { Oembed, OembedQuery, Thing } from '@sammlung/contract';
import type { z } from 'zod';
import { thingsBelow } from '../../domain/access/below.ts';
import { doorAddress, doorOf, viewerThrough } from '../../domain/doors.ts';
import { AppError } from '../../platform/errors.ts';
import { atom } from '../../domain/feeds.ts';
import { feedContent } from '../../domain/pages/document.ts';
import type { Services } from '../../services.ts';
import { thingsOnWebsite, titleBehind } from './queries.ts';
import { resolveDoor } from './wall.ts';

type Needs = Pick<Services, 'db' | 'now' | 'sign' | 'address'>;

/** What programs that belong to nobody may know of an address: of an open public door without a word, its title. */
export interface Cover {
  readonly title: string;
  readonly schoolName: string;
  /** Whether search engines may list it. */
  readonly listed: boolean;
  /** The folder or item that it opens; none where it opens the website of a class. */
  readonly thing: readonly Thing[];
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
    schoolName: seen.schoolName,
    listed: found.door.listed,
    thing: [
      ...(folderId ? [{ kind: 'folder' as const, id: folderId }] : []),
      ...(placementId ? [{ kind: 'placement' as const, id: placementId }] : []),
    ],
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
  const t = now();
  const { viewer } = await viewerThrough(db, found, null, t);
  const { classId } = found.door;
  const { items: seen } = await thingsBelow(
    db,
    viewer,
    classId ? await thingsOnWebsite(db, classId, t) : cover.thing,
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
      place: found.door.itemId ? null : item.folderTitle,
      content: says.get(item.placementId) ?? null,
    })),
  );
}

/** How large a frame on another website is by itself, in pixels; no larger than that website wants it. */
const FRAME = { width: 640, height: 480 };

/** What shows a public address on another website: a frame. Throws `not-found` for all that does not say what is behind it. */
export async function embedded(
  needs: Needs,
  { url, maxwidth = FRAME.width, maxheight = FRAME.height }: z.infer<typeof OembedQuery>,
): Promise<z.infer<typeof Oembed>> {
  const { address } = needs;
  const [, token] = /^\/(?:open|embed)\/([^/]+)/u.exec(pathAt(address(), url) ?? '') ?? [];
  const cover = token && (await coverOf(needs, token));
  if (!cover) throw new AppError('not-found');
  const [width, height] = [Math.min(maxwidth, FRAME.width), Math.min(maxheight, FRAME.height)];
  return {
    version: '1.0',
    type: 'rich',
    title: cover.title,
    provider_name: cover.schoolName,
    provider_url: address(),
    html: frameHtml({ source: `${address()}/embed/${token}`, title: cover.title, width, height }),
    width,
    height,
  };
}

/** The path of an address of ours; null for any other. */
function pathAt(base: string, url: string): string | null {
  if (!URL.canParse(url)) return null;
  const { origin, pathname } = new URL(url);
  return origin === new URL(base).origin ? pathname : null;
}

/** Where a website asks how to show an address. */
export const oembedAddress = (base: string, token: string) =>
  `${base}/api/oembed?url=${encodeURIComponent(doorAddress(base, token))}`;
