import { randomUUID } from 'node:crypto';
import type { CarriedCounts, CarryPlan } from '@sammlung/contract';
import {
  carriedKey,
  carriedName,
  freeFileTitle,
  groupBy,
  movedDay,
  nameKey,
  planCarryOver,
  withExtension,
  type CarriedBefore,
  type CarryOverPlan,
  type Frame,
  type Renaming,
  type Successors,
  type TreeToCarry,
} from '@sammlung/core';
import type { Queries } from '../../db/database.ts';
import { Rights } from '../../domain/access/rights.ts';
import { carriedBefore } from '../../domain/carry-overs.ts';
import { checkedTitle } from '../../domain/files/make-folder.ts';
import { folderNamesIn } from '../../domain/folders.ts';
import { layoutOf } from '../../domain/teacher-settings.ts';
import { AppError } from '../../platform/errors.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import { prepareBoxes, preparePages, type BoxToMake, type PagesToMake } from './class-pages.ts';
import { movingOf, type Moving } from './moving.ts';
import {
  boxesToCarry,
  classesWith,
  foldersToCarry,
  placementsToCarry,
  takenIn,
  type SourceFolder,
  type SourcePlacement,
} from './queries.ts';

/** Folders and things that one carrying over may concern. */
const MOST = 200_000;

/** An item that is copied: a page, or what belongs to a colleague. */
export interface CopyToMake {
  readonly id: string;
  readonly sourceId: string;
  readonly kind: SourcePlacement['kind'];
  readonly title: string;
  readonly lessonDate: string | null;
  readonly hash: string | null;
}

/** All that is to be done. */
export interface Prepared extends Moving {
  readonly folders: readonly SourceFolder[];
  readonly placements: ReadonlyMap<string, SourcePlacement>;
  readonly trees: readonly TreeToCarry[];
  readonly plan: CarryOverPlan;
  /** By the ids of the placements that are to be made. */
  readonly copies: ReadonlyMap<string, CopyToMake>;
  /** Folders that are handed out to classes, where that is wanted. */
  readonly handings: readonly { readonly folderId: string; readonly classId: string }[];
  readonly pages: PagesToMake;
  readonly boxes: readonly BoxToMake[];
  readonly known: ReadonlyMap<string, CarriedBefore>;
  /** What takes the place of something (`carriedKey`); undefined for what is not carried over. */
  readonly made: (key: string) => string | undefined;
  readonly counts: CarriedCounts;
}

/**
 * What is to be carried over, and the folders that were chosen. Throws `same-year`, `year-closed`, `name-not-allowed`, and `not-found` for what is not the person’s:
 * folders of others, and classes and boxes that they do not teach.
 */
export async function checkPlan(tx: Queries, person: SignedIn, asked: CarryPlan, t: number) {
  if (person.kind === 'student') throw new AppError('not-found');
  const moving = await movingOf(tx, person, asked);
  const rights = new Rights(tx, person, t);
  const chosen = await rights.folders([...new Set(asked.folders)], 'own');
  if (chosen.some(({ placeId }) => placeId !== null)) throw new AppError('not-found');
  if (asked.into !== null) await rights.folder(asked.into, 'own');
  for (const { title } of asked.names) checkedTitle(title);
  const boxes = await boxesToCarry(tx, asked.boxes);
  const followed = [...asked.pages, ...boxes.map(({ classId }) => classId)];
  if (boxes.length < new Set(asked.boxes).size || followed.some((id) => !moving.to.has(id)))
    throw new AppError('not-found');
  return { moving, chosen, boxes };
}

