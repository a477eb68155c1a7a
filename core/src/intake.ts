import { FILE_NAME_LIMIT, freeTitle, nameKey, withExtension, type FileName } from './naming.ts';

/** A file of the library. */
export interface ExistingItem {
  readonly itemId: string;
  /** Full name with extension. */
  readonly name: string;
  /** SHA-256 of its newest version; empty for what is no file. */
  readonly hash: string;
}

/** What the person wants where the name is taken: the next version of that file, a file of its own, or nothing. */
export type SameName = 'version' | 'both' | 'skip';

export type Intake =
  | { readonly outcome: 'new'; readonly title: string }
  | { readonly outcome: 'version' | 'unchanged' | 'placed'; readonly itemId: string }
  | { readonly outcome: 'skipped' };

/**
 * What becomes of a file that comes into a folder. A file of the same name is nearly always a newer state of the same
 * thing and becomes its next version, unless something else is wanted; the same content changes nothing. Content that
 * lies elsewhere in the library (`elsewhere`) is placed here rather than kept twice, unless its name is taken here.
 */
export function intake(
  name: FileName,
  hash: string,
  here: readonly ExistingItem[],
  elsewhere: readonly ExistingItem[],
  sameName: SameName,
): Intake {
  const taken = new Set(here.map((file) => nameKey(file.name)));
  const sameNamed = here.find((file) => nameKey(file.name) === nameKey(name.name));
  if (sameNamed) {
    if (sameNamed.hash === hash) return { outcome: 'unchanged', itemId: sameNamed.itemId };
    if (sameName === 'version') return { outcome: 'version', itemId: sameNamed.itemId };
    if (sameName === 'skip') return { outcome: 'skipped' };
    return { outcome: 'new', title: freeFileTitle(name, taken) };
  }
  const same = here.find((file) => file.hash === hash);
  if (same) return { outcome: 'unchanged', itemId: same.itemId };
  const other = elsewhere.find((file) => file.hash === hash && !taken.has(nameKey(file.name)));
  return other
    ? { outcome: 'placed', itemId: other.itemId }
    : { outcome: 'new', title: name.title };
}

/** A title under which the file can lie among `taken` names. */
export function freeFileTitle(
  { title, extension }: Pick<FileName, 'title' | 'extension'>,
  taken: ReadonlySet<string>,
) {
  const suffix = withExtension('', extension);
  return freeTitle(title, taken, { suffix, limit: FILE_NAME_LIMIT - suffix.length });
}
