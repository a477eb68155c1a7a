import { createHash } from 'node:crypto';
import type { NewPage, PageDraft, Shown, Written } from '@sammlung/contract';
import { dayAt, lastSchoolDay, PICTURE_TYPES } from '@sammlung/core';
import { fileTypeFromBuffer } from 'file-type';
import type { z } from 'zod';
import type { Queries } from '../../db/database.ts';
import type { Viewer } from '../../domain/access/access-sql.ts';
import { Rights } from '../../domain/access/rights.ts';
import { lockContent, recordContent, sweep } from '../../domain/contents.ts';
import { checkedTitle } from '../../domain/files/make-folder.ts';
import { staleFramesOf } from '../../domain/carry-overs.ts';
import { cleanIn } from '../../domain/pages/clean-in.ts';
import {
  addPageVersion,
  addPicture,
  draftBy,
  draftsOf,
  dropDraft,
  pictureIn,
  pictureOf,
  rewritePageVersion,
  saveDraft,
} from '../../domain/pages/pages.ts';
import {
  addItem,
  addPlacement,
  changeItem,
  freeItemTitle,
  itemById,
} from '../../domain/placements.ts';
import { lockRoom, refuseBeyondQuota } from '../../domain/quota.ts';
import { applyReleases } from '../../domain/releases.ts';
import { versionById } from '../../domain/versions.ts';
import { lessonsOf, schoolDaysOf } from '../../domain/timetable.ts';
import { changesBy } from '../../domain/log.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import { classesOfReaders, heldPlaces, pageSeen, shownVersion } from './queries.ts';
import { ownPage, textOf } from './text.ts';

type Needs = Pick<Services, 'db' | 'now' | 'storage' | 'settings' | 'workers'>;

/**
 * Adds a page to a folder, under a name that is free there. It is held back until it is shown for the first time; on a
 * student's desk nobody else sees it anyway.
 */
export async function makePage(
  { db, now }: Pick<Needs, 'db' | 'now'>,
  person: SignedIn,
  { folderId, title: typed }: z.infer<typeof NewPage>,
) {
  const t = now();
  const wanted = checkedTitle(typed);
  return db.transaction(async (tx) => {
    await changesBy(tx, person, t);
    const folder = await new Rights(tx, person, t).folder(folderId, 'add');
    const title = await freeItemTitle(tx, folder.id, wanted);
    const { schoolId, id: ownerId } = person;
    const createdAt = new Date(t);
    const itemId = await addItem(tx, { schoolId, ownerId, kind: 'page', title, createdAt });
    const putting = { schoolId, addedBy: ownerId, addedAt: createdAt };
    const id = await addPlacement(tx, { ...putting, folderId, itemId });
    if (person.kind !== 'student')
      await applyReleases(tx, schoolId, [
        { kind: 'placement', id, classId: null, release: { held: true, from: null, until: null } },
      ]);
    return { id, title };
  });
}

/** A picture on a page: to its readers those in the version they get, to those who may change it (`writer`) all. */
export async function pictureSeen(
  { db, now }: Pick<Needs, 'db' | 'now'>,
  viewer: Viewer,
  placementId: string,
  hash: string,
  writer: SignedIn | null,
) {
  const { itemId, versionId } = await pageSeen(db, viewer, placementId);
  const shown = versionId && (await pictureIn(db, versionId, hash));
  if (shown) return shown;
  const found = writer && (await pictureOf(db, itemId, hash));
  if (!found || !(await mayWrite(db, writer, placementId, now()))) throw new AppError('not-found');
  return found;
}

/** Whether somebody who sees a page may change it. */
async function mayWrite(db: Queries, person: SignedIn, placementId: string, t: number) {
  try {
    await new Rights(db, person, t).item(placementId);
    return true;
  } catch (error) {
    if (error instanceof AppError && error.code === 'not-allowed') return false;
    throw error;
  }
}

