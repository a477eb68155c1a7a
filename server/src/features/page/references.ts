import type { Reference, Thing } from '@sammlung/contract';
import { unreached } from '@sammlung/core';
import { cardsSeen, decidedBy, toCard } from '../../domain/access/cards.ts';
import { loadWorld } from '../../domain/access/load-world.ts';
import { Rights } from '../../domain/access/rights.ts';
import { audienceName, audienceNames } from '../../domain/access/tabs.ts';
import { viewerOf } from '../../domain/access/viewer.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';

type Needs = Pick<Services, 'db' | 'now'>;

/** What things on a page are, and which of its readers do not see them. */
export async function seenReferences(
  { db, now }: Needs,
  person: SignedIn,
  placementId: string,
  things: readonly Thing[],
): Promise<{ references: Reference[] }> {
  const t = now();
  const page = await new Rights(db, person, t).item(placementId);
  const viewer = viewerOf(person, t);
  const cards = await cardsSeen(db, viewer, things);
  const decided = await decidedBy(db, person, t, cards);
  const scope = {
    folderIds: [page.folderId, ...new Set(cards.map((card) => card.folderId))],
    itemIds: [page.itemId, ...cards.flatMap(({ itemId }) => itemId ?? [])],
  };
  const { world, library } = await loadWorld(db, person.schoolId, scope);
  const names = await audienceNames(db, library.data.handingsOut);
  const site = (folderId: string, id: string) => ({
    folderId,
    placement: library.placements.get(id) ?? null,
  });
  const read = site(page.folderId, placementId);
  return {
    references: cards.map((card) => ({
      ...toCard(card),
      unseenBy: unreached(world, read, site(card.folderId, card.id), t).map(
        ({ audience, people, handedOut }) => ({
          id: audience.id,
          ...audienceName(names, audience),
          people,
          handedOut,
        }),
      ),
      mayHandOut: decided.has(card.id),
    })),
  };
}
