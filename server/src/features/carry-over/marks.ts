import { StaleFrames, type StaleMark } from '@sammlung/contract';
import { freeFileTitle, staleDates, withProposals, type Frame, type Stale } from '@sammlung/core';
import { Rights } from '../../domain/access/rights.ts';
import {
  addMarks,
  carryOverBy,
  settleMarks,
  type CarryOverRecord,
} from '../../domain/carry-overs.ts';
import { keepPage, sweep } from '../../domain/contents.ts';
import { cleanIn } from '../../domain/pages/clean-in.ts';
import { readPage } from '../../domain/pages/document.ts';
import { addPageVersion } from '../../domain/pages/pages.ts';
import { changeItem, itemById, itemNamesIn } from '../../domain/placements.ts';
import { lockRoom, refuseBeyondQuota } from '../../domain/quota.ts';
import { versionById } from '../../domain/versions.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import type { Prepared } from './prepare.ts';
import { openMarks, textsOf } from './queries.ts';

type Needs = Pick<Services, 'db' | 'now' | 'storage' | 'settings' | 'workers'>;

/** So much of a text is looked at, in characters. */
const LOOKED_AT = 100_000;
/** Contents that are looked at together. */
const TOGETHER = 100;
/** Marks that are listed, and that are settled in one go. */
const LISTED = 500;

/** Looks for what is out of date in what was carried over: in titles, on pages, and inside files. `rewritten` has the contents of pages that have another one than before. */
export async function markStale(
  { db }: Pick<Needs, 'db'>,
  { id: carryOverId, schoolId }: CarryOverRecord,
  { plan, placements, copies, from, into }: Prepared,
  rewritten: ReadonlyMap<string, string>,
): Promise<void> {
  const titles = new Map<string, string>();
  const contents = new Map<string, { itemId: string; place: 'text' | 'inside' }[]>();
  for (const { id, sourceId } of plan.placements) {
    const source = placements.get(sourceId)!;
    const copy = copies.get(id);
    const itemId = copy?.id ?? source.itemId;
    if (!copy) titles.set(itemId, source.title);
    if (source.hash === null) continue;
    const place = source.kind === 'page' ? ('text' as const) : ('inside' as const);
    contents.set(source.hash, [...(contents.get(source.hash) ?? []), { itemId, place }]);
  }
  const base = { schoolId, carryOverId };
  await addMarks(
    db,
    [...titles].flatMap(([itemId, title]) => {
      const found = staleDates(title, from, into);
      return found.length === 0
        ? []
        : [
            {
              ...{ ...base, itemId, place: 'title' as const, count: found.length, found: title },
              proposed: withProposals(title, found),
            },
          ];
    }),
  );
  const hashes = [...contents.keys()];
  for (let at = 0; at < hashes.length; at += TOGETHER) {
    const texts = await textsOf(db, schoolId, hashes.slice(at, at + TOGETHER), LOOKED_AT);
    const marks = texts.flatMap(({ hash, body }) => {
      const found = staleDates(body, from, into);
      if (found.length === 0) return [];
      const those = new Map(contents.get(hash)!.map((one) => [one.itemId, one]));
      return [...those.values()].map(({ itemId, place }) => ({
        ...{ ...base, itemId, place, hash: rewritten.get(itemId) ?? hash, count: found.length },
        found: found[0]!.text.slice(0, 200),
        proposed: found[0]!.proposed?.slice(0, 200) ?? null,
      }));
    });
    await addMarks(db, marks);
  }
}

async function requireOwn(db: Needs['db'], person: SignedIn, id: string) {
  const record = await carryOverBy(db, person.id, id);
  if (!record || record.undoneAt) throw new AppError('not-found');
  return record;
}

/** What looks out of date in what was carried over, the first of it. */
export async function listMarks(
  { db }: Pick<Needs, 'db'>,
  person: SignedIn,
  id: string,
): Promise<{ marks: StaleMark[]; more: number }> {
  await requireOwn(db, person, id);
  const found = await openMarks(db, id, 10 * LISTED);
  return {
    marks: found.slice(0, LISTED).map(({ itemId: _, ...mark }) => mark),
    more: Math.max(0, found.length - LISTED),
  };
}

