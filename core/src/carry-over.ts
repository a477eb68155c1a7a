import { groupBy } from './group.ts';
import type { Id, Instant, Release, ReleaseRule, Span } from './model.ts';
import { checkName, fillPattern, freeTitle, nameKey, type NameParts } from './naming.ts';
import { OUT, releaseFor, releaseState } from './release.ts';
import { staleDates, withProposals, type Frame } from './stale-dates.ts';
import { isOff, nextSchoolDay, type SchoolDays } from './timetable.ts';
import { dayAfter, instantAt, wallTime, type Day } from './zone.ts';

/** Carry over: the structure of one year for the classes of another one. Doing it again adds only what is missing. */

/** The first and the last day of a school year. */
interface Days {
  readonly firstDay: Day;
  readonly lastDay: Day;
}

/** From one school year to another one, by the calendar of the school. */
export interface YearMove {
  readonly from: Days;
  readonly to: Days;
  readonly school: SchoolDays;
}

const DAY_MS = 86_400_000;

/**
 * The day of the later year that has the place of a day of the earlier one: whole weeks on, so that a Tuesday stays a Tuesday. Weeks are
 * counted from the beginning of its term where both years have as many terms, else from the beginning of the year. A day off
 * becomes the next school day.
 */
export function movedDay(day: Day, { from, to, school }: YearMove): Day {
  const [old, now] = [termsOf(from, school), termsOf(to, school)];
  const term = Math.max(
    0,
    old.findLastIndex((first) => first <= day),
  );
  const [begin, end] =
    old.length > 0 && old.length === now.length
      ? [old[term]!, now[term]!]
      : [from.firstDay, to.firstDay];
  const weeks = Math.round((Date.parse(end) - Date.parse(begin)) / (7 * DAY_MS));
  const moved = dayAfter(day, weeks * 7);
  return isOff(moved, school) ? (nextSchoolDay(moved, [], school) ?? moved) : moved;
}

/** The first days of the terms within a year, in order. */
const termsOf = ({ firstDay, lastDay }: Days, { days }: SchoolDays): Day[] =>
  days
    .filter((one) => one.kind === 'term' && one.lastDay >= firstDay && one.firstDay <= lastDay)
    .map((one) => one.firstDay)
    .sort();

/** The same for an instant: at the same time by the clock on the wall, also where the clocks change between. */
export function movedInstant(t: Instant, move: YearMove): Instant {
  const { zone } = move.school;
  const wall = wallTime(t, zone);
  return instantAt(`${movedDay(wall.slice(0, 10), move)}${wall.slice(10)}`, zone);
}

/** The same for a span: never shorter than nothing, where its two ends move by different numbers of weeks. */
export function movedSpan({ from, until }: Span, move: YearMove): Span {
  const [begins, ends] = [from, until].map((t) => (t === null ? null : movedInstant(t, move)));
  const backwards = begins !== null && ends !== null && ends! <= begins!;
  return { from: begins!, until: backwards ? begins! + (until! - from!) : ends! };
}

/** What all of these let be seen together, and no more. */
export function strictest(releases: readonly Release[]): Release {
  const all = (ends: readonly (Instant | null)[], which: (...ends: number[]) => number) => {
    const known = ends.filter((t) => t !== null);
    return known.length > 0 ? which(...known) : null;
  };
  const held = releases.some((release) => release.held);
  const from = all(
    releases.map((release) => release.from),
    Math.max,
  );
  const until = all(
    releases.map((release) => release.until),
    Math.min,
  );
  // At no time are all of them out.
  if (from !== null && until !== null && until <= from) return { ...OUT, held: true };
  return { held, from, until };
}

/** For which classes something is made: each with those of the earlier year of which it takes the place. */
export type Successors = ReadonlyMap<Id, readonly Id[]>;

/**
 * The release of what is made out of something. For one class it reads as it did for the class before, for several each keeps its own. A class that
 * takes the place of several gets to see nothing sooner, or longer, than the strictest of them would.
 */
