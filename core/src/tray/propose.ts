import type { Id, Instant } from '../model.ts';
import { lastSchoolDay, weekdayOf, type SchoolDay } from '../timetable.ts';
import { dayAt, type Day } from '../zone.ts';
import { ClassNames } from './class-names.ts';
import type {
  Destination,
  PlacedFile,
  Proposal,
  TrayReason,
  ThingKind,
  TrayClass,
  TrayFile,
  TrayFolder,
} from './model.ts';
import { chooseFolder, Shelves } from './choose-folder.ts';
import { capital, readName, type NameReading } from './read-name.ts';
import { readText, type TextReading } from './read-text.ts';
import { Series, withoutExtension, type ReadFile } from './series.ts';
import { extensionOf, fileTitle } from '../naming.ts';
import { fillTitle } from './titles.ts';
import { MACHINE_WORDS } from './words.ts';

/** All that proposals are made from. */
export interface TrayInput {
  readonly files: readonly TrayFile[];
  readonly classes: readonly TrayClass[];
  readonly folders: readonly TrayFolder[];
  /** The files of the library, newest first. */
  readonly placed: readonly PlacedFile[];
  readonly now: Instant;
  readonly zone: string;
  /** The terms and days off of the school, as far as they are known. */
  readonly days?: readonly Pick<SchoolDay, 'kind' | 'firstDay' | 'lastDay'>[];
  /** How lessons are titled: `{class} Lesson {n}, {about}`. */
  readonly titlePattern: string;
}

/** What one thing that was found counts for a class. */
const POINTS = {
  only: 6,
  text: 4.5,
  letter: 2.5,
  follows: 2.5,
  like: 2,
  likeBefore: 1,
  course: 2,
  courseInText: 1.5,
  period: 3,
  lessonToday: 0.9,
  onlyLessonToday: 2,
} as const;
/** Classes count as equally likely up to this difference. */
const TIE = 0.75;

/** What is known of the tray as a whole. */
interface Context {
  readonly input: TrayInput;
  readonly names: ClassNames;
  readonly series: Series;
  readonly shelves: Shelves;
  readonly today: Day;
  /** The classes that have a lesson today. */
  readonly taughtToday: readonly TrayClass[];
}

/** What is known of one file. */
interface Known {
  readonly file: TrayFile;
  readonly extension: string;
  readonly name: NameReading;
  readonly text: TextReading;
  /** The name, or the heading of the text where the name tells nothing. */
  readonly main: NameReading;
  readonly likes: readonly ReadFile[];
  readonly kind: ThingKind;
  readonly number: number | null;
}

/** For which class each file is, where it goes, and what it is called; by the ids of the files. */
export function propose(input: TrayInput): Map<Id, Proposal> {
  const today = dayAt(input.now, input.zone);
  const names = new ClassNames(input.classes);
  const context: Context = {
    ...{ input, names, today },
    taughtToday: input.classes.filter((one) =>
      one.lessons.some(({ weekday }) => weekday === weekdayOf(today)),
    ),
    series: new Series(input.placed, names, today),
    shelves: new Shelves(input.folders),
  };
  return new Map(input.files.map((file) => [file.id, proposeFor(file, context)]));
}

function proposeFor(file: TrayFile, context: Context): Proposal {
  const known = knownOf(file, context);
  const { ids, reasons, sureness } = classesFor(known, context);
  const { input } = context;
  const to = ids.map((classId): Destination => {
    const found = input.classes.find(({ id }) => id === classId)!;
    return {
      classId,
      folderId: chooseFolder(found, known, context.series, context.shelves),
    };
  });
  return {
    kind: known.kind,
    title: titleOf(known, ids, context),
    lessonDate: known.name.day ?? lessonDay(dayAt(file.arrivedAt, input.zone), ids, context),
    to,
    reasons,
    // Where no folder is known, somebody has to say.
    sureness: to.some(({ folderId }) => folderId === null) ? Math.min(sureness, 0.6) : sureness,
  };
}