/** A page with one's own draft of it. */
export async function draftOf(
  { db, now, storage, workers }: Pick<Needs, 'db' | 'now' | 'storage' | 'workers'>,
  person: SignedIn,
  placementId: string,
): Promise<PageDraft> {
  const t = now();
  const item = await ownPage(db, person, placementId, t);
  const [readers, shown, drafts] = await Promise.all([
    classesOfReaders(db, { folderId: item.folderId, itemId: item.id }),
    shownVersion(db, item.id).then((found) => textOf(storage, { ...item, ...found })),
    draftsOf(db, item.id),
  ]);
  const own = drafts.find(({ personId }) => personId === person.id);
  const languages = new Set(readers.map(({ language }) => language));
  return {
    title: item.title,
    shown,
    draft: own
      ? { html: (await cleanIn(workers, own.html)).html, base: own.base, savedAt: own.savedAt }
      : null,
    others: drafts.filter((one) => one !== own).map(({ name, savedAt }) => ({ name, savedAt })),
    whileWriting: item.showWhileWriting,
    language: languages.size === 1 ? [...languages][0]! : null,
    lessonDay: await lessonDayOf(db, person, readers, t),
    stale: await staleFramesOf(db, person.id, item.id),
  };
}

/** The day of the last lesson that one of these classes had by now; null where no timetable tells. */
async function lessonDayOf(
  db: Queries,
  person: SignedIn,
  classes: readonly { readonly id: string }[],
  t: number,
): Promise<string | null> {
  const lessons = await lessonsOf(
    db,
    classes.map(({ id }) => id),
  );
  const all = [...lessons.values()].flat();
  if (all.length === 0) return null;
  const days = await schoolDaysOf(db, person.schoolId);
  const zone = person.timeZone;
  return lastSchoolDay(dayAt(t, zone), all, { zone, days });
}

/** How many bytes one's draft has, 0 where there is none. Throws `changed-since` where it is not the one saved at `after`. */
async function continued(tx: Queries, itemId: string, person: SignedIn, after: string | null) {
  const draft = await draftBy(tx, itemId, person.id);
  if ((draft?.savedAt ?? null) !== after) throw new AppError('changed-since');
  return draft?.bytes ?? 0;
}

/** Saves what one has written; tells which version readers get by now. Throws `quota-full`. */
export async function keepDraft(
  { db, now, settings }: Pick<Needs, 'db' | 'now' | 'settings'>,
  person: SignedIn,
  placementId: string,
  { html, base, after }: Written,
) {
  const t = now();
  return db.transaction(async (tx) => {
    await lockRoom(tx, person.id);
    const { id: itemId, schoolId } = await ownPage(tx, person, placementId, t);
    // Whoever deletes the page for good waits.
    if (!(await itemById(tx, itemId, true))) throw new AppError('not-found');
    const before = await continued(tx, itemId, person, after);
    const more = Buffer.byteLength(html) - before;
    // What makes it shorter is never refused.
    if (more > 0) await refuseBeyondQuota(tx, settings, person, more);
    const savedAt = new Date(t);
    await saveDraft(tx, { schoolId, itemId, personId: person.id, html, base, savedAt });
    const { version } = await shownVersion(tx, itemId);
    return { savedAt: savedAt.toISOString(), version };
  });
}

/** Drops one's own draft: what readers get is what there is. */
export async function giveUpDraft(
  { db, now }: Pick<Needs, 'db' | 'now'>,
  person: SignedIn,
  placementId: string,
) {
  const { id } = await ownPage(db, person, placementId, now());
  await dropDraft(db, id, person.id);
}

/** Says whether readers get what is written while it is. */
export async function changeShowing(
  { db, now }: Pick<Needs, 'db' | 'now'>,
  person: SignedIn,
  placementId: string,
  whileWriting: boolean,
) {
  const { id } = await ownPage(db, person, placementId, now());
  await changeItem(db, id, { showWhileWriting: whileWriting });
}

/** Who pauses for longer, in milliseconds, begins another version with what they show next while writing. */
const PAUSE_MS = 600_000;

/**
 * Shows what one has written: it is the next version of the page, and the draft is gone. With the first one the page is no
 * longer held back, unless somebody has said when it goes out. Throws `changed-since` when readers get another version by now
 * than the one from which was begun.
 */
