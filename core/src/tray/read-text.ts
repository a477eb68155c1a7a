import type { Id } from '../model.ts';
import type { Day } from '../zone.ts';
import type { ClassNames } from './class-names.ts';
import { readName, type NameReading } from './read-name.ts';

/** What the beginning of a handout tells. */
export interface TextReading {
  /** The first line that tells what it is; null where none does. */
  readonly heading: NameReading | null;
  readonly classIds: readonly Id[];
  readonly commonIds: readonly Id[];
  readonly courseId: Id | null;
  /** The line that names a class or a course. */
  readonly said: string;
}

/** So much of a text is looked at: lines, and characters of each. */
const LINES = 8;
const LINE = 90;
const HEAD = 1200;

/** Reads the first lines of a text. */
export function readText(text: string, names: ClassNames, today: Day): TextReading {
  const lines = text
    .slice(0, HEAD)
    .split(/\r?\n/u)
    .map((line) => line.trim())
    .filter((line) => line.length > 1)
    .slice(0, LINES);
  const readings = lines.map((line) => readName(line.slice(0, LINE), names, today));
  const short = readings.filter((_, n) => lines[n]!.length <= LINE);
  const telling = short.find((x) => x.kind !== null && x.number !== null);
  const ids = (of: (x: NameReading) => readonly Id[]) => [...new Set(readings.flatMap(of))];
  const saying = [
    readings.findIndex((x) => x.classIds.length > 0),
    readings.findIndex((x) => x.commonIds.length > 0),
    readings.findIndex((x) => x.courseId !== null),
  ].find((n) => n >= 0);
  // A sentence is no heading.
  const heading = short.find((x, n) => isHeading(x) && !/[.!?:]$/u.test(lines[n]!));
  return {
    heading: telling ?? heading ?? null,
    classIds: ids((x) => x.classIds),
    commonIds: ids((x) => x.commonIds),
    courseId: readings.map((x) => x.courseId).find((id) => id !== null) ?? null,
    said: saying === undefined ? '' : lines[saying]!.slice(0, LINE),
  };
}

/** Names of classes, days and blanks for a name are no heading. */
function isHeading({ meaningful, about, classIds, commonIds, courseId }: NameReading): boolean {
  if (!meaningful || about.length < 3 || /_{3}|^(name|class|klasse|datum|date)\b/iu.test(about))
    return false;
  return classIds.length + commonIds.length === 0 && courseId === null;
}