function knownOf(file: TrayFile, { names, series, today }: Context): Known {
  const extension = extensionOf(file.name);
  const stem = withoutExtension(file.name, extension);
  const name = readName(stem, names, today);
  const text = readText(file.text, names, today);
  const useText = !name.meaningful || isMachine(name);
  const main = useText && text.heading ? text.heading : name;
  const byName = useText ? [] : series.like(stem);
  const likes = byName.length > 0 || !text.heading ? byName : series.like(text.heading.title);
  // A name that tells what it is is believed; but what is headed as a quiz or its answers is one.
  const heading = text.heading;
  const tested = heading?.number !== null && (heading?.kind === 'key' || heading?.kind === 'quiz');
  const number =
    main.number ?? (heading && heading.kind === main.kind && !useText ? heading.number : null);
  const kind = main.kind ?? likes[0]?.kind ?? (tested ? heading!.kind! : 'other');
  return { file, extension, name, text, main, likes, kind, number };
}

/** Whether only a machine speaks: `scan 12`, `IMG 3`. */
const isMachine = ({ stem }: NameReading) =>
  stem.split(' ').every((word) => word === '#' || MACHINE_WORDS.has(word));

/** Which classes a file is for. */
function classesFor(
  known: Known,
  context: Context,
): { ids: readonly Id[]; reasons: readonly TrayReason[]; sureness: number } {
  const { input, names } = context;
  const { name, text, main } = known;
  const codesOf = (ids: readonly Id[]) =>
    input.classes
      .filter(({ id }) => ids.includes(id))
      .map(({ code }) => code)
      .join(', ');
  if (name.classIds.length > 0)
    return {
      ids: name.classIds,
      reasons: [{ why: 'code', detail: codesOf(name.classIds) }],
      sureness: 0.98,
    };
  const weighed = input.classes.map((one) => weigh(one, known, context));
  // What the codes have in common, or the course, leaves these.
  const within =
    name.commonIds.length > 0
      ? name.commonIds
      : main.courseId !== null && text.classIds.length === 0
        ? names.ofCourse(main.courseId)
        : null;
  const candidates = within ? weighed.filter(({ id }) => within.includes(id)) : weighed;
  const best = Math.max(0, ...candidates.map(({ points }) => points));
  const first = candidates.filter(({ points }) => best > 0 && points >= best - TIE);
  const second = Math.max(
    0,
    ...candidates.filter((one) => !first.includes(one)).map(({ points }) => points),
  );
  if (first.length === 1) {
    const [one] = first;
    return { ids: [one!.id], reasons: one!.reasons, sureness: surenessOf(best, best - second) };
  }
  const ids = first.map(({ id }) => id);
  const together = ids.length > 0 ? togetherBefore(ids, known, context) : null;
  if (together)
    return {
      ids,
      reasons: [{ why: 'both', detail: together }, ...first[0]!.reasons],
      sureness: surenessOf(best + 1, best - second + 1),
    };
  if (name.commonIds.length > 0 && known.kind !== 'notes')
    return {
      ids: name.commonIds,
      reasons: [{ why: 'code', detail: codesOf(name.commonIds) }],
      sureness: 0.75,
    };
  return { ids: [], reasons: first[0]?.reasons ?? [], sureness: 0.3 };
}

const surenessOf = (points: number, ahead: number) => {
  if (ahead >= 1.5 && points >= 4) return 0.93;
  if (ahead >= 1.5 && points >= 2) return 0.85;
  return ahead >= 1 && points >= 2 ? 0.72 : 0.45;
};