/** What carrying over would do now. Throws `too-many`, and as `checkPlan` does. */
export async function prepare(
  tx: Queries,
  person: SignedIn,
  asked: CarryPlan,
  t: number,
): Promise<Prepared> {
  const { moving, chosen, boxes: asBefore } = await checkPlan(tx, person, asked, t);
  const folders = await foldersToCarry(
    tx,
    chosen.map(({ id }) => id),
  );
  // One that is chosen with one above it comes with that.
  const topOf = new Map<string, string>();
  for (const { id, parentId } of folders)
    topOf.set(id, (parentId === null ? undefined : topOf.get(parentId)) ?? id);
  const tops = chosen.map(({ id }) => id).filter((id) => topOf.get(id) === id);
  const ids = folders.map(({ id }) => id);
  const placements = await placementsToCarry(tx, ids);
  if (folders.length + placements.length > MOST) throw new AppError('too-many');
  const handed = groupBy(
    (await classesWith(tx, ids, tops)).filter(({ classId }) => moving.to.has(classId)),
    ({ folderId }) => folderId,
  );
  const known = new Map<string, CarriedBefore>(
    (await carriedBefore(tx, person.id, [...ids, ...placements.map(({ id }) => id)])).flatMap(
      ({ kind, key, sourceId, madeId, binned }) =>
        kind === 'folder' || kind === 'placement'
          ? [[carriedKey(kind, key, sourceId), { id: madeId, binned }]]
          : [],
    ),
  );
  const layout = await layoutOf(tx, person.id);
  const below = groupBy(
    [...handed].flatMap(([id, those]) =>
      those.map(({ classId }) => ({ top: topOf.get(id)!, classId })),
    ),
    ({ top }) => top,
  );
  const trees = tops.flatMap((id) =>
    treesOf(moving, id, handed.get(id) ?? below.get(id) ?? [], layout),
  );
  const taken = await takenIn(
    tx,
    [...new Set(trees.map(({ key }) => key))].flatMap((key) =>
      ids.flatMap((id) => known.get(carriedKey('folder', key, id))?.id ?? []),
    ),
  );
  const names = groupBy(taken.folders, ({ folderId }) => folderId);
  const top = await folderNamesIn(tx, person.id, asked.into);
  const whole = planCarryOver(
    {
      ...{ folders, placements, trees, known, move: moving.move },
      namesIn: (id) =>
        id === null ? top : new Set((names.get(id) ?? []).map(({ key }) => nameKey(key))),
    },
    randomUUID,
  );
  const sources = new Map(placements.map((one) => [one.id, one]));
  const { plan, copies } = withCopies(moving, whole, sources, trees, taken.things);
  const handings = asked.handOut ? handingsOf(plan, trees, handed) : [];
  const made = successorsOf(plan, known);
  const pages = await preparePages(tx, moving, made);
  const boxes = await prepareBoxes(tx, moving, asBefore);
  return {
    ...moving,
    ...{ folders, placements: sources, trees, plan, copies, handings, pages, boxes, known, made },
    counts: {
      folders: plan.folders.length,
      placements: plan.placements.length,
      copies: copies.size,
      headings: pages.headings.length,
      entries: pages.entries.length,
      boxes: boxes.length,
    },
  };
}

/**
 * What is made out of a folder. One that a single class had is made for each of the classes that take its place; one that several had, once for all
 * of theirs; one that no class had, once.
 */
function treesOf(
  moving: Moving,
  folderId: string,
  handed: readonly { classId: string }[],
  layout: { pattern: string; purpose: string } | null,
): TreeToCarry[] {
  const { asked, classes, to, person, from, into } = moving;
  const before = [...new Set(handed.map(({ classId }) => classId))];
  const next = new Map<string, string[]>();
  for (const old of before)
    for (const id of to.get(old)!) next.set(id, [...(next.get(id) ?? []), old]);
  const each = before.length === 1 || next.size === 1;
  const parts: Successors[] =
    each && next.size > 0 ? [...next].map((one) => new Map([one])) : [next];
  return parts.map((successors) => {
    const key = successors.size === 1 ? [...successors.keys()][0]! : asked.to;
    const code = (id: string) => classes.get(id)!.code;
    const nameParts = (id: string, year: Frame) => ({
      year: Number(year.firstDay.slice(0, 4)),
      course: classes.get(id)!.course,
      class: code(id),
      teacher: person.name.split(' ').at(-1) ?? person.name,
      unit: 0,
      kind: layout?.purpose ?? '',
    });
    const only = successors.size === 1 ? key : null;
    const renaming: Renaming = {
      from: before.length > 0 ? { ...from, classes: before.map(code) } : from,
      to: successors.size > 0 ? { ...into, classes: [...successors.keys()].map(code) } : into,
      pattern:
        layout && only !== null
          ? {
              text: layout.pattern,
              before: before.map((id) => nameParts(id, from)),
              after: nameParts(only, into),
            }
          : null,
    };
    const said = asked.names.find((name) => name.folder === folderId && name.key === key);
    return {
      ...{ folderId, key, successors },
      rename: (title, depth) => (depth === 0 && said ? said.title : carriedName(title, renaming)),
    };
  });
}

