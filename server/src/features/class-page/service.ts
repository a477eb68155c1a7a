import type {
  AppearanceChange,
  AppearanceMove,
  EntryChange,
  NewEntry,
  Release,
} from '@sammlung/contract';
import type { ReleaseRule } from '@sammlung/core';
import type { z } from 'zod';
import { toDate, toIso, type Queries } from '../../db/database.ts';
import { loadLibrary } from '../../domain/access/load-library.ts';
import { Rights } from '../../domain/access/rights.ts';
import {
  addAppearance,
  addEntry,
  appearanceById,
  appearancesOf,
  changeAppearance,
  changeEntry,
  entryById,
  headingById,
  headingsOf,
  lockClassPage,
  moveAppearance,
  setThings,
  thingsOf,
  type Appearance,
  type Entry,
} from '../../domain/class-pages.ts';
import { applyAppearance, targetsOf } from '../../domain/grants.ts';
import { requireTaughtClass } from '../../domain/managed.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import { ownHeading } from './rights.ts';
import { appearancesMade, membersNow, pagesWith, placesOfThings } from './queries.ts';

type Needs = Pick<Services, 'db' | 'now'>;
type Places = readonly z.infer<typeof NewEntry>['on'][number][];

/** Who does something with an entry, and when; with the transaction in which it is done. */
interface Doing {
  readonly tx: Queries;
  readonly person: SignedIn;
  readonly t: number;
}

/** Makes an entry, puts it on pages of classes, and hands its things out with it. Throws `class-cannot-open`. */
export async function makeEntry(
  { db, now }: Needs,
  person: SignedIn,
  { title, text, things, on }: z.infer<typeof NewEntry>,
) {
  return db.transaction(async (tx) => {
    const doing = { tx, person, t: now() };
    await requireDecides(doing, things);
    const { schoolId, id: ownerId } = person;
    const id = await addEntry(tx, { schoolId, ownerId, title, text, createdAt: new Date(doing.t) });
    await setThings(tx, { id, schoolId }, things);
    return { id, appearances: await putOn(doing, { id, schoolId }, on) };
  });
}

/** Whoever hands something out has to be allowed to: as without an entry. Throws as `Rights` does. */
const requireDecides = ({ tx, person, t }: Doing, things: Parameters<typeof targetsOf>[1]) =>
  targetsOf(new Rights(tx, person, t), things);

/** Puts an entry on further pages. Throws `already-here` where it is there. */
export async function appearOn({ db, now }: Needs, person: SignedIn, entryId: string, on: Places) {
  return db.transaction(async (tx) => {
    const doing = { tx, person, t: now() };
    const entry = await ownEntry(doing, entryId);
    await requireDecides(doing, await thingsOf(tx, entryId));
    return { id: entryId, appearances: await putOn(doing, entry, on) };
  });
}

async function putOn(
  doing: Doing,
  { id: entryId, schoolId }: Pick<Entry, 'id' | 'schoolId'>,
  on: Places,
): Promise<string[]> {
  const { tx, person, t } = doing;
  const there = new Set((await appearancesOf(tx, entryId)).map(({ classId }) => classId));
  // In one order, whoever does it: two who do so at a time wait for each other, and not each for the other.
  for (const classId of on.map((one) => one.classId).sort()) await lockClassPage(tx, classId);
  const made: string[] = [];
  for (const { classId, headingId, keepOnTop, release, people } of on) {
    if (there.has(classId)) throw new AppError('already-here');
    there.add(classId);
    await requireTaughtClass(tx, person, classId);
    await requireMembers(doing, classId, people);
    const heading = await headingOn(doing, classId, headingId);
    const facts = { schoolId, entryId, classId, headingId: heading, keepOnTop, ...span(release) };
    const by = { createdBy: person.id, createdAt: new Date(t) };
    const id = await addAppearance(tx, { ...facts, ...by }, people);
    await handOut(doing, id);
    made.push(id);
  }
  return made;
}

function span({ held, from, until }: { held: boolean; from: string | null; until: string | null }) {
  if (from && until && from >= until) throw new AppError('ends-before-start');
  return { held, fromAt: toDate(from), untilAt: toDate(until) };
}

