import type {
  RoundRow,
  ThingKind,
  Timetable,
  TrayAnswer,
  TrayClass,
  TrayDestination,
  TrayFile,
  TrayFolder,
  TrayRules,
} from '@sammlung/contract';

/**
 * What a file waits for: `ready` for nothing; `class` for the classes it is for, `folder` for where it goes, `sure` for a yes to what is
 * proposed; `nearly` for whether it is the next version of what has nearly the same text. `known`: the library has it; `same`: the tray has it.
 */
export type RowState = 'ready' | 'class' | 'folder' | 'sure' | 'nearly' | 'known' | 'same';

/** A file of the tray as it is on the screen: what is proposed, as far as nothing else was decided. */
export interface TrayRowData {
  readonly file: TrayFile;
  readonly kind: ThingKind;
  readonly title: string;
  readonly lessonDate: string;
  readonly to: readonly TrayDestination[];
  readonly again: boolean;
  readonly versionOf: string | null;
  readonly state: RowState;
}

export function toRow(file: TrayFile, answer: TrayAnswer | null): TrayRowData {
  const { proposal } = file;
  const { kind, title, lessonDate, to } = { ...proposal, ...answer };
  return {
    ...{ file, kind, title, lessonDate, to },
    again: answer?.again ?? false,
    versionOf: answer?.versionOf ?? null,
    state: stateOf(file, answer, to),
  };
}

function stateOf(
  { sameAs, known, nearly, proposal }: TrayFile,
  answer: TrayAnswer | null,
  to: readonly TrayDestination[],
): RowState {
  if (sameAs !== null) return 'same';
  if (known && !answer?.again) return 'known';
  if (nearly && answer?.versionOf === undefined) return 'nearly';
  if (to.length === 0) return 'class';
  if (to.some(({ folderId }) => folderId === null)) return 'folder';
  if (!proposal.sure && !answer?.to) return 'sure';
  return 'ready';
}

/** The row as it is sent; only for one that is ready. */
export const toRoundRow = ({
  file,
  title,
  lessonDate,
  to,
  again,
  versionOf,
}: TrayRowData): RoundRow => ({
  ...{ fileId: file.id, title, lessonDate, again, versionOf },
  to: to.flatMap(({ classId, folderId, goesOut }) =>
    folderId === null ? [] : [{ classId, folderId, goesOut }],
  ),
});

/** The same destinations in lines: classes whose things go into one folder at one time are in one line. */
export interface DestinationLine {
  readonly classIds: readonly (string | null)[];
  readonly folderId: string | null;
  readonly goesOut: TrayDestination['goesOut'];
}

export function linesOf(to: readonly TrayDestination[]): DestinationLine[] {
  const lines = new Map<string, DestinationLine>();
  for (const { classId, folderId, goesOut } of to) {
    const key = `${folderId} ${goesOut}`;
    const known = lines.get(key);
    lines.set(key, { folderId, goesOut, classIds: [...(known?.classIds ?? []), classId] });
  }
  return [...lines.values()];
}

/** Destinations for other classes: those that stay keep what was chosen for them, new ones go where the class has its lessons now. */
export function forClasses(
  chosen: readonly (string | null)[],
  before: readonly TrayDestination[],
  { classes, folders, rules }: { classes: TrayClass[]; folders: TrayFolder[]; rules: TrayRules },
  kind: ThingKind,
): TrayDestination[] {
  const reaches = (folderId: string | null, classId: string) =>
    folders.some((f) => f.id === folderId && f.classIds.includes(classId));
  return chosen.map((classId): TrayDestination => {
    const known = before.find((one) => one.classId === classId);
    if (known) return known;
    const one = classes.find(({ id }) => id === classId);
    const shared = before.find(({ folderId }) => classId !== null && reaches(folderId, classId));
    const own = one?.currentFolder ?? one?.proposedFolder;
    return {
      classId,
      folderId: shared?.folderId ?? own?.id ?? before[0]?.folderId ?? null,
      goesOut: before[0]?.goesOut ?? rules.goesOut[kind],
    };
  });
}

/** Folders to choose from for some classes, the likeliest first: those chosen and current, what is in these, and what is beside them. */
export function foldersFor(
  line: DestinationLine,
  { classes, folders }: { classes: TrayClass[]; folders: TrayFolder[] },
): TrayFolder[] {
  const of = classes.filter(({ id }) => line.classIds.includes(id));
  const current = of.flatMap(({ currentFolder, proposedFolder }) =>
    [currentFolder?.id, proposedFolder?.id].flatMap((id) => id ?? []),
  );
  const rank = (folder: TrayFolder) => {
    if (folder.id === line.folderId) return 0;
    if (current.includes(folder.id)) return 1;
    return current.includes(folder.parentId ?? '') ? 2 : 3;
  };
  return folders
    .filter(
      (folder) => folder.id === line.folderId || of.every(({ id }) => folder.classIds.includes(id)),
    )
    .sort(
      (a, b) => rank(a) - rank(b) || a.title.localeCompare(b.title, undefined, { numeric: true }),
    );
}

/** Classes that have a lesson on a day come first, in the order of their lessons; the others after them, by their codes. */
export function classesByLesson(
  classes: readonly TrayClass[],
  timetable: readonly Pick<Timetable['classes'][number], 'id' | 'lessons'>[],
  day: Date,
): TrayClass[] {
  const weekday = ((day.getDay() + 6) % 7) + 1;
  const first = (id: string) =>
    Math.min(
      ...(timetable.find((one) => one.id === id)?.lessons ?? [])
        .filter((lesson) => lesson.weekday === weekday)
        .map(({ period }) => period),
    );
  const order = (a: TrayClass, b: TrayClass) => {
    const [x, y] = [first(a.id), first(b.id)];
    return x === y ? a.code.localeCompare(b.code, undefined, { numeric: true }) : x - y;
  };
  return [...classes].sort(order);
}