/**
 * Mends what looks out of date, or leaves it as it is; `ids` null is all that is listed. What is inside files is left to their owners. Each by itself:
 * what cannot be changed any more stays marked. Resolves to how many are settled, and how many are left.
 */
export async function settle(
  needs: Needs,
  person: SignedIn,
  id: string,
  { ids, mend }: { ids: readonly string[] | null; mend: boolean },
): Promise<{ settled: number; left: number }> {
  const { db, now } = needs;
  const record = await requireOwn(db, person, id);
  const open = await openMarks(db, id, LISTED);
  const frames = StaleFrames.parse(record.frames);
  const wanted = ids === null ? open : open.filter((mark) => ids.includes(mark.id));
  let settled = 0;
  for (const mark of wanted) {
    if (mend && (mark.place === 'inside' || !(await mendOne(needs, person, mark, frames))))
      continue;
    await settleMarks(db, [mark.id], now());
    settled += 1;
  }
  return { settled, left: open.length - settled };
}

type Mark = StaleMark & { itemId: string };

/** Mends one; false where the person may not change it, or it is not as it was. */
async function mendOne(
  needs: Needs,
  person: SignedIn,
  mark: Mark,
  frames: StaleFrames,
): Promise<boolean> {
  try {
    return mark.place === 'title'
      ? await mendTitle(needs, person, mark)
      : await mendPage(needs, person, mark, frames);
  } catch (error) {
    if (error instanceof AppError && ['not-found', 'not-allowed'].includes(error.code))
      return false;
    throw error;
  }
}

async function mendTitle(
  { db, now }: Needs,
  person: SignedIn,
  { placementId, found, proposed }: Mark,
) {
  return db.transaction(async (tx) => {
    const { itemId, folderId } = await new Rights(tx, person, now()).item(placementId);
    const item = await itemById(tx, itemId, true);
    if (item?.title !== found || proposed === null) return false;
    const taken = new Set((await itemNamesIn(tx, folderId)).keys());
    const { extension } = item;
    const title = freeFileTitle({ title: proposed, extension }, taken);
    await changeItem(tx, itemId, { title });
    return true;
  });
}

/** Gives a page its next version, with all mended in its text, and the days of its dated notes. */
async function mendPage(
  { db, now, storage, settings, workers }: Needs,
  person: SignedIn,
  { placementId }: Mark,
  { from, to }: StaleFrames,
): Promise<boolean> {
  const t = now();
  const { schoolId } = person;
  const kept: { schoolId: string; hash: string }[] = [];
  try {
    return await db.transaction(async (tx) => {
      await lockRoom(tx, person.id);
      const { itemId } = await new Rights(tx, person, t).item(placementId);
      const item = await itemById(tx, itemId, true);
      const version =
        item?.currentVersionId && (await versionById(tx, itemId, item.currentVersionId));
      const html = version && (await readPage(storage, { schoolId, hash: version.hash }));
      if (!version || !html) return false;
      const page = await cleanIn(workers, mendHtml(html, from, to));
      if (page.html === html) return true;
      await refuseBeyondQuota(tx, settings, person, Buffer.byteLength(page.html));
      const content = await keepPage(tx, storage, schoolId, page, kept);
      const { mediaType, originalName } = version;
      const facts = { schoolId, ...content, mediaType, originalName, createdBy: person.id };
      await addPageVersion(tx, itemId, { ...facts, createdAt: new Date(t) }, page.pictures);
      return true;
    });
  } catch (error) {
    await sweep(db, storage, kept);
    throw error;
  }
}

/** A page with what is out of date in its text mended. A heading that begins a day begins the day that it names now. */
export function mendHtml(html: string, from: Frame, into: Frame): string {
  let mended = '';
  let at = 0;
  while (at < html.length) {
    const end = html.indexOf('>', at) + 1 || html.length;
    // A tag, and the text before the next one.
    const [tag, next] =
      html[at] === '<'
        ? [html.slice(at, end), html.indexOf('<', end)]
        : ['', html.indexOf('<', at)];
    const text = html.slice(at + tag.length, next < 0 ? html.length : next);
    const found = staleDates(text, from, into);
    const day = found.find((one: Stale) => one.day !== null)?.day;
    const begins = day && tag.startsWith('<h2 data-day="');
    mended += (begins ? `<h2 data-day="${day}">` : tag) + withProposals(text, found);
    at += tag.length + text.length;
  }
  return mended;
}