/**
 * The plan without what is in its folders already by another way, and with what is copied in place of being placed again: pages, which each year
 * changes, and things of colleagues.
 */
function withCopies(
  { person, move }: Moving,
  plan: CarryOverPlan,
  sources: ReadonlyMap<string, SourcePlacement>,
  trees: readonly TreeToCarry[],
  taken: readonly { folderId: string; key: string }[],
): { plan: CarryOverPlan; copies: Map<string, CopyToMake> } {
  const renames = new Map(trees.map(({ folderId, key, rename }) => [`${folderId} ${key}`, rename]));
  const there = groupBy(taken, ({ folderId }) => folderId);
  const names = new Map<string, Set<string>>();
  const copies = new Map<string, CopyToMake>();
  const kept: CarryOverPlan['placements'][number][] = [];
  const copied = (source: SourcePlacement) =>
    source.kind === 'page' || source.ownerId !== person.id;
  const namesIn = (folderId: string) => {
    const known = names.get(folderId) ?? new Set((there.get(folderId) ?? []).map(({ key }) => key));
    names.set(folderId, known);
    return known;
  };
  // What keeps its name comes first, so that a copy finds one that is free.
  for (const one of plan.placements) {
    const source = sources.get(one.sourceId)!;
    if (copied(source)) continue;
    const known = namesIn(one.folderId);
    if (known.has(source.nameKey)) continue;
    known.add(source.nameKey);
    kept.push(one);
  }
  for (const one of plan.placements) {
    const source = sources.get(one.sourceId)!;
    if (!copied(source)) continue;
    const known = namesIn(one.folderId);
    const { extension } = source;
    const wanted = renames.get(`${one.top} ${one.key}`)!(source.title, 1);
    const title = freeFileTitle({ title: wanted, extension }, known);
    known.add(nameKey(withExtension(title, extension)));
    copies.set(one.id, {
      ...{ id: randomUUID(), sourceId: source.itemId, kind: source.kind, title, hash: source.hash },
      lessonDate: source.lessonDate && movedDay(source.lessonDate, move),
    });
    kept.push(one);
  }
  const skipped = plan.placements.length - kept.length;
  return { plan: { ...plan, placements: kept, there: plan.there + skipped }, copies };
}

/** What was made, or will be, by what it is made after. */
function successorsOf(plan: CarryOverPlan, known: ReadonlyMap<string, CarriedBefore>) {
  const made = new Map<string, string>();
  for (const [key, { id, binned }] of known) if (!binned) made.set(key, id);
  for (const { key, sourceId, id } of plan.folders)
    made.set(carriedKey('folder', key, sourceId), id);
  for (const { key, sourceId, id } of plan.placements)
    made.set(carriedKey('placement', key, sourceId), id);
  return (key: string) => made.get(key);
}

/** Each folder that is made goes to those classes that take the place of the classes that had the folder before it. */
function handingsOf(
  plan: CarryOverPlan,
  trees: readonly TreeToCarry[],
  handed: ReadonlyMap<string, readonly { classId: string }[]>,
) {
  const successors = new Map(
    trees.map((tree) => [`${tree.folderId} ${tree.key}`, [...tree.successors]]),
  );
  return plan.folders.flatMap(({ id, sourceId, top, key }) => {
    const had = new Set((handed.get(sourceId) ?? []).map(({ classId }) => classId));
    return successors
      .get(`${top} ${key}`)!
      .flatMap(([classId, before]) =>
        before.some((old) => had.has(old)) ? [{ folderId: id, classId }] : [],
      );
  });
}
