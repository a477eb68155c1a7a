import { CarryPlan, type CarriedCounts, type Thing } from '@sammlung/contract';
import { carriedKey, type ReleaseRule } from '@sammlung/core';
import { toIso, type Queries } from '../../db/database.ts';
import {
  carryOverById,
  changeCarryOver,
  noteCarried,
  type CarriedRecord,
  type CarryOverRecord,
} from '../../domain/carry-overs.ts';
import {
  addAppearance,
  addEntry,
  addHeading,
  lockClassPage,
  setThings,
} from '../../domain/class-pages.ts';
import { addBoxes } from '../../domain/boxes.ts';
import { keepPage, sweep } from '../../domain/contents.ts';
import { addFoldersAs, lockTree } from '../../domain/folders.ts';
import { handOutNew } from '../../domain/grants.ts';
import { cleanIn } from '../../domain/pages/clean-in.ts';
import { readPage } from '../../domain/pages/document.ts';
import { copyAllPictures } from '../../domain/pages/pages.ts';
import { referencesIn, replaceReferences } from '../../domain/pages/references.ts';
import { addPlacementsAs, copyItems } from '../../domain/placements.ts';
import { lockRoom, refuseBeyondQuota } from '../../domain/quota.ts';
import { addClassReleases } from '../../domain/releases.ts';
import { copyVersions } from '../../domain/versions.ts';
import { chunks } from '../../platform/chunks.ts';
import { AppError, ruleBroken } from '../../platform/errors.ts';
import type { Services } from '../../services.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { headingKey } from './class-pages.ts';
import { markStale } from './marks.ts';
import { prepare, type CopyToMake, type Prepared } from './prepare.ts';
import { personOf } from './queries.ts';

type Needs = Pick<Services, 'db' | 'now' | 'storage' | 'settings' | 'workers'>;

/** Folders or placements that are made at a time; after each lot it is noted how far it is. */
const LOT = 2000;

const lots = <T>(all: readonly T[]) => chunks(all, LOT);

const inIso = ({ held, from, until }: Pick<ReleaseRule, 'held' | 'from' | 'until'>) => ({
  held,
  from: toIso(from),
  until: toIso(until),
});

/** Carries out what was asked for: all of it, or nothing. How it ended stands in its record. */
export async function carryOut(needs: Needs, id: string): Promise<void> {
  const { db, now } = needs;
  const record = await carryOverById(db, id);
  if (record?.state !== 'waiting') return;
  const person = await personOf(db, record.personId);
  try {
    if (!person) throw new AppError('not-found');
    const made = await whole(needs, record, person);
    if (made) await markStale(needs, record, made.prepared, made.rewritten);
  } catch (error) {
    // A rule that the database holds, as that of how deep folders may be.
    const fault = error instanceof AppError ? error.code : ruleBroken(error);
    const endedAt = new Date(now());
    await changeCarryOver(db, id, { state: 'failed', fault: fault ?? 'internal', endedAt });
    if (!fault) throw error;
  }
}

/** Contents that were kept and of which, should it fail, nothing speaks. */
type Kept = { schoolId: string; hash: string }[];

