/** Names of folders and items (model.md, Names): they must survive a zip opened on any system. */

export const NAME_LIMIT = 60;
export const NAME_READABLE = 32;
/** Files come named by others and are not refused for length; this is what is kept of their names. */
export const FILE_NAME_LIMIT = 120;

/** Those of `FORBIDDEN_CHARACTERS`. */
const FORBIDDEN = /[\\/:*?"<>|]/u;
// Control characters, line and paragraph separators, and the characters that turn the direction of text round.
const INVISIBLE = /[\p{Cc}\u2028\u2029\u061C\u200E\u200F\u202A-\u202E\u2066-\u2069\uFEFF]/u;
const LONE_SURROGATE = /\p{Surrogate}/u;
const EDGES = /^[\s.]|[\s.]$/u;
const RESERVED = /^(con|prn|aux|nul|com[0-9¹²³]|lpt[0-9¹²³]|conin\$|conout\$)(\.|$)/iu;

export type NameFault =
  'empty' | 'too-long' | 'invisible-sign' | 'forbidden-sign' | 'edge' | 'reserved' | 'taken';

export interface NameCheck {
  readonly faults: readonly NameFault[];
  /** True when the name is allowed, but longer than can be read whole. */
  readonly long: boolean;
}

/** Number of characters as a reader counts code points. */
function length(name: string): number {
  return [...name].length;
}

/** The form in which siblings are compared: without regard to case and Unicode form. */
export function nameKey(name: string): string {
  return name.normalize('NFC').toLowerCase();
}

/** Checks a typed name; `siblings` are the names beside it (not itself). */
export function checkName(name: string, siblings: Iterable<string> = []): NameCheck {
  const faults: NameFault[] = [];
  if (name.trim() === '') faults.push('empty');
  if (length(name) > NAME_LIMIT) faults.push('too-long');
  if (INVISIBLE.test(name) || LONE_SURROGATE.test(name)) faults.push('invisible-sign');
  if (FORBIDDEN.test(name)) faults.push('forbidden-sign');
  if (name.trim() !== '' && EDGES.test(name)) faults.push('edge');
  if (RESERVED.test(name)) faults.push('reserved');
  const key = nameKey(name);
  for (const sibling of siblings)
    if (nameKey(sibling) === key) {
      faults.push('taken');
      break;
    }
  return { faults, long: faults.length === 0 && length(name) > NAME_READABLE };
}

export interface FileName {
  readonly title: string;
  /** Lower case, without the dot; empty when the file has none. */
  readonly extension: string;
  /** The name as it is given out again, `title.extension`. */
  readonly name: string;
}

const EXTENSION = /\.([\p{L}\p{N}]{1,12})$/u;

/** The extension of a file's name, in lower case without the dot; empty where it has none. */
export const extensionOf = (name: string) => EXTENSION.exec(name)?.[1]?.toLowerCase() ?? '';

/**
 * The title and extension under which a file from somewhere else is kept. Folders in its name, invisible and
 * forbidden characters go, what is too long is cut before the extension, a reserved device name gets a low line.
 * Null when nothing is left to call it by.
 */
export function fileName(given: string): FileName | null {
  const last = given.normalize('NFC').split(/[\\/]/u).at(-1) ?? '';
  const trimmed = trimEdges(cleaned(last));
  const extension = extensionOf(trimmed);
  const stem = extension ? trimmed.slice(0, -extension.length - 1) : trimmed;
  const title = fileTitle(stem, extension ? extension.length + 1 : 0);
  return title === null ? null : { title, extension, name: withExtension(title, extension) };
}

/**
 * The title of a file that has its extension apart, cleaned in the same way; `taken` is how many characters of the name are
 * not for it. Null when nothing is left to call it by.
 */
export function fileTitle(given: string, taken = 0): string | null {
  const stem = trimEdges(cleaned(given.normalize('NFC')));
  const title = trimEdges([...stem].slice(0, FILE_NAME_LIMIT - taken).join(''));
  if (title === '') return null;
  return RESERVED.test(title) ? `_${title}` : title;
}

/**
 * The name under which a folder from somewhere else is kept, cleaned like a file's. Null when nothing is left to
 * call it by.
 */
export function folderName(given: string): string | null {
  const kept = cleaned(given.normalize('NFC'));
  const title = trimEdges([...trimEdges(kept)].slice(0, NAME_LIMIT).join(''));
  if (title === '') return null;
  if (!RESERVED.test(title)) return title;
  return trimEdges([...`_${title}`].slice(0, NAME_LIMIT).join(''));
}

/**
 * `title` when no sibling has it, else the first free one of `title 2`, `title 3` and so on, cut before the number to
 * at most `limit` characters. `taken` holds the siblings' name keys; `suffix` is what follows the title in them.
 */
export function freeTitle(
  title: string,
  taken: ReadonlySet<string>,
  { suffix = '', limit = NAME_LIMIT }: { suffix?: string; limit?: number } = {},
): string {
  if (!taken.has(nameKey(title + suffix))) return title;
  for (let n = 2; ; n += 1) {
    const number = ` ${n}`;
    const stem = trimEdges([...title].slice(0, limit - number.length).join(''));
    if (!taken.has(nameKey(stem + number + suffix))) return stem + number;
  }
}

/** What a web address is called until somebody names it: the last part of its path in words, else its host. */
export function linkTitle(url: string): string {
  const { pathname, hostname } = new URL(url);
  const last = pathname.split('/').filter(Boolean).at(-1) ?? '';
  const words = decoded(last)
    .replace(/\.(html?|php|aspx?)$/iu, '')
    .replace(/[-_+]+/gu, ' ');
  return folderName(words) ?? folderName(hostname) ?? 'Link';
}

function decoded(part: string): string {
  try {
    return decodeURIComponent(part);
  } catch (error) {
    if (error instanceof URIError) return part;
    throw error;
  }
}

/** The full name of a file: its title and, where there is one, its extension. */
export function withExtension(title: string, extension: string): string {
  return extension ? `${title}.${extension}` : title;
}

/** Without invisible characters, and with forbidden ones as dashes. */
function cleaned(name: string): string {
  return [...name]
    .filter((sign) => !INVISIBLE.test(sign) && !LONE_SURROGATE.test(sign))
    .map((sign) => (FORBIDDEN.test(sign) ? '-' : sign))
    .join('')
    .replace(/\s+/gu, ' ');
}

/** Without dots and spaces at its ends. */
function trimEdges(name: string): string {
  const atEdge = (n: number) => /[\s.]/u.test(name[n]!);
  let [start, end] = [0, name.length];
  while (start < end && atEdge(start)) start += 1;
  while (end > start && atEdge(end - 1)) end -= 1;
  return name.slice(start, end);
}

/** What a naming pattern is filled with. */
export interface NameParts {
  /** Calendar year the school year begins in. */
  readonly year: number;
  readonly course: string;
  readonly class: string;
  readonly teacher: string;
  readonly unit: number;
  readonly kind: string;
}

const TOKEN = /\{([a-z0-9]+)(?::(\d{1,2}))?\}/gu;
const NUMBERS = new Set(['unit']);
const TOKENS = new Set(['year', 'year2', 'course', 'class', 'teacher', 'unit', 'kind']);

export interface PatternFault {
  readonly token: string;
  readonly fault: 'unknown' | 'width' | 'stray-brace';
}

/** What is wrong with a naming pattern such as `{year2} {class} {unit:2} {kind}`; empty when it can be used. */
export function checkPattern(pattern: string): PatternFault[] {
  const faults: PatternFault[] = [];
  for (const [whole, token = '', width] of pattern.matchAll(TOKEN)) {
    if (!TOKENS.has(token)) faults.push({ token: whole, fault: 'unknown' });
    else if (width !== undefined && (!NUMBERS.has(token) || Number(width) < 1 || Number(width) > 6))
      faults.push({ token: whole, fault: 'width' });
  }
  for (const brace of pattern.replace(TOKEN, '').matchAll(/[{}]/gu))
    faults.push({ token: brace[0], fault: 'stray-brace' });
  return faults;
}

/**
 * Fills a pattern in. `{year}` is the school year (`2026-27`), `{year2}` its short form (`26-27`), a width pads
 * numbers with zeros. Spaces left by empty parts close up. Throws RangeError for a pattern with faults.
 */
export function fillPattern(pattern: string, parts: NameParts): string {
  const [fault] = checkPattern(pattern);
  if (fault) throw new RangeError(`Naming pattern: ${fault.fault} ${fault.token}`);
  const two = (n: number) => String(n % 100).padStart(2, '0');
  const values: Record<string, string> = {
    year: `${parts.year}-${two(parts.year + 1)}`,
    year2: `${two(parts.year)}-${two(parts.year + 1)}`,
    course: parts.course,
    class: parts.class,
    teacher: parts.teacher,
    unit: String(parts.unit),
    kind: parts.kind,
  };
  return pattern
    .replace(TOKEN, (_, token: string, width?: string) =>
      (values[token] ?? '').padStart(Number(width ?? 0), '0'),
    )
    .replace(/\s+/gu, ' ')
    .trim();
}
