import { positionsBetween } from '@sammlung/core';
import { and, asc, eq, isNull, sql, type SQL } from 'drizzle-orm';
import type { Thing } from '@sammlung/contract';
import { uuids, type Queries } from '../db/database.ts';
import {
  appearancePeople,
  appearances,
  classPages,
  entries,
  entryThings,
  headings,
} from '../db/schema/index.ts';
import { inSpan } from './spans.ts';

/** Pages of classes, their headings and entries: nothing else writes them. All of it only within a transaction. */

export type Heading = typeof headings.$inferSelect;
export type Entry = typeof entries.$inferSelect;
export type Appearance = typeof appearances.$inferSelect;

/** Sets something for the page of a class. */
export async function setClassPage(
  tx: Queries,
  { id: classId, schoolId }: { readonly id: string; readonly schoolId: string },
  change: Partial<
    Pick<
      typeof classPages.$inferSelect,
      'numbered' | 'currentFolderId' | 'websiteLoose' | 'websiteTells'
    >
  >,
): Promise<void> {
  await tx
    .insert(classPages)
    .values({ classId, schoolId, ...change })
    .onConflictDoUpdate({ target: classPages.classId, set: { classId, ...change } });
}

/** Sets what is on the website of a class: which headings, which entries with their words, and what is said of the rest. */
export async function setWebsite(
  tx: Queries,
  taught: Parameters<typeof setClassPage>[1],
  {
    headings: chosen,
    texts,
    loose,
    tells,
  }: {
    readonly headings: readonly string[];
    readonly texts: readonly string[];
    readonly loose: boolean;
    readonly tells: typeof classPages.$inferSelect.websiteTells;
  },
): Promise<void> {
  await setClassPage(tx, taught, { websiteLoose: loose, websiteTells: tells });
  await tx.execute(sql`update headings set on_website = not on_website
    where class_id = ${taught.id}::uuid and on_website <> (id = any (${uuids(chosen)}))`);
  await tx.execute(sql`update appearances set open_text = not open_text
    where class_id = ${taught.id}::uuid and taken_back_at is null and open_text <> (id = any (${uuids(texts)}))`);
}

/**
 * Whether the appearance `a` is on the website of its class at `t`: it is out, for the whole class, and under a heading `h` that was
 * chosen, or under none where those were.
 */
export function appearsOnWebsite(t: SQL): SQL {
  return sql`(${outForAll(t)} and coalesce(h.on_website, (
    select s.website_loose from class_pages s where s.class_id = a.class_id), false))`;
}

/** Whether the appearance `a` is out for the whole class at `t`. */
export function outForAll(t: SQL): SQL {
  return sql`(a.taken_back_at is null and not a.held and not a.for_some and ${inSpan(sql`a`, t)})`;
}

/** Whoever moves or adds something on the page of a class waits for others who do. */
export async function lockClassPage(tx: Queries, classId: string): Promise<void> {
  await tx.execute(sql`select pg_advisory_xact_lock(hashtextextended(${`page of ${classId}`}, 0))`);
}

/** Adds a heading after the others. Under `lockClassPage`. Resolves to its id. */
export async function addHeading(
  tx: Queries,
  heading: Omit<typeof headings.$inferInsert, 'position'>,
): Promise<string> {
  const last = (await headingsOf(tx, heading.classId)).at(-1)?.position ?? 0;
  const [made] = await tx
    .insert(headings)
    .values({ ...heading, position: last + 1 })
    .returning({ id: headings.id });
  return made!.id;
}

/** The headings of a class that are there, in their order. */
export function headingsOf(db: Queries, classId: string): Promise<Heading[]> {
  return db
    .select()
    .from(headings)
    .where(and(eq(headings.classId, classId), isNull(headings.removedAt)))
    .orderBy(asc(headings.position), asc(headings.id));
}

/** A heading, removed or not; null where there is none. */
export async function headingById(db: Queries, id: string): Promise<Heading | null> {
  const [found] = await db.select().from(headings).where(eq(headings.id, id));
  return found ?? null;
}

/** Gives a heading other facts; `removedAt` removes it, or brings it back. */
export async function changeHeading(
  tx: Queries,
  id: string,
  change: Partial<Pick<Heading, 'title' | 'mark' | 'colour' | 'removedAt'>>,
): Promise<void> {
  if (Object.keys(change).length > 0)
    await tx.update(headings).set(change).where(eq(headings.id, id));
}

/** Moves a heading before another one of its class, or after all. Under `lockClassPage`. */
export async function moveHeading(
  tx: Queries,
  { id, classId }: Heading,
  before: string | null,
): Promise<void> {
  const others = (await headingsOf(tx, classId)).filter((one) => one.id !== id);
  for (const [one, position] of placed(id, others, before))
    await tx.update(headings).set({ position }).where(eq(headings.id, one));
}

/** Positions that put something before another one, or after all: of itself, and of all where there is no room left. */
function placed(
  id: string,
  others: readonly { readonly id: string; readonly position: number }[],
  before: string | null,
): [string, number][] {
  const found = others.findIndex((one) => one.id === before);
  const at = found < 0 ? others.length : found;
  const room = positionsBetween(others[at - 1]?.position ?? null, others[at]?.position ?? null, 1);
  if (room) return [[id, room[0]!]];
  const all = [
    ...others.slice(0, at).map((one) => one.id),
    id,
    ...others.slice(at).map((one) => one.id),
  ];
  return all.map((one, n) => [one, n + 1]);
}

/** Makes an entry that is nowhere yet. Resolves to its id. */
export async function addEntry(
  tx: Queries,
  entry: Omit<typeof entries.$inferInsert, 'id'>,
): Promise<string> {
  const [made] = await tx.insert(entries).values(entry).returning({ id: entries.id });
  return made!.id;
}