/** The heading of a class, by its id or by that of one of the same title on another page of the person. Throws `not-found`. */
async function headingOn({ tx, person }: Doing, classId: string, headingId: string | null) {
  if (headingId === null) return null;
  const { title, classId: of } = await ownHeading(tx, person, headingId);
  if (of === classId) return headingId;
  return (await headingsOf(tx, classId)).find((heading) => heading.title === title)?.id ?? null;
}

async function requireHeading(tx: Queries, classId: string, headingId: string | null) {
  if (headingId === null) return;
  const heading = await headingById(tx, headingId);
  if (heading?.classId !== classId || heading.removedAt) throw new AppError('not-found');
}

/** Throws `audience-unknown` for people who do not belong to the class now. */
async function requireMembers({ tx, t }: Doing, classId: string, people: readonly string[] | null) {
  if (people === null) return;
  const found = await membersNow(tx, classId, t, people);
  if (found.length < new Set(people).size) throw new AppError('audience-unknown');
}

/** Hands out what an appearance is to hand out now. Throws `class-cannot-open` where it would open nothing. */
async function handOut(doing: Doing, appearanceId: string): Promise<void> {
  const { tx, person, t } = doing;
  await applyAppearance(tx, appearanceId, { personId: person.id, t });
  const appearance = (await appearanceById(tx, appearanceId))!;
  if (appearance.held || appearance.takenBackAt) return;
  await requireOpens(doing, appearance);
}

/** As a page is released when it is shown for the first time. */
const OUT: ReleaseRule = { held: false, from: null, until: null, perClass: new Map() };

/** Everything in an entry opens for its class at some time while it appears, as far as releases and years say. */
async function requireOpens({ tx, t }: Doing, appearance: Appearance): Promise<void> {
  const places = await placesOfThings(tx, appearance.entryId);
  const library = await loadLibrary(tx, {
    folderIds: places.map(({ folderId }) => folderId),
    itemIds: places.flatMap(({ itemId }) => itemId ?? []),
  });
  const { classId } = appearance;
  const key = { kind: 'class' as const, id: classId, reading: classId, exempt: false };
  const until = appearance.untilAt?.getTime() ?? Infinity;
  for (const { folderId, placementId, title, unshown } of places) {
    const there = placementId === null ? null : library.placements.get(placementId);
    const placement = there && unshown ? { ...there, release: OUT } : there;
    const open = placement === undefined ? null : library.openOn(key, folderId, placement);
    if (!open || open.until <= t || open.from >= until)
      throw new AppError('class-cannot-open', { faults: [{ field: 'things', fault: title }] });
  }
}

/**
 * An entry whose words and things the person may change: their own, or one that is only on pages which they make. Others wait who
 * change it. Throws `not-found`, `not-allowed`.
 */
async function ownEntry({ tx, person }: Doing, id: string): Promise<Entry> {
  const entry = await entryById(tx, id, true);
  if (!entry || entry.schoolId !== person.schoolId || person.kind !== 'teacher')
    throw new AppError('not-found');
  if (entry.ownerId === person.id) return entry;
  const { pages, own } = await pagesWith(tx, id, person.id);
  if (own === 0) throw new AppError('not-found');
  if (own < pages) throw new AppError('not-allowed');
  return entry;
}

/**
 * Changes the words and things of an entry. What it hands out follows on the pages that the person makes: to a class that they no
 * longer teach, or of a closed year, nothing more is handed out, and nothing is taken from it.
 */
export async function editEntry(
  { db, now }: Needs,
  person: SignedIn,
  id: string,
  { things, ...words }: EntryChange,
) {
  await db.transaction(async (tx) => {
    const doing = { tx, person, t: now() };
    const entry = await ownEntry(doing, id);
    await changeEntry(tx, id, words);
    if (things === undefined) return;
    const before = new Set((await thingsOf(tx, id)).map((thing) => thing.id));
    await requireDecides(
      doing,
      things.filter((thing) => !before.has(thing.id)),
    );
    await setThings(tx, entry, things);
    for (const appearanceId of await appearancesMade(tx, id, person.id))
      await handOut(doing, appearanceId);
  });
}

/** An appearance on a page that the person makes. Throws `not-found`. */
async function ownAppearance(
  { tx, person }: Doing,
  id: string,
  state: 'there' | 'taken back' = 'there',
): Promise<Appearance> {
  const found = await appearanceById(tx, id);
  if (!found || (found.takenBackAt === null) !== (state === 'there'))
    throw new AppError('not-found');
  await requireTaughtClass(tx, person, found.classId);
  return found;
}

