import type { BegunFrom } from '@sammlung/contract';
import { dayAt } from '@sammlung/core';
import { viewerOf } from '../../domain/access/viewer.ts';
import { takeOverPictures } from '../../domain/pages/pages.ts';
import { itemById } from '../../domain/placements.ts';
import { lockRoom, refuseBeyondQuota } from '../../domain/quota.ts';
import { versionById } from '../../domain/versions.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import { frameOf, pageSeen } from './queries.ts';
import { ownPage, textFor, textOf } from './text.ts';

type Needs = Pick<Services, 'db' | 'now' | 'storage' | 'settings'>;

/** Takes over the text of another page that the person sees, and tells what may be out of date in it. Throws `quota-full`. */
export async function beginFrom(
  { db, now, storage, settings }: Needs,
  person: SignedIn,
  placementId: string,
  fromId: string,
): Promise<BegunFrom> {
  const t = now();
  const viewer = viewerOf(person, t);
  const source = await pageSeen(db, viewer, fromId);
  const { html } = await textFor(db, viewer, await textOf(storage, source));
  const page = await db.transaction(async (tx) => {
    await lockRoom(tx, person.id);
    const found = await ownPage(tx, person, placementId, t);
    if (!(await itemById(tx, found.id, true))) throw new AppError('not-found');
    if (source.versionId && source.itemId !== found.id) {
      const more = await takeOverPictures(tx, source.versionId, found.id, t);
      // They are counted already: over the limit they are taken out again.
      if (more > 0) await refuseBeyondQuota(tx, settings, person, 0);
    }
    return found;
  });
  const version = source.versionId && (await versionById(db, source.itemId, source.versionId));
  const then = dayAt(version ? version.createdAt.getTime() : t, person.timeZone);
  const today = dayAt(t, person.timeZone);
  const from = await frameOf(db, source, person, then);
  const to = await frameOf(db, { folderId: page.folderId, itemId: page.id }, person, today);
  const sameYear = from?.id === to?.id;
  return {
    html,
    from: {
      ...daysOf(from, then),
      // Within a year only the classes for which it was written are others.
      classes: [...new Set([...(from?.handed ?? []), ...((!sameYear && from?.taught) || [])])],
    },
    to: { ...daysOf(to, today), classes: (to?.handed.length ? to.handed : to?.taught) ?? [] },
  };
}

/** The first and the last day of a year; of the calendar's year where the school has none. */
const daysOf = (year: { firstDay: string; lastDay: string } | null, day: string) => ({
  firstDay: year?.firstDay ?? `${day.slice(0, 4)}-01-01`,
  lastDay: year?.lastDay ?? `${day.slice(0, 4)}-12-31`,
});
