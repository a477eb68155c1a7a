import type { PageText } from '@sammlung/contract';
import type { Queries } from '../../db/database.ts';
import type { Viewer } from '../../domain/access/access-sql.ts';
import { cardsSeen, toCard } from '../../domain/access/cards.ts';
import { Rights } from '../../domain/access/rights.ts';
import { readPage } from '../../domain/pages/document.ts';
import { referencesIn, replaceReferences } from '../../domain/pages/references.ts';
import { itemById } from '../../domain/placements.ts';
import { versionById } from '../../domain/versions.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import { pageSeen } from './queries.ts';

type Needs = Pick<Services, 'db' | 'now' | 'storage'>;

/** What a page says to the viewer; an earlier `version` of it to those who may change it. */
export async function pageText(
  { db, now, storage }: Needs,
  viewer: Viewer,
  placementId: string,
  earlier: { person: SignedIn; version: string } | null,
): Promise<PageText> {
  const page = await pageSeen(db, viewer, placementId);
  if (!earlier) return textFor(db, viewer, await textOf(storage, page));
  await new Rights(db, earlier.person, now()).item(placementId);
  const found = await versionById(db, page.itemId, earlier.version);
  if (!found) throw new AppError('not-found');
  return textFor(db, viewer, await textOf(storage, { ...found, version: found.number }));
}

export async function textOf(
  storage: Needs['storage'],
  page: { schoolId: string; hash: string | null; version: number },
): Promise<Omit<PageText, 'things'>> {
  const html = await readPage(storage, page);
  if (html === null) throw new AppError('content-missing');
  return { html, version: page.version };
}

/** The text for a viewer, without references to what they do not see. */
export async function textFor(
  db: Queries,
  viewer: Viewer,
  { html, version }: Omit<PageText, 'things'>,
): Promise<PageText> {
  const cards = await cardsSeen(db, viewer, referencesIn(html));
  const seen = new Set(cards.map(({ id }) => id));
  return {
    html: replaceReferences(html, ({ id }, text) => (seen.has(id) ? text : '')),
    version,
    things: cards.map(toCard),
  };
}

/** The page at a placement, for whoever may change it. Throws `not-found` for what is no page. */
export async function ownPage(db: Queries, person: SignedIn, placementId: string, t: number) {
  const { itemId, folderId } = await new Rights(db, person, t).item(placementId);
  const item = await itemById(db, itemId);
  if (item?.kind !== 'page') throw new AppError('not-found');
  return { ...item, folderId };
}