export async function showPage(
  needs: Needs,
  person: SignedIn,
  placementId: string,
  { html, base, after, whileWriting }: Shown,
): Promise<{ version: number }> {
  const { db, now, storage, settings, workers } = needs;
  const t = now();
  await ownPage(db, person, placementId, t);
  const page = await cleanIn(workers, html);
  const bytes = Buffer.from(page.html);
  const { schoolId } = person;
  const content = { schoolId, hash: sha256(bytes), size: bytes.length };
  let replaced: string | null = null;
  const version = await keeping(needs, content, () =>
    db.transaction(async (tx) => {
      await lockRoom(tx, person.id);
      await lockContent(tx, schoolId, content.hash);
      const item = await ownPage(tx, person, placementId, t);
      await itemById(tx, item.id, true);
      const current = await shownVersion(tx, item.id);
      if (current.version !== base) throw new AppError('changed-since');
      await continued(tx, item.id, person, after);
      await dropDraft(tx, item.id, person.id);
      if (current.hash === content.hash) return { version: base };
      await refuseBeyondQuota(tx, settings, person, content.size);
      await storage.put(schoolId, bytes);
      await recordContent(tx, { ...content, text: page.text });
      const createdAt = new Date(t);
      const before = current.versionId && (await versionById(tx, item.id, current.versionId));
      const goesOn =
        before &&
        before.whileWriting &&
        before.createdBy === person.id &&
        t - before.createdAt.getTime() < PAUSE_MS;
      if (whileWriting && goesOn) {
        await rewritePageVersion(tx, before, { ...content, createdAt }, page.pictures);
        replaced = before.hash;
        return { version: base };
      }
      const facts = {
        ...{ mediaType: 'text/html', originalName: `${item.title}.html` },
        ...{ createdBy: person.id, createdAt, whileWriting },
      };
      await addPageVersion(tx, item.id, { ...content, ...facts }, page.pictures);
      if (base === 0) {
        const out = { held: false, from: null, until: null };
        const held = await heldPlaces(tx, item.id);
        await applyReleases(
          tx,
          schoolId,
          held.map(({ id }) => ({ kind: 'placement', id, classId: null, release: out })),
        );
      }
      return { version: base + 1 };
    }),
  );
  if (replaced) await sweep(db, storage, [{ schoolId, hash: replaced }]);
  return version;
}

/** Adds a picture to a page. Throws `no-picture`, `quota-full`. */
export async function keepPicture(
  needs: Needs,
  person: SignedIn,
  placementId: string,
  bytes: Buffer,
): Promise<{ hash: string }> {
  const { db, now, storage, settings } = needs;
  const t = now();
  await ownPage(db, person, placementId, t);
  const mediaType = (await fileTypeFromBuffer(bytes))?.mime;
  if (!mediaType || !PICTURE_TYPES.includes(mediaType)) throw new AppError('no-picture');
  const { schoolId } = person;
  const content = { schoolId, hash: sha256(bytes), size: bytes.length };
  await keeping(needs, content, () =>
    db.transaction(async (tx) => {
      await lockRoom(tx, person.id);
      await lockContent(tx, schoolId, content.hash);
      const { id: itemId } = await ownPage(tx, person, placementId, t);
      await itemById(tx, itemId, true);
      if (await pictureOf(tx, itemId, content.hash)) return;
      await refuseBeyondQuota(tx, settings, person, content.size);
      await storage.put(schoolId, bytes);
      await recordContent(tx, content);
      await addPicture(tx, { ...content, itemId, mediaType });
    }),
  );
  return { hash: content.hash };
}

/** Does what keeps a content; where that fails, nothing is left of the content. Throws `disk-full` where there is no room. */
async function keeping<T>(
  { db, storage, settings }: Needs,
  content: { schoolId: string; hash: string; size: number },
  work: () => Promise<T>,
): Promise<T> {
  if ((await storage.free()) - content.size < settings.diskReserve) throw new AppError('disk-full');
  try {
    return await work();
  } catch (error) {
    // No record speaks of what was kept.
    await sweep(db, storage, [content]);
    throw error;
  }
}

const sha256 = (bytes: Buffer) => createHash('sha256').update(bytes).digest('hex');
