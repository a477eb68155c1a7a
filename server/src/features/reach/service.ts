import {
  FEWEST_COUNTED,
  REACH_SHOWS,
  RECORDED_AT_ONCE,
  type ItemReach,
  type ItemReachStudent,
  type Reach,
  type ReachClass,
  type ReachItem,
  type ReachLevel,
  type ReachNote,
  type Recorded,
  type SchoolReach,
} from '@sammlung/contract';
import {
  byFamilyName,
  groupBy,
  Openings,
  reachOf,
  sightOf,
  type ItemReach as Counts,
  type Library,
  type PersonReach,
  type ReachSight,
} from '@sammlung/core';
import { toIso, type Queries } from '../../db/database.ts';
import { placementSeen } from '../../domain/access/placements.ts';
import { loadWorld } from '../../domain/access/load-world.ts';
import { Rights } from '../../domain/access/rights.ts';
import { viewerOf } from '../../domain/access/viewer.ts';
import { classesTaught } from '../../domain/classes.ts';
import { requireTaughtClass } from '../../domain/managed.ts';
import { queueReminder } from '../../domain/notes.ts';
import { setToldReach, toldReach, type ToldReach } from '../../domain/schools.ts';
import { AppError } from '../../platform/errors.ts';
import { inPieces } from '../../platform/pieces.ts';
import type { SignedIn } from '../../platform/sessions.ts';
import type { Services } from '../../services.ts';
import {
  addAll,
  classesOfPeople,
  countedEarlier,
  countStudents,
  itemAt,
  itemsBelow,
  itemsOfClass,
  namesOf,
  openedBy,
  openingsOf,
  recordedOf,
  type ClassOf,
  type OpenedItem,
  type ReachedItem,
} from './queries.ts';

type Needs = Pick<Services, 'db' | 'now'>;

/** What was opened while this is looked up counts, too. */
const HOUR_MS = 60 * 60 * 1000;

/** The longest that is told who opened something; what is older is only counted (`endOpenings`). */
const YEAR_MS = 365 * 24 * 60 * 60 * 1000;

/** Who has opened what is in a folder and below, for whoever decides who sees it. */
export async function folderReach(
  { db, now }: Needs,
  person: SignedIn,
  folderId: string,
  classId: string | undefined,
): Promise<Reach> {
  const t = now();
  const [folder] = await new Rights(db, person, t).decides([folderId]);
  const found = await itemsBelow(db, folderId, REACH_SHOWS);
  return reachOfMany(db, person, t, { ...found, title: folder!.title, classId });
}

/** Who in a class that the person teaches has opened what the class has. */
export async function classReach(
  { db, now }: Needs,
  person: SignedIn,
  classId: string,
): Promise<Reach> {
  const t = now();
  const { code } = await requireTaughtClass(db, person, classId);
  const viewer = { personId: null, doorIds: [], at: t, asClass: classId };
  const found = await itemsOfClass(db, viewer, REACH_SHOWS);
  return reachOfMany(db, person, t, { ...found, title: code, classId });
}

/** Who has opened an item: for whoever decides who sees it, or in a class that the person teaches. */
export async function itemReach(
  { db, now }: Needs,
  person: SignedIn,
  placementId: string,
  classId: string | undefined,
): Promise<ItemReach> {
  const t = now();
  const item = await reachedItem(db, person, t, placementId, classId);
  const told = await countedFor(db, person, t);
  const { readers: reached, counts } = await reachedBy(db, person, t, [item], told, classId);
  // Of what is told to the teacher of a class, others are no part.
  const ofAll = told.level !== 'nothing' && classId === undefined;
  const earlier = ofAll ? await countedEarlier(db, item.itemId) : { people: 0, visitors: 0 };
  const tellsOthers = ofAll && told.level === 'names';
  return {
    ...head(told, reached),
    item: toItem(item, counts.items[0]!, counts.byLink[0]!, told.level),
    firstDay: dayOf(told.since, person.timeZone),
    students:
      told.level === 'names' ? await studentsOf(db, item, reached, counts.people, told.since) : [],
    others: tellsOthers ? counts.unseen(0) + (await countStudents(db, counts.others[0]!)) : null,
    earlier,
  };
}

/**
 * Writes to just those who see an item and have not opened it, or not in its newest version. Throws `reach-not-told` where nothing is
 * told of who has.
 */