export function carriedRelease(
  rule: ReleaseRule,
  successors: Successors,
  move: YearMove,
): ReleaseRule {
  const moved = (release: Release): Release => ({
    held: release.held,
    ...movedSpan(release, move),
  });
  const readBy = (classes: readonly Id[]) =>
    strictest((classes.length > 0 ? classes : [null]).map((id) => moved(releaseFor(rule, id))));
  if (successors.size === 1)
    return { ...readBy([...successors.values()][0]!), perClass: new Map() };
  const own = [...successors].filter(([, classes]) => classes.some((id) => rule.perClass.has(id)));
  return {
    ...moved(rule),
    perClass: new Map(own.map(([id, classes]) => [id, readBy(classes)])),
  };
}

/** How names become those of the later year. */
export interface Renaming {
  readonly from: Frame;
  readonly to: Frame;
  /** A teacher's naming pattern, with what it was and will be filled with; null where it is for no single class. */
  readonly pattern: {
    readonly text: string;
    readonly before: readonly NameParts[];
    readonly after: NameParts;
  } | null;
}

/** The name of a thing in the later year: by the pattern where it was named by that, else with what is out of date in it mended. */
export function carriedName(title: string, { from, to, pattern }: Renaming): string {
  const byPattern =
    pattern &&
    pattern.before.some((parts) => nameKey(fillPattern(pattern.text, parts)) === nameKey(title))
      ? fillPattern(pattern.text, pattern.after).normalize('NFC')
      : null;
  const mended = byPattern ?? withProposals(title, staleDates(title, from, to));
  return checkName(mended).faults.length > 0 ? title : mended;
}

/** A folder of the earlier year. */
export interface FolderToCarry {
  readonly id: Id;
  readonly parentId: Id | null;
  readonly title: string;
  readonly release: ReleaseRule;
}

/** An item where it is in the earlier year. */
export interface PlacementToCarry {
  readonly id: Id;
  readonly folderId: Id;
  readonly release: ReleaseRule;
}

/** What is to be made out of one folder, with all below it. */
export interface TreeToCarry {
  /** The topmost folder of the earlier year. */
  readonly folderId: Id;
  /** Tells apart what is made more than once out of the same folder: the class for which it is, or the year. */
  readonly key: Id;
  readonly successors: Successors;
  readonly rename: (title: string, depth: number) => string;
}

/** What was made earlier out of something; one that is in the Bin was not wanted. */
export interface CarriedBefore {
  readonly id: Id;
  readonly binned: boolean;
}

interface Made {
  /** The tree of which it is: its topmost folder, and its key. */
  readonly top: Id;
  readonly key: Id;
  readonly sourceId: Id;
  readonly id: Id;
  readonly release: ReleaseRule;
}
/** `parentId` is the folder, made now or before, in which it is; null where the tree begins. */
export interface FolderToMake extends Made {
  readonly parentId: Id | null;
  readonly title: string;
}
export interface PlacementToMake extends Made {
  readonly folderId: Id;
}

export interface CarryOverPlan {
  /** From the top down, so that each one's parent comes before it. */
  readonly folders: readonly FolderToMake[];
  readonly placements: readonly PlacementToMake[];
  /** How many folders and placements are there already. */
  readonly there: number;
  /** How many were removed after they had been carried over: they stay removed, with what is in them. */
  readonly removed: number;
}

/** Key of what was made of something: `known` has what was made before by it. */
export const carriedKey = (kind: 'folder' | 'placement', key: Id, sourceId: Id) =>
  `${kind} ${key} ${sourceId}`;

/**
 * What is to be made for these trees. Whatever was made before is used as it is, under whichever name it has by now. `namesIn` has the keys of
 * names that are taken in folders that are there; null stands for where the trees begin. The work grows with what there is to carry over.
 */