async function whole(
  needs: Needs,
  { id, schoolId, plan }: CarryOverRecord,
  person: SignedIn,
): Promise<Pick<Doing, 'prepared' | 'rewritten'> | null> {
  const { db, storage, now } = needs;
  const kept: Kept = [];
  try {
    return await db.transaction(async (tx) => {
      await lockTree(tx, person.id);
      await lockRoom(tx, person.id);
      // Another process may have done it meanwhile.
      if ((await carryOverById(tx, id))?.state !== 'waiting') return null;
      const t = now();
      const prepared = await prepare(tx, person, CarryPlan.parse(plan), t);
      const { folders, placements } = prepared.plan;
      await changeCarryOver(db, id, { total: folders.length + placements.length });
      // How far it is, others see at once: it is noted outside of the transaction.
      const tell = (done: number) => changeCarryOver(db, id, { done });
      const rewritten = new Map<string, string>();
      const doing: Doing = { ...needs, tx, person, prepared, t, tell, kept, rewritten };
      await makeFolders(doing);
      await makePlacements(doing);
      if (prepared.copies.size > 0) await refuseBeyondQuota(tx, needs.settings, person, 0);
      const carried: CarriedRecord[] = [
        ...folders.map((one) => ({ kind: 'folder' as const, ...one, madeId: one.id })),
        ...placements.map((one) => ({ kind: 'placement' as const, ...one, madeId: one.id })),
        ...(await makePages(doing)),
        ...(await makeBoxes(doing)),
      ];
      for (const lot of lots(carried)) await noteCarried(tx, { id, schoolId }, lot);
      const grants: string[] = [];
      for (const lot of lots(prepared.handings))
        grants.push(...(await handOutNew(tx, person, lot)));
      const made: CarriedCounts = prepared.counts;
      await changeCarryOver(tx, id, {
        ...{ state: 'done', made, grants, endedAt: new Date(t) },
        done: folders.length + placements.length,
        total: folders.length + placements.length,
      });
      return { prepared, rewritten };
    });
  } catch (error) {
    await sweep(db, storage, kept);
    throw error;
  }
}

interface Doing extends Needs {
  readonly tx: Queries;
  readonly person: SignedIn;
  readonly prepared: Prepared;
  readonly t: number;
  readonly tell: (done: number) => Promise<void>;
  readonly kept: Kept;
  /** Pages whose content is another one than that of the page before: by their ids, its hash. */
  readonly rewritten: Map<string, string>;
}

async function makeFolders({ tx, person, prepared, tell }: Doing): Promise<void> {
  const { plan, asked } = prepared;
  const { schoolId, id: ownerId } = person;
  let done = 0;
  for (const lot of lots(plan.folders)) {
    await addFoldersAs(
      tx,
      { schoolId, ownerId, yearId: asked.to },
      lot.map(({ id, sourceId, parentId, title, release }) => ({
        ...{ id, sourceId, title, parentId: parentId ?? asked.into },
        release: inIso(release),
      })),
    );
    await releaseForClasses(tx, schoolId, 'folder', lot);
    await tell((done += lot.length));
  }
}

async function makePlacements(doing: Doing): Promise<void> {
  const { tx, person, prepared, t, tell } = doing;
  const { plan, copies, placements } = prepared;
  const { schoolId, id: addedBy } = person;
  let done = plan.folders.length;
  for (const lot of lots(plan.placements)) {
    const copied = lot.flatMap((one) => copies.get(one.id) ?? []);
    if (copied.length > 0) await makeCopies(doing, copied, lot);
    await addPlacementsAs(
      tx,
      { schoolId, addedBy, addedAt: new Date(t) },
      lot.map(({ id, sourceId, folderId, release }) => ({
        ...{ id, sourceId, folderId, release: inIso(release) },
        itemId: copies.get(id)?.id ?? placements.get(sourceId)!.itemId,
      })),
    );
    await releaseForClasses(tx, schoolId, 'placement', lot);
    await tell((done += lot.length));
  }
}

const releaseForClasses = (
  tx: Queries,
  schoolId: string,
  kind: Thing['kind'],
  lot: readonly { readonly id: string; readonly release: ReleaseRule }[],
) =>
  addClassReleases(
    tx,
    schoolId,
    lot.flatMap(({ id, release }) =>
      [...release.perClass].map(([classId, own]) => ({ kind, id, classId, release: inIso(own) })),
    ),
  );