/** Changes when, and for whom, an entry is on a page. What hands out more needs the right to do so. */
export async function editAppearance(
  { db, now }: Needs,
  person: SignedIn,
  id: string,
  change: AppearanceChange,
) {
  await db.transaction((tx) => setAppearance({ tx, person, t: now() }, id, change));
}

async function setAppearance(
  doing: Doing,
  id: string,
  { keepOnTop, release, people }: AppearanceChange,
): Promise<Appearance> {
  const { tx } = doing;
  const { classId } = await ownAppearance(doing, id);
  await lockClassPage(tx, classId);
  const appearance = await ownAppearance(doing, id);
  // Whoever only keeps it back hands nothing out.
  if ((release && !release.held) || people !== undefined) {
    await requireDecides(doing, await thingsOf(tx, appearance.entryId));
    await requireMembers(doing, classId, people ?? null);
  }
  await changeAppearance(
    tx,
    appearance,
    { ...(keepOnTop !== undefined && { keepOnTop }), ...(release && span(release)) },
    people,
  );
  if (release || people !== undefined) await handOut(doing, id);
  return appearance;
}

/** The same on all pages of an entry that the person makes. Resolves to what each was before. Throws `not-found` where there is none. */
export async function editEverywhere(
  { db, now }: Needs,
  person: SignedIn,
  entryId: string,
  change: Pick<AppearanceChange, 'release'>,
) {
  return db.transaction(async (tx) => {
    const doing = { tx, person, t: now() };
    const before: { appearanceId: string; release: Release }[] = [];
    for (const id of await madeAppearances(doing, entryId)) {
      const { held, fromAt, untilAt } = await setAppearance(doing, id, change);
      const release = { held, from: toIso(fromAt), until: toIso(untilAt) };
      before.push({ appearanceId: id, release });
    }
    return { before };
  });
}

/** Those of an entry on pages that the person makes, in one order whoever asks. Throws `not-found`. */
async function madeAppearances({ tx, person }: Doing, entryId: string): Promise<string[]> {
  const found = await appearancesMade(tx, entryId, person.id);
  if (found.length === 0) throw new AppError('not-found');
  return found;
}

export async function placeAppearance(
  { db, now }: Needs,
  person: SignedIn,
  id: string,
  { headingId, before }: z.infer<typeof AppearanceMove>,
) {
  await db.transaction(async (tx) => {
    const doing = { tx, person, t: now() };
    const { classId } = await ownAppearance(doing, id);
    await lockClassPage(tx, classId);
    await requireHeading(tx, classId, headingId);
    await moveAppearance(tx, await ownAppearance(doing, id), headingId, before);
  });
}

/** Takes an entry from a page, and back what it has handed out there. */
export async function takeBackAppearance({ db, now }: Needs, person: SignedIn, id: string) {
  await db.transaction((tx) => takeBack({ tx, person, t: now() }, id));
}

async function takeBack(doing: Doing, id: string) {
  const { tx, person, t } = doing;
  const appearance = await ownAppearance(doing, id);
  await changeAppearance(tx, appearance, { takenBackAt: new Date(t), takenBackBy: person.id });
  await applyAppearance(tx, id, { personId: person.id, t });
}

/** The same on all pages of an entry that the person makes. Throws `not-found` where there is none. */
export async function takeBackEverywhere({ db, now }: Needs, person: SignedIn, entryId: string) {
  return db.transaction(async (tx) => {
    const doing = { tx, person, t: now() };
    const found = await madeAppearances(doing, entryId);
    for (const id of found) await takeBack(doing, id);
    return { appearances: found };
  });
}

/** Undoes that: whoever does it has to be allowed to hand the things out now. Throws `already-here`. */
export async function restoreAppearance({ db, now }: Needs, person: SignedIn, id: string) {
  await db.transaction(async (tx) => {
    const doing = { tx, person, t: now() };
    const appearance = await ownAppearance(doing, id, 'taken back');
    await lockClassPage(tx, appearance.classId);
    const { entryId, classId } = appearance;
    const there = await appearancesOf(tx, entryId);
    if (there.some((one) => one.classId === classId)) throw new AppError('already-here');
    await requireDecides(doing, await thingsOf(tx, entryId));
    await changeAppearance(tx, appearance, { takenBackAt: null, takenBackBy: null });
    await handOut(doing, id);
  });
}