function weigh(one: TrayClass, known: Known, { input, series, today, taughtToday }: Context) {
  const { name, text, main, likes, kind, number } = known;
  const found: { points: number; reason: TrayReason | null }[] = [];
  const add = (points: number, why: TrayReason['why'], detail: string) =>
    found.push({ points, reason: { why, detail } });

  if (input.classes.length === 1) add(POINTS.only, 'only', one.code);
  if (name.letterIds.includes(one.id)) {
    // Groups of a quiz have letters as well.
    const doubtful = kind === 'quiz' || kind === 'key' || (kind === 'other' && name.about === '');
    add(POINTS.letter / (doubtful ? 2 : 1), 'letter', name.letter.toUpperCase());
  }
  if (text.classIds.includes(one.id)) add(POINTS.text, 'text', text.said);
  else if (text.commonIds.includes(one.id)) add(POINTS.courseInText, 'text', text.said);
  if (main.courseId === one.courseId) add(POINTS.course, 'course', one.course);
  else if (text.courseId === one.courseId) add(POINTS.courseInText, 'text', text.said);

  const mine = likes.filter((like) => like.file.classIds.includes(one.id));
  if (mine[0])
    add(sameTurn(mine[0], likes[0]!) ? POINTS.like : POINTS.likeBefore, 'like', mine[0].file.title);

  if (number !== null) {
    const last = numbered(mine) ?? series.lastNumber(one.id, kind);
    const quizzed = kind === 'key' ? sameNumber(series.recent(one.id), 'quiz', number) : null;
    if (quizzed) add(POINTS.follows, 'both', quizzed.file.title);
    else if (last && number === last.number! + 1) add(POINTS.follows, 'follows', last.file.title);
    else if (last && kind === 'notes' && number <= last.number!)
      found.push({ points: -1.5, reason: null });
    else if (last && kind !== 'key' && number > last.number! + 1)
      found.push({ points: -Math.min(1.5, (number - last.number! - 1) * 0.5), reason: null });
  }
  if (name.period !== null) {
    const weekday = weekdayOf(today);
    if (one.lessons.some((l) => l.period === name.period && l.weekday === weekday))
      add(POINTS.period, 'period', String(name.period));
    else if (one.lessons.some((l) => l.period === name.period))
      add(POINTS.period / 2, 'period', String(name.period));
  }
  // That there is a lesson today tells two classes apart; by itself it says nothing of a file.
  if (taughtToday.includes(one))
    add(
      taughtToday.length === 1 ? POINTS.onlyLessonToday : POINTS.lessonToday,
      'lesson-today',
      one.code,
    );
  const telling = found.filter((x) => x.reason?.why !== 'lesson-today');
  const points = found.reduce((sum, x) => sum + x.points, 0);
  return {
    id: one.id,
    points: telling.some((x) => x.points > 0) ? points : 0,
    reasons: found
      .sort((a, b) => b.points - a.points)
      .flatMap(({ reason }) => reason ?? [])
      .slice(0, 3),
  };
}

/** Whether two are the same in two places, or went to two classes as the same number of a series. */
const sameTurn = (a: ReadFile, b: ReadFile) =>
  a.file.itemId === b.file.itemId ||
  (a.number === b.number &&
    (a.number !== null || a.file.hash === b.file.hash) &&
    a.kind === b.kind &&
    a.file.title === b.file.title);
/** Whether a thing went to one of these classes. */
const isFor = ({ file }: ReadFile, ids: readonly Id[]) =>
  ids.some((id) => file.classIds.includes(id));
/** The last one of a series that has a number. */
const numbered = (likes: readonly ReadFile[]) => likes.find((x) => x.number !== null);
const sameNumber = (files: readonly ReadFile[], kind: ThingKind, number: number) =>
  files.find((x) => x.kind === kind && x.number === number) ?? null;

/** A thing that went to all of these classes as this one would: the last like it, or their quiz of the same number. */
function togetherBefore(ids: readonly Id[], known: Known, { series }: Context): string | null {
  const { likes, kind, number } = known;
  const forAll = ({ file }: ReadFile) => ids.every((id) => file.classIds.includes(id));
  if (likes[0]) {
    // The same series, placed for each class by itself, is together too.
    const last = likes.filter((x) => x.number === likes[0]!.number);
    const reached = new Set(last.flatMap(({ file }) => file.classIds));
    if (forAll(likes[0]) || ids.every((id) => reached.has(id))) return likes[0].file.title;
    return null;
  }
  if (number !== null && kind === 'key') {
    const quizzes = ids.map((id) => sameNumber(series.recent(id), 'quiz', number));
    if (quizzes.every((quiz) => quiz !== null)) return quizzes[0]!.file.title;
  }
  const last = ids.map((id) => series.recent(id).find((x) => x.kind === kind));
  return last.every((x) => x && (forAll(x) || sameTurn(x, last[0]!)))
    ? (last[0]?.file.title ?? null)
    : null;
}