export async function remind(
  { db, now, post }: Needs & Pick<Services, 'post'>,
  person: SignedIn,
  placementId: string,
  classId: string | undefined,
  { to, ...note }: ReachNote,
): Promise<{ people: number }> {
  const t = now();
  const people = await db.transaction(async (tx) => {
    const item = await reachedItem(tx, person, t, placementId, classId);
    const told = await countedFor(tx, person, t);
    const { readers: reached, counts } = await reachedBy(tx, person, t, [item], told, classId);
    if (told.level === 'nothing' || fewest(told.level, reached.people.length))
      throw new AppError('reach-not-told');
    const { people: found } = counts;
    const wanted = to === 'unopened' ? '-' : '-e';
    const ids = reached.people.flatMap(({ id }, n) => (wanted.includes(found[n]!.cells) ? id : []));
    return queueReminder(post, tx, person, item, note, placesOf(reached, item.itemId, ids, t), t);
  });
  await post.soon();
  return { people };
}

/** What is recorded of what a person has opened. */
export async function recorded(
  { db, now }: Needs,
  person: SignedIn,
  before: number | undefined,
): Promise<Recorded> {
  const viewer = viewerOf(person, now());
  const [{ level, since }, found] = await Promise.all([
    toldReach(db, person.schoolId),
    recordedOf(db, viewer, { before: before ?? null, limit: RECORDED_AT_ONCE + 1 }),
  ]);
  const openings = found.slice(0, RECORDED_AT_ONCE);
  const next = found.length > RECORDED_AT_ONCE ? openings.at(-1)!.id : null;
  return { level, since: toIso(since)!, openings, next };
}

/** What teachers at the school of a person are told. */
export async function schoolReach(
  { db }: Pick<Needs, 'db'>,
  person: SignedIn,
): Promise<SchoolReach> {
  const { level, since } = await toldReach(db, person.schoolId);
  return { level, since: toIso(since)! };
}

/** Sets that, for the office. */
export async function setSchoolReach(
  { db, now }: Needs,
  person: SignedIn,
  level: ReachLevel,
): Promise<SchoolReach> {
  if (person.kind !== 'office') throw new AppError('not-allowed');
  await setToldReach(db, person.schoolId, level, now());
  return schoolReach({ db }, person);
}

/** The item at a placement whose reach the person may know. Throws `not-found`, `not-allowed`. */
async function reachedItem(
  db: Queries,
  person: SignedIn,
  t: number,
  placementId: string,
  classId: string | undefined,
): Promise<ReachedItem> {
  if (classId === undefined) await new Rights(db, person, t).decidesItems([placementId]);
  else {
    await requireTaughtClass(db, person, classId);
    await placementSeen(db, { personId: null, doorIds: [], at: t, asClass: classId }, placementId);
  }
  const item = await itemAt(db, placementId);
  if (!item) throw new AppError('not-found');
  return item;
}

/** What is told now, and since when: never of more than the last year. */
async function countedFor(db: Queries, person: SignedIn, t: number): Promise<ToldReach> {
  const { level, since } = await toldReach(db, person.schoolId);
  return { level, since: Math.max(since, t - YEAR_MS) };
}

/** Those who are expected to look at some items, of whom something is told. */
interface Readers {
  readonly library: Library;
  readonly persons: ReadonlyMap<string, Person>;
  /** Whose openings are told. */
  readonly people: readonly {
    readonly id: string;
    readonly number: number;
    readonly name: string;
    readonly classes: readonly ClassOf[];
  }[];
  readonly sight: ReachSight;
  readonly classes: readonly ReachClass[];
  /** Those who are named to the viewer. */
  readonly named: ReadonlySet<string>;
}
type Person = Awaited<ReturnType<typeof loadWorld>>['people'][number];

/**
 * The students who see one of the items by name, class or course; of one class only, if it is given. Where only numbers are told, those of
 * small groups are left out altogether. Named are those whom the viewer teaches, and those to whom something is handed out by name.
 */