export function planCarryOver(
  {
    folders,
    placements,
    trees,
    known,
    namesIn,
    move,
  }: {
    readonly folders: readonly FolderToCarry[];
    readonly placements: readonly PlacementToCarry[];
    readonly trees: readonly TreeToCarry[];
    readonly known: ReadonlyMap<string, CarriedBefore>;
    readonly namesIn: (folderId: Id | null) => ReadonlySet<string>;
    readonly move: YearMove;
  },
  newId: () => Id,
): CarryOverPlan {
  const below = groupBy(folders, (folder) => folder.parentId);
  const within = groupBy(placements, (placement) => placement.folderId);
  const byId = new Map(folders.map((folder) => [folder.id, folder]));
  const plan = {
    folders: [] as FolderToMake[],
    placements: [] as PlacementToMake[],
    ...{ there: 0, removed: 0 },
  };
  const names = new Map<Id | null, Set<string>>();
  const freeName = (parentId: Id | null, title: string) => {
    const taken = names.get(parentId) ?? new Set(namesIn(parentId));
    names.set(parentId, taken);
    const free = freeTitle(title, taken);
    taken.add(nameKey(free));
    return free;
  };
  for (const { folderId, key, successors, rename } of trees) {
    const top = byId.get(folderId);
    if (!top) continue;
    const before = (kind: 'folder' | 'placement', id: Id) => known.get(carriedKey(kind, key, id));
    const release = ({ release }: { release: ReleaseRule }) =>
      carriedRelease(release, successors, move);
    const waiting: { folder: FolderToCarry; parentId: Id | null; depth: number }[] = [
      { folder: top, parentId: null, depth: 0 },
    ];
    for (const { folder, parentId, depth } of waiting) {
      const there = before('folder', folder.id);
      if (there?.binned) {
        plan.removed += 1;
        continue;
      }
      const id = there?.id ?? newId();
      if (there) plan.there += 1;
      else
        plan.folders.push({
          ...{ top: folderId, key, sourceId: folder.id, id, parentId, release: release(folder) },
          title: freeName(parentId, rename(folder.title, depth)),
        });
      for (const placement of within.get(folder.id) ?? []) {
        const placed = before('placement', placement.id);
        if (placed?.binned) plan.removed += 1;
        else if (placed) plan.there += 1;
        else
          plan.placements.push({
            ...{ top: folderId, key, sourceId: placement.id, id: newId(), folderId: id },
            release: release(placement),
          });
      }
      for (const child of below.get(folder.id) ?? [])
        waiting.push({ folder: child, parentId: id, depth: depth + 1 });
    }
  }
  return plan;
}

/** How many things a class would see: now, later, and not before somebody lets them go out. */
export interface SightOfPlan {
  readonly now: number;
  readonly later: number;
  readonly held: number;
}

/** Of the placements that a plan makes, how many a class would see at `t` if these folders of the plan were handed out to it. */
export function sightOfPlan(
  { folders, placements }: Pick<CarryOverPlan, 'folders' | 'placements'>,
  classId: Id,
  handed: ReadonlySet<Id>,
  t: Instant,
): SightOfPlan {
  // What a folder lets be seen with all above it, and whether it is handed out with them.
  const chain = new Map<Id, { release: Release; handed: boolean }>();
  for (const { id, parentId, release } of folders) {
    const above = parentId === null ? undefined : chain.get(parentId);
    chain.set(id, {
      release: strictest([...(above ? [above.release] : []), releaseFor(release, classId)]),
      handed: (above?.handed ?? false) || handed.has(id),
    });
  }
  const count = { now: 0, later: 0, held: 0 };
  for (const { folderId, release } of placements) {
    const folder = chain.get(folderId);
    if (!folder?.handed) continue;
    const state = releaseState(strictest([folder.release, releaseFor(release, classId)]), t);
    count[state === 'out' ? 'now' : state === 'later' ? 'later' : 'held'] += 1;
  }
  return count;
}
