import {
  checkName,
  checkPattern,
  fillPattern,
  nameKey,
  type NameFault,
  type NameParts,
} from './naming.ts';
import type { OutlineLine } from './outline.ts';

/** How the folders of classes are called until a teacher chooses otherwise. */
export const DEFAULT_PATTERN = '{year2} {class} {course}';

/** Lay out: the same named structure for several classes. Running it again adds only what is missing. */

export interface LaidFolder {
  readonly title: string;
  /** Why it cannot be made; `pattern` when a token in it is wrong. */
  readonly faults: readonly (NameFault | 'pattern')[];
  /** Allowed, but longer than can be read whole. */
  readonly long: boolean;
  readonly below: readonly LaidFolder[];
}

/** A folder that is there already. */
export interface ExistingFolder {
  readonly id: string;
  readonly title: string;
  readonly below: readonly ExistingFolder[];
}

/** What a class's folders are named with; `{unit}` counts by itself, `{kind}` is the purpose of the whole. */
export type LayoutParts = Omit<NameParts, 'unit'>;

/** The folders of one class: its own, named by `pattern`, and below it the outline with its tokens filled in. */
export function layOut(
  parts: LayoutParts,
  pattern: string,
  outline: readonly OutlineLine[],
): LaidFolder {
  return laid(pattern, { ...parts, unit: 0 }, [], (numbered) => children(outline, numbered));
}

function children(lines: readonly OutlineLine[], parts: NameParts): LaidFolder[] {
  const known: string[] = [];
  let unit = 0;
  return lines.map((line) => {
    if (/\{unit(:\d+)?\}/u.test(line.name)) unit += 1;
    const folder = laid(line.name, { ...parts, unit }, known, (numbered) =>
      children(line.below, numbered),
    );
    known.push(folder.title);
    return folder;
  });
}

function laid(
  pattern: string,
  parts: NameParts,
  siblings: readonly string[],
  below: (parts: NameParts) => LaidFolder[],
): LaidFolder {
  if (checkPattern(pattern).length > 0)
    return { title: pattern, faults: ['pattern'], long: false, below: below(parts) };
  const title = fillPattern(pattern, parts).normalize('NFC');
  const { faults, long } = checkName(title, siblings);
  return { title, faults, long, below: below(parts) };
}

/** Every folder that cannot be made. */
export function faultsIn(folders: readonly LaidFolder[]): LaidFolder[] {
  return folders.flatMap((folder) => [
    ...(folder.faults.length > 0 ? [folder] : []),
    ...faultsIn(folder.below),
  ]);
}

/**
 * The paths of the folders that are wanted and not there, from the top down, so that each one's parent comes before
 * it. Names are the same without regard to case and Unicode form.
 */
export function missingPaths(
  wanted: readonly { readonly title: string; readonly below: readonly LaidFolder[] }[],
  lying: readonly ExistingFolder[],
  above: readonly string[] = [],
): string[][] {
  return wanted.flatMap(({ title, below }) => {
    const path = [...above, title];
    const there = lying.find((folder) => nameKey(folder.title) === nameKey(title));
    return [...(there ? [] : [path]), ...missingPaths(below, there?.below ?? [], path)];
  });
}

/** All paths of laid out folders, from the top down. */
export function pathsOf(folders: readonly LaidFolder[]): string[][] {
  return missingPaths(folders, []);
}
