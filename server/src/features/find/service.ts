import type { FindFilters, FindQuery, Found } from '@sammlung/contract';
import { viewerOf } from '../../domain/access/viewer.ts';
import { loadLibrary } from '../../domain/access/load-library.ts';
import { audienceNames, folderTabs, itemTabs } from '../../domain/access/tabs.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { excerpts, filtersFor, found } from './queries.ts';

type Needs = Pick<Services, 'db' | 'now'>;

/** How many hits are shown. */
const SHOWN = 40;

/** What the person sees that fits the words: their own with its tabs, and what others have handed out to them. */
export async function find({ db, now }: Needs, person: SignedIn, query: FindQuery): Promise<Found> {
  const t = now();
  const viewer = viewerOf(person, t);
  const records = await found(db, viewer, query, SHOWN + 1);
  const shown = records.slice(0, SHOWN);
  const own = shown.filter((hit) => hit.ownerId === person.id);
  const [library, written] = await Promise.all([
    loadLibrary(db, {
      folderIds: own.map((hit) => hit.folderId),
      itemIds: own.flatMap((hit) => hit.itemId ?? []),
    }),
    excerpts(
      db,
      shown.flatMap((hit) => (hit.inside && hit.itemId ? [hit.itemId] : [])),
      query.words,
    ),
  ]);
  const names = await audienceNames(db, library.data.handingsOut);
  return {
    more: records.length > SHOWN,
    hits: shown.map((hit) => {
      const { ownerId, ownerName, itemId, folderId, inside, changedAt } = hit;
      return {
        kind: hit.kind,
        id: hit.id,
        title: hit.title,
        itemKind: hit.itemKind,
        extension: hit.extension,
        mark: hit.mark,
        colour: hit.colour,
        url: hit.url,
        lessonDate: hit.lessonDate,
        small: hit.small,
        where: hit.where,
        changedAt: new Date(changedAt).toISOString(),
        ownerName: ownerId === person.id ? null : ownerName,
        excerpt: (inside && itemId && written.get(itemId)) || null,
        ...(ownerId === person.id && {
          tabs: itemId
            ? itemTabs(library, names, itemId, t)
            : folderTabs(library, names, folderId, t),
        }),
      };
    }),
  };
}

export async function filters({ db, now }: Needs, person: SignedIn): Promise<FindFilters> {
  const { classes, years } = await filtersFor(db, person.id, now());
  return { classes: classes.map(({ id, code, colour }) => ({ id, code, colour })), years };
}