async function makeCopies(
  doing: Doing,
  copied: readonly CopyToMake[],
  lot: Prepared['plan']['placements'],
): Promise<void> {
  const { tx, person, prepared, t } = doing;
  const { schoolId, id: ownerId } = person;
  const createdAt = new Date(t);
  await copyItems(tx, { schoolId, ownerId, createdAt }, copied);
  const keys = new Map(lot.map(({ id, key }) => [prepared.copies.get(id)?.id, key]));
  const those = [];
  for (const { id: itemId, sourceId, kind, hash } of copied) {
    const content =
      kind === 'page' && hash !== null ? await pageForward(doing, hash, keys.get(itemId)!) : null;
    if (content) doing.rewritten.set(itemId, content.hash);
    those.push({ itemId, sourceId, content });
  }
  await copyVersions(tx, { createdBy: ownerId, createdAt }, those);
  await copyAllPictures(tx, those, t);
}

/** A page that refers to what is carried over with it, with references to what that has become; null where it has none. */
async function pageForward(
  { tx, storage, workers, person, prepared, kept }: Doing,
  hash: string,
  key: string,
): Promise<{ hash: string; size: number } | null> {
  const { schoolId } = person;
  const html = await readPage(storage, { schoolId, hash });
  if (html === null || referencesIn(html).length === 0) return null;
  const next = replaceReferences(html, ({ kind, id }, text) => {
    const made = prepared.made(carriedKey(kind, key, id)) ?? null;
    return made === null ? text : text.replace(id, made);
  });
  if (next === html) return null;
  const { text } = await cleanIn(workers, next);
  return keepPage(tx, storage, schoolId, { html: next, text }, kept);
}

async function makePages({ tx, person, prepared, t }: Doing): Promise<CarriedRecord[]> {
  const { headings, entries, there } = prepared.pages;
  const { schoolId, id: ownerId } = person;
  const createdAt = new Date(t);
  const carried: CarriedRecord[] = [];
  const classIds = new Set([...headings, ...entries].map(({ classId }) => classId));
  // In one order, whoever does it: two who do so at a time wait for each other, and not each for the other.
  for (const classId of [...classIds].sort()) await lockClassPage(tx, classId);
  const headingIds = new Map(there);
  for (const { sourceId, classId, ...heading } of headings) {
    const madeId = await addHeading(tx, { schoolId, classId, ...heading });
    headingIds.set(headingKey(classId, sourceId), madeId);
    carried.push({ kind: 'heading', key: classId, sourceId, madeId });
  }
  // A heading that another class of those that become one brought along.
  const headingOf = (classId: string, sourceId: string | null): string | null => {
    if (sourceId === null) return null;
    const id = headingIds.get(headingKey(classId, sourceId));
    return id === undefined ? null : (headingIds.get(id) ?? id);
  };
  const made = new Map<string, string>();
  // Each is put before the others, so the last one comes first.
  for (const { sourceId, classId, entry, title, text, things, ...rest } of entries.toReversed()) {
    const entryId =
      made.get(entry) ?? (await addEntry(tx, { schoolId, ownerId, title, text, createdAt }));
    if (!made.has(entry)) await setThings(tx, { id: entryId, schoolId }, things);
    made.set(entry, entryId);
    const { keepOnTop, fromAt, untilAt } = rest;
    const madeId = await addAppearance(
      tx,
      {
        ...{ schoolId, entryId, classId, keepOnTop, fromAt, untilAt, createdAt },
        ...{ createdBy: ownerId, headingId: headingOf(classId, rest.headingId), held: true },
      },
      null,
    );
    carried.push({ kind: 'appearance', key: classId, sourceId, madeId });
  }
  return carried;
}

async function makeBoxes({ tx, person, prepared, t }: Doing): Promise<CarriedRecord[]> {
  const { boxes } = prepared;
  if (boxes.length === 0) return [];
  const { schoolId, id: createdBy } = person;
  const ids = await addBoxes(
    tx,
    boxes.map(({ classId, title, text, takesLate, endsAt }) => ({
      ...{ schoolId, classId, title, text, takesLate, endsAt, createdBy },
      createdAt: new Date(t),
    })),
  );
  return boxes.map(({ sourceId, classId: key }, n) => ({
    ...{ kind: 'box' as const, key, sourceId },
    madeId: ids[n]!,
  }));
}