/** The title: as the series has it, by the pattern for a lesson with a number, or as the name reads. */
function titleOf(known: Known, ids: readonly Id[], { input, series }: Context): string {
  const { main, name, text, likes, number, kind, extension, file } = known;
  const of = input.classes.filter(({ id }) => ids.includes(id));
  const parts = {
    class: of.length === 1 ? of[0]!.code : '',
    course: of[0]?.course ?? '',
    n: number,
    about: aboutOf(known),
  };
  if (number !== null && kind === 'notes') {
    const before = [likes, ids.flatMap((id) => series.recent(id))]
      .map((all) => usualPattern(all, ids, of))
      .find((pattern) => pattern !== null);
    return fillTitle(before ?? input.titlePattern, parts);
  }
  const readable = main === name && name.meaningful ? name.title : (text.heading?.title ?? '');
  return fileTitle(readable) ?? fileTitle(capital(withoutExtension(file.name, extension))) ?? '';
}

/** What the lesson was about: from the name, else from the heading of the text. */
function aboutOf({ main, text, name }: Known): string {
  if (main.about !== '') return main.about;
  const heading = text.heading?.about ?? '';
  return name.about === '' && heading.length <= 60 ? heading : '';
}

/** So many lessons tell how they are titled. */
const TELLING = 12;
/** What a title that only begins with a number counts for against one with a word for what it is: it may be no lesson at all. */
const BARE = 0.4;
/** One with a word is enough, and three without. */
const ENOUGH = 1;

/**
 * How most of the last lessons of some classes are titled, so that one with a title of another form changes nothing. Null where no lesson
 * has a number.
 */
function usualPattern(
  files: readonly ReadFile[],
  ids: readonly Id[],
  classes: readonly TrayClass[],
): string | null {
  const lessons = new Map(
    files
      .filter((x) => x.kind === 'notes' && x.title.number !== null && isFor(x, ids))
      .map((x) => [x.file.itemId, x]),
  );
  const counts = new Map<string, number>();
  for (const one of [...lessons.values()].slice(0, TELLING)) {
    const pattern = patternOf(one, classes);
    const weight = one.title.stem.startsWith('#') ? BARE : 1;
    counts.set(pattern, (counts.get(pattern) ?? 0) + weight);
  }
  const [most] = [...counts].sort(([, a], [, b]) => b - a);
  return most && most[1] >= ENOUGH ? most[0] : null;
}

/** How a series is titled: `Lesson 14, reading a pH strip` is `Lesson {n}, {about}`. */
function patternOf({ file, title }: ReadFile, classes: readonly TrayClass[]): string {
  const at = file.title.search(new RegExp(String.raw`(?<!\d)0*${title.number}(?!\d)`, 'u'));
  if (at < 0) return '{n} {about}';
  const digits = /^\d+/u.exec(file.title.slice(at))![0];
  const width = digits.startsWith('0') ? `:${digits.length}` : '';
  const plain = file.title.slice(0, at).replace(/[{}]/gu, '');
  const code = classes.find((one) => plain.includes(one.code))?.code;
  const before = code ? plain.replace(code, '{class}') : plain;
  const rest = file.title.slice(at + digits.length);
  const gap = /^[\s,;:.–-]{0,4}/u.exec(rest)![0];
  return `${before}{n${width}}${gap || ', '}{about}`;
}

/** The day of the lesson: the last one that a class had by then, as far as a timetable tells; else the day itself. */
function lessonDay(day: Day, ids: readonly Id[], { input }: Context): Day {
  const lessons = input.classes.filter((c) => ids.includes(c.id)).flatMap((c) => c.lessons);
  if (lessons.length === 0) return day;
  return lastSchoolDay(day, lessons, { zone: input.zone, days: input.days ?? [] }) ?? day;
}