async function readersOf(
  db: Queries,
  person: SignedIn,
  t: number,
  items: readonly ReachedItem[],
  { level }: ToldReach,
  classId: string | undefined,
): Promise<Readers> {
  const itemIds = items.map(({ itemId }) => itemId);
  const scope = { folderIds: [], itemIds: level === 'nothing' ? [] : itemIds };
  const [{ library, people: reached }, ownClasses] = await Promise.all([
    loadWorld(db, person.schoolId, scope),
    classesTaught(db, person.id, t),
  ]);
  const taught = new Set(ownClasses.map(({ id }) => id));
  const students = reached.filter(({ staff }) => !staff);
  const handedTo = (kind: string) =>
    library.data.handingsOut.flatMap(({ audience }) => (audience.kind === kind ? audience.id : []));
  const [classIds, courseIds] = [handedTo('class'), handedTo('course')];
  const ids = students.map(({ id }) => id);
  const [names, classesFound, all] = await Promise.all([
    namesOf(db, ids),
    classesOfPeople(db, ids, { classIds: [...classIds, ...taught], courseIds }, t),
    inPieces(sightOf(library, students, itemIds, t)),
  ]);
  const readers = students.flatMap((student, n) =>
    all.seenBy(n).includes(1) ? { student, n, name: names.get(student.id)!.name } : [],
  );
  const reading = new Set(readers.map(({ student }) => student.id));
  const found = classesFound.filter(({ personId }) => reading.has(personId));
  const byRoster = found.filter((c) => classIds.includes(c.id) || courseIds.includes(c.courseId));
  const classesOf = groupBy(byRoster, ({ personId }) => personId);
  const groups = groupBy(byRoster, ({ id }) => id);
  const sorted = [...groups.values()].sort(([a], [b]) => BY_CODE.compare(a!.code, b!.code));
  const alone = reading.size - classesOf.size;
  const told = readers.filter(({ student: { id } }) => {
    const own = classesOf.get(id) ?? [];
    if (classId !== undefined && !own.some((c) => c.id === classId)) return false;
    const sizes = own.length > 0 ? own.map((c) => groups.get(c.id)!.length) : [alone];
    return !fewest(level, Math.max(...sizes));
  });
  told.sort((a, b) => byFamilyName(a.name, b.name));
  const named = new Set(handedTo('person'));
  for (const { id, personId } of found) if (taught.has(id)) named.add(personId);
  return {
    library,
    persons: new Map(students.map((student) => [student.id, student])),
    people: told.map(({ student: { id }, name }) => ({
      ...{ id, name, number: names.get(id)!.number, classes: classesOf.get(id) ?? [] },
    })),
    sight: {
      people: told.length,
      items: itemIds.length,
      seenBy: (n) => all.seenBy(told[n]!.n),
    },
    classes: sorted.flatMap(([first, ...rest]) =>
      fewest(level, rest.length + 1)
        ? []
        : { id: first!.id, code: first!.code, colour: first!.colour, people: rest.length + 1 },
    ),
    named: new Set(told.flatMap(({ student: { id } }) => (named.has(id) ? id : []))),
  };
}

const BY_CODE = new Intl.Collator('und', { numeric: true });

/** Whether so few people are not told of in numbers. */
const fewest = (level: ReachLevel, people: number) =>
  level === 'numbers' && people < FEWEST_COUNTED;

/** What readers have opened of the items, and others besides. */
interface Counted {
  readonly items: readonly Counts[];
  readonly people: readonly PersonReach[];
  readonly byLink: readonly ReachItem['byLink'][];
  /** The numbers of others who have opened an item. */
  readonly others: readonly ReadonlySet<number>[];
  /** How many of the readers have opened an item that they do not see now. */
  readonly unseen: (item: number) => number;
}

/** Who is expected to look at some items, and what they have opened. Both are looked up side by side. */
async function reachedBy(
  db: Queries,
  person: SignedIn,
  t: number,
  items: readonly ReachedItem[],
  told: ToldReach,
  classId: string | undefined,
): Promise<{ readers: Readers; counts: Counted }> {
  const { level, since } = told;
  const { timeZone } = person;
  const itemIds = items.map(({ itemId }) => itemId);
  const [readers, found] = await Promise.all([
    readersOf(db, person, t, items, told, classId),
    level === 'nothing'
      ? items.map((): OpenedItem => ({ days: [], byLink: NO_VISITORS }))
      : openingsOf(db, itemIds, { since, until: t + HOUR_MS, timeZone }),
  ]);
  const { people, sight } = readers;
  const openings = new Openings(people.length, items.length);
  const others = addAll(
    openings,
    found,
    people.map(({ number }) => number),
  );
  const reach = await inPieces(reachOf(sight, openings));
  const unseen = (item: number) => openings.countOf(item) - reach.items[item]!.opened;
  const byLink = found.map((one) => (classId === undefined ? one.byLink : NO_VISITORS));
  return { readers, counts: { ...reach, others, unseen, byLink } };
}