/** An entry; null where there is none. With `lock` others wait who change it. */
export async function entryById(db: Queries, id: string, lock = false): Promise<Entry | null> {
  const asked = db.select().from(entries).where(eq(entries.id, id));
  const [found] = await (lock ? asked.for('update') : asked);
  return found ?? null;
}

/** Gives somebody’s entries to somebody else; only these, where `ids` are given. Resolves to what was given. */
export async function giveEntries(
  tx: Queries,
  { from, to, ids }: { from: string; to: string; ids?: readonly string[] },
): Promise<string[]> {
  const given = await tx
    .update(entries)
    .set({ ownerId: to })
    .where(and(eq(entries.ownerId, from), ids && sql`${entries.id} = any (${uuids(ids)})`))
    .returning({ id: entries.id });
  return given.map(({ id }) => id);
}

/** Gives an entry other words. */
export async function changeEntry(
  tx: Queries,
  id: string,
  change: Partial<Pick<Entry, 'title' | 'text'>>,
): Promise<void> {
  if (Object.keys(change).length > 0)
    await tx.update(entries).set(change).where(eq(entries.id, id));
}

/** Gives an entry these things, in this order, in place of those that it has. */
export async function setThings(
  tx: Queries,
  { id: entryId, schoolId }: Pick<Entry, 'id' | 'schoolId'>,
  things: readonly Thing[],
): Promise<void> {
  await tx.delete(entryThings).where(eq(entryThings.entryId, entryId));
  if (things.length === 0) return;
  await tx
    .insert(entryThings)
    .values(
      things.map(({ kind, id }, n) => ({
        ...{ schoolId, entryId, position: n + 1 },
        folderId: kind === 'folder' ? id : null,
        placementId: kind === 'placement' ? id : null,
      })),
    )
    .onConflictDoNothing();
}

/** The things of an entry, in their order. */
export async function thingsOf(db: Queries, entryId: string): Promise<Thing[]> {
  const found = await db
    .select()
    .from(entryThings)
    .where(eq(entryThings.entryId, entryId))
    .orderBy(asc(entryThings.position));
  return found.map(({ folderId, placementId }) =>
    folderId ? { kind: 'folder', id: folderId } : { kind: 'placement', id: placementId! },
  );
}

/** Puts an entry on the page of a class, before all else under its heading. Resolves to the id. */
export async function addAppearance(
  tx: Queries,
  appearance: Omit<typeof appearances.$inferInsert, 'id' | 'position'>,
  people: readonly string[] | null,
): Promise<string> {
  const there = await appearancesUnder(tx, appearance.classId, appearance.headingId ?? null);
  const [made] = await tx
    .insert(appearances)
    .values({
      ...appearance,
      position: (there[0]?.position ?? 1) - 1,
      forSome: people !== null,
    })
    .returning({ id: appearances.id });
  await setPeople(tx, { id: made!.id, schoolId: appearance.schoolId }, people);
  return made!.id;
}

/** What is under a heading of a class (null: under none), in its order. */
function appearancesUnder(db: Queries, classId: string, headingId: string | null) {
  return db
    .select()
    .from(appearances)
    .where(
      and(
        eq(appearances.classId, classId),
        sql`${appearances.headingId} is not distinct from ${headingId}::uuid`,
        isNull(appearances.takenBackAt),
      ),
    )
    .orderBy(asc(appearances.position), asc(appearances.id));
}

async function setPeople(
  tx: Queries,
  { id: appearanceId, schoolId }: Pick<Appearance, 'id' | 'schoolId'>,
  people: readonly string[] | null,
): Promise<void> {
  await tx.delete(appearancePeople).where(eq(appearancePeople.appearanceId, appearanceId));
  if (people)
    await tx
      .insert(appearancePeople)
      .values([...new Set(people)].map((personId) => ({ schoolId, appearanceId, personId })));
}

/** An appearance, taken back or not; null where there is none. */
export async function appearanceById(db: Queries, id: string): Promise<Appearance | null> {
  const [found] = await db.select().from(appearances).where(eq(appearances.id, id));
  return found ?? null;
}

/** Where an entry is, of what has not been taken back. */
export function appearancesOf(db: Queries, entryId: string): Promise<Appearance[]> {
  return db
    .select()
    .from(appearances)
    .where(and(eq(appearances.entryId, entryId), isNull(appearances.takenBackAt)));
}

/** Changes when, and for whom (`people`; null for the whole class), an entry appears; `takenBackAt` takes it from the page. */
export async function changeAppearance(
  tx: Queries,
  appearance: Appearance,
  change: Partial<
    Pick<Appearance, 'keepOnTop' | 'held' | 'fromAt' | 'untilAt' | 'takenBackAt' | 'takenBackBy'>
  >,
  people?: readonly string[] | null,
): Promise<void> {
  const forSome = people === undefined ? {} : { forSome: people !== null };
  if (people !== undefined) await setPeople(tx, appearance, people);
  const set = { ...change, ...forSome };
  if (Object.keys(set).length > 0)
    await tx.update(appearances).set(set).where(eq(appearances.id, appearance.id));
}

/** Moves an entry under a heading of the page, before another one there or after all. Under `lockClassPage`. */
export async function moveAppearance(
  tx: Queries,
  { id, classId }: Appearance,
  headingId: string | null,
  before: string | null,
): Promise<void> {
  const others = (await appearancesUnder(tx, classId, headingId)).filter((one) => one.id !== id);
  await tx.update(appearances).set({ headingId }).where(eq(appearances.id, id));
  for (const [one, position] of placed(id, others, before))
    await tx.update(appearances).set({ position }).where(eq(appearances.id, one));
}