const NO_VISITORS = { opened: 0, downloaded: 0 };

const head = ({ level, since }: ToldReach, { classes, people, named }: Readers) => ({
  ...{ level, since: toIso(since)!, classes: [...classes] },
  unnamed: level === 'names' ? people.length - named.size : 0,
});

async function reachOfMany(
  db: Queries,
  person: SignedIn,
  t: number,
  about: { items: readonly ReachedItem[]; all: number; title: string; classId: string | undefined },
): Promise<Reach> {
  const told = await countedFor(db, person, t);
  const items = told.level === 'nothing' ? [] : about.items;
  const { readers, counts } = await reachedBy(db, person, t, items, told, about.classId);
  const firstDay = dayOf(told.since, person.timeZone);
  const openers = counts.people.filter(({ opened }) => opened > 0).length;
  const tooFew = fewest(told.level, readers.people.length);
  return {
    ...head(told, readers),
    title: about.title,
    firstDay,
    people: readers.people.length,
    opened: tooFew ? null : openers,
    items: items.map((item, n) => toItem(item, counts.items[n]!, counts.byLink[n]!, told.level)),
    more: told.level === 'nothing' ? 0 : about.all - items.length,
    students:
      told.level !== 'names'
        ? []
        : readers.people.flatMap(({ id, name, classes }, n) => {
            const { items: seen, opened, lastDay, cells } = counts.people[n]!;
            if (!readers.named.has(id)) return [];
            const last = lastDay === null ? null : addDays(firstDay, lastDay);
            return {
              ...{ personId: id, name, classes: classes.map(({ code }) => code) },
              ...{ items: seen, opened, lastDay: last, cells },
            };
          }),
  };
}

function toItem(
  item: ReachedItem,
  { people, opened, newest, downloaded, days }: Counts,
  byLink: ReachItem['byLink'],
  level: ReachLevel,
): ReachItem {
  const few = fewest(level, people);
  return {
    ...{ ...item, people, byLink },
    ...(few
      ? { opened: null, newest: null, downloaded: null, days: [] }
      : { opened, newest, downloaded, days: [...days].sort(([a], [b]) => a - b) }),
  };
}

/** What those who are named did with an item, in the order of the lists. */
async function studentsOf(
  db: Queries,
  { itemId }: ReachedItem,
  { people, named }: Readers,
  reach: readonly PersonReach[],
  since: number,
): Promise<ItemReachStudent[]> {
  const found = await openedBy(db, itemId, [...named], since);
  const openedOf = new Map(found.map((one) => [one.personId, one]));
  return people.flatMap(({ id, name, classes }, n) => {
    if (!named.has(id)) return [];
    const { version = null, openedAt = null, downloadedAt = null } = openedOf.get(id) ?? {};
    return {
      ...{ personId: id, name, classes: classes.map(({ code }) => code) },
      ...{ state: STATES[reach[n]!.cells]!, version, openedAt, downloadedAt },
    };
  });
}

const STATES: Readonly<Record<string, ItemReachStudent['state']>> = {
  '-': 'unopened',
  e: 'earlier',
  o: 'opened',
  d: 'downloaded',
};

/** Of these people, each with a placement of the item that they see. */
function placesOf(
  { library, persons }: Readers,
  itemId: string,
  ids: readonly string[],
  t: number,
): { personId: string; placementId: string }[] {
  return ids.flatMap((personId) => {
    const viewer = { person: persons.get(personId)!, doors: [] };
    const seen = library.placesOf(itemId).find(({ id }) => library.seesPlacement(viewer, id, t));
    return seen ? { personId, placementId: seen.id } : [];
  });
}

/** The day of an instant, where the school is. */
const dayOf = (t: number, timeZone: string) =>
  new Intl.DateTimeFormat('sv-SE', { timeZone }).format(t);

/** The day that is so many days after another. */
function addDays(day: string, days: number): string {
  const date = new Date(`${day}T00:00:00Z`);
  date.setUTCDate(date.getUTCDate() + days);
  return date.toISOString().slice(0, 10);
}
