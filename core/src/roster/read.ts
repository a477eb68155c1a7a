import Papa from 'papaparse';
import type { Day } from '../zone.ts';

/** What is wrong with a line of a list, so that it cannot be taken as it stands. */
export type ListFault = 'no-name' | 'name-long' | 'mail-odd' | 'date-odd' | 'leaves-before-joins';

/** One person of a class list. */
export interface ListRow {
  /** Counted from 1, as an editor does. */
  readonly line: number;
  readonly name: string;
  /** In lower case; null where none is given. */
  readonly email: string | null;
  readonly signInName: string | null;
  readonly externalId: string | null;
  readonly from: Day | null;
  readonly until: Day | null;
  readonly faults: readonly ListFault[];
}

export interface ReadList {
  readonly rows: readonly ListRow[];
  /** Whether columns of first and last names were put together in the other order than they stand. */
  readonly lastNameFirst: boolean;
  /** Lines with nothing but separators, left out. */
  readonly empty: number;
}

/** How many people one list may hold. */
export const LIST_LIMIT = 5000;
const NAME_LIMIT = 120;

/** Thrown by `readList`: `binary` for what is no text, `too-long` with how many lines there are. */
export class ListError extends Error {
  constructor(
    readonly fault: 'binary' | 'too-long' | 'empty',
    readonly count = 0,
  ) {
    super(fault);
  }
}

type Column =
  'name' | 'first' | 'last' | 'email' | 'signInName' | 'externalId' | 'from' | 'until' | 'other';

/** Headings by which columns are known, in plain form. English and German school exports. */
const HEADINGS: Record<Exclude<Column, 'other'>, readonly string[]> = {
  name: [
    'name',
    'full name',
    'student',
    'student name',
    'display name',
    'schuler',
    'schueler',
    'anzeigename',
  ],
  first: ['first', 'first name', 'forename', 'given name', 'givenname', 'vorname', 'rufname'],
  last: ['last', 'last name', 'surname', 'family name', 'familyname', 'nachname', 'familienname'],
  email: [
    'mail',
    'e mail',
    'email',
    'email address',
    'e mail address',
    'mail address',
    'e mail adresse',
    'mailadresse',
  ],
  signInName: ['username', 'user name', 'sign in name', 'login', 'account', 'benutzername'],
  externalId: [
    'id',
    'student id',
    'sourcedid',
    'number',
    'student number',
    'schulernummer',
    'nr',
    'identifier',
  ],
  from: ['from', 'joins', 'joined', 'start', 'start date', 'begin', 'begindate', 'eintritt', 'von'],
  until: ['until', 'leaves', 'left', 'end', 'end date', 'enddate', 'austritt', 'bis'],
};

/** As strict as the API is. */
const MAIL_LENGTH = 254;
const MAIL =
  /^(?!\.)(?!.*\.\.)[A-Za-z0-9_'+\-.]*[A-Za-z0-9_+-]@(?:[A-Za-z0-9][A-Za-z0-9-]*\.)+[A-Za-z]{2,}$/u;

/**
 * Reads a class list in any usual shape: names with mail addresses a line or one after the other, columns out of a
 * spreadsheet, CSV with any separator, with headings or without. Throws `ListError`.
 */
export function readList(text: string, options: { lastNameFirst?: boolean } = {}): ReadList {
  const clean = text.replace(/^\uFEFF/u, '').replace(/\r\n?/gu, '\n');
  if (isBinary(clean)) throw new ListError('binary');
  const cells = isTable(clean) ? tableCells(clean) : mailCells(clean);
  const filled = cells.filter(({ values }) => values.some((value) => value !== ''));
  if (filled.length === 0) throw new ListError('empty');
  if (filled.length > LIST_LIMIT + 1) throw new ListError('too-long', filled.length);

  const headed = headings(filled[0]!.values);
  const body = headed ? filled.slice(1) : filled;
  if (body.length > LIST_LIMIT) throw new ListError('too-long', body.length);
  const columns = headed ?? guessColumns(body.map((row) => row.values));
  const swapped = options.lastNameFirst ?? false;
  return {
    rows: body.map(({ line, values }) => toRow(line, values, columns, swapped)),
    lastNameFirst: swapped,
    empty: cells.length - filled.length,
  };
}

/** Control characters that no list holds, or characters that could not be read. */
function isBinary(text: string): boolean {
  const start = text.slice(0, 4000);
  const odd = start.match(/[\u0000-\u0008\u000E-\u001F\uFFFD]/gu)?.length ?? 0;
  return start.startsWith('PK') || odd > start.length / 100;
}

interface Cells {
  readonly line: number;
  readonly values: readonly string[];
}

/** Whether lines have columns: a tab, a semicolon, or commas outside of `Last, First <mail>`. */
function isTable(text: string): boolean {
  const lines = text
    .split('\n')
    .filter((line) => line.trim() !== '')
    .slice(0, 50);
  // Angle brackets around addresses are the way mail programs write people.
  if (lines.some((line) => /<[^<>@\s]+@[^<>\s]+>/u.test(line))) return false;
  if (lines.length === 1 && (lines[0]!.match(/@/gu)?.length ?? 0) > 1) return false;
  // `Last, First` a line and nothing else.
  if (lines.every((line) => /^[^\t;|@,]+(,[^\t;|@,]+)?$/u.test(line) && !headings(line.split(','))))
    return false;
  return lines.some((line) => /[\t;,|]/u.test(line));
}

function tableCells(text: string): Cells[] {
  const { data } = Papa.parse<string[]>(text, { delimiter: delimiterOf(text) });
  return data.map((values, n) => ({ line: n + 1, values: values.map(tidy) }));
}

/** The separator that stands in most lines, with tabs before semicolons before bars before commas. */
function delimiterOf(text: string): string {
  const lines = text
    .split('\n')
    .filter((line) => line.trim() !== '')
    .slice(0, 100);
  const inLines = (sign: string) => lines.filter((line) => line.includes(sign)).length;
  return ['\t', ';', '|', ','].reduce(
    (best, sign) => (inLines(sign) > inLines(best) ? sign : best),
    '\t',
  );
}

/** `Name <mail>` and the like, several on a line where commas or semicolons stand between them. */
function mailCells(text: string): Cells[] {
  return text.split('\n').flatMap((whole, n) =>
    splitPeople(whole).map((given): Cells => {
      const bracketed = inBrackets(given);
      if (bracketed)
        return { line: n + 1, values: [personName(bracketed.before), tidy(bracketed.within)] };
      const parts = given.split(/\s+/u);
      const mail = parts.find((part) => part.includes('@'));
      if (!mail) return { line: n + 1, values: [personName(given), ''] };
      return {
        line: n + 1,
        values: [
          personName(parts.filter((p) => p !== mail).join(' ')),
          mail.replace(/[(),;]/gu, ''),
        ],
      };
    }),
  );
}

/** What stands before and in the last angle brackets of a text that ends with them; null where it does not. */
function inBrackets(text: string): { before: string; within: string } | null {
  const open = text.lastIndexOf('<');
  const close = text.indexOf('>', open);
  if (open < 0 || close < 0 || !/^[\s,;]*$/u.test(text.slice(close + 1))) return null;
  return { before: text.slice(0, open), within: text.slice(open + 1, close) };
}

/**
 * Cuts a line after each address that is followed by a comma, a semicolon or another person. Reads it once from its
 * beginning to its end: foreign text must not decide how long that takes.
 */
function splitPeople(line: string): string[] {
  const parts: string[] = [];
  let part = '';
  /** What the last word was: the end of an address in brackets, an address, or anything else. */
  let last: 'bracket' | 'address' | 'other' = 'other';
  let spaced = false;
  let begun = false;
  const cut = () => {
    parts.push(part);
    part = '';
    last = 'other';
    begun = false;
  };
  for (const token of line.match(/[,;]+|\s+|[<>]|[^\s,;<>]+/gu) ?? []) {
    if (/^[,;]/u.test(token) && (last !== 'other' || !begun)) {
      if (begun) cut();
      continue;
    }
    const blank = /^\s/u.test(token);
    // The spaces before a separator still belong to what it ends.
    if (!blank && last === 'bracket' && spaced) cut();
    part += token;
    spaced = blank;
    if (blank) continue;
    begun = true;
    last = token === '>' ? 'bracket' : /@./u.test(token) ? 'address' : 'other';
  }
  parts.push(part);
  return parts
    .flatMap((found) => (/[<@]/u.test(found) ? [found] : found.split(';')))
    .map((found) => found.trim())
    .filter(Boolean);
}

/** `"Kovarik, Mina"` and `Kovarik, Mina` are Mina Kovarik. */
function personName(given: string): string {
  const name = tidy(withoutEnds(withoutEnds(given.trim(), `"'`), '(),;', 'end'));
  const [last, first, ...more] = name.split(',').map((part) => part.trim());
  return last && first && more.length === 0 ? `${first} ${last}` : name;
}

/** A text without these characters at its ends. */
function withoutEnds(text: string, characters: string, ends: 'both' | 'end' = 'both'): string {
  let [start, end] = [0, text.length];
  while (end > 0 && characters.includes(text[end - 1]!)) end -= 1;
  while (ends === 'both' && start < end && characters.includes(text[start]!)) start += 1;
  return text.slice(start, end);
}

/** Without spaces around, without invisible characters, and not beginning a formula. */
function tidy(value: string): string {
  return value
    .normalize('NFC')
    .replace(/[\p{Cc}\p{Cf}\u00A0]+/gu, ' ')
    .replace(/\s+/gu, ' ')
    .replace(/^[=+@](?=[A-Za-z(])/u, '')
    .trim();
}

const plain = (heading: string) =>
  heading
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^a-z]+/gu, ' ')
    .trim();

/** The columns by the headings in the first row; null when that row is a person already. */
function headings(first: readonly string[]): Column[] | null {
  if (first.some((value) => value.includes('@'))) return null;
  const columns = first.map((value): Column => {
    const heading = plain(value);
    const known = Object.entries(HEADINGS).find(([, names]) => names.includes(heading));
    return (known?.[0] as Column | undefined) ?? 'other';
  });
  const named = columns.some((c) => c === 'name' || c === 'first' || c === 'last' || c === 'email');
  return named ? columns : null;
}

/** Columns without headings: by what stands in most of their cells. */
function guessColumns(rows: readonly (readonly string[])[]): Column[] {
  const width = Math.max(...rows.map((row) => row.length));
  const mostly = (n: number, test: (value: string) => boolean) => {
    const values = rows.map((row) => row[n] ?? '').filter(Boolean);
    return values.length > 0 && values.filter(test).length > values.length / 2;
  };
  const columns = Array.from({ length: width }, (_, n): Column => {
    if (mostly(n, (v) => v.includes('@'))) return 'email';
    if (mostly(n, (v) => readDay(v) !== null)) return 'from';
    if (mostly(n, (v) => /^[\d\W]+$/u.test(v))) return 'externalId';
    return mostly(n, (v) => /\p{L}/u.test(v)) ? 'name' : 'other';
  });
  const dates = columns.flatMap((c, n) => (c === 'from' ? [n] : []));
  for (const n of dates.slice(1, 2)) columns[n] = 'until';
  for (const n of dates.slice(2)) columns[n] = 'other';
  const names = columns.flatMap((c, n) => (c === 'name' ? [n] : []));
  // Two columns of single words are first and last names; more are something else, such as a class.
  if (names.length >= 2 && mostly(names[0]!, (v) => !v.includes(' '))) {
    columns[names[0]!] = 'first';
    columns[names[1]!] = 'last';
  }
  for (const n of names.slice(columns.includes('first') ? 2 : 1)) columns[n] = 'other';
  return columns;
}

function toRow(
  line: number,
  values: readonly string[],
  columns: readonly Column[],
  swapped: boolean,
): ListRow {
  const at = (column: Column) => {
    const n = columns.indexOf(column);
    return n < 0 ? '' : (values[n] ?? '');
  };
  const [first, last] = swapped ? [at('last'), at('first')] : [at('first'), at('last')];
  const email = at('email')
    .replace(/^mailto:/iu, '')
    .toLowerCase();
  const name = personName(at('name') || `${first} ${last}`) || nameIn(email);
  const from = at('from');
  const until = at('until');
  const joins = from === '' ? null : readDay(from);
  const leaves = until === '' ? null : readDay(until);
  const faults: ListFault[] = [
    ...(name === '' ? ['no-name' as const] : []),
    ...(name.length > NAME_LIMIT ? ['name-long' as const] : []),
    ...(email !== '' && !isMail(email) ? ['mail-odd' as const] : []),
    ...((from !== '' && joins === null) || (until !== '' && leaves === null)
      ? ['date-odd' as const]
      : []),
    ...(joins !== null && leaves !== null && leaves <= joins
      ? ['leaves-before-joins' as const]
      : []),
  ];
  return {
    line,
    name,
    email: email === '' ? null : email,
    signInName: at('signInName').toLowerCase() || null,
    externalId: at('externalId') || null,
    from: joins,
    until: leaves,
    faults,
  };
}

/** Whether this can be a mail address. */
export function isMail(text: string): boolean {
  return text.length <= MAIL_LENGTH && MAIL.test(text);
}

/** `mina.kovarik@…` is Mina Kovarik, where nothing else is known. */
function nameIn(email: string): string {
  const words = email
    .split('@')[0]!
    .split(/[._-]+/u)
    .filter((word) => /^\p{L}/u.test(word));
  return words.map((word) => word[0]!.toUpperCase() + word.slice(1)).join(' ');
}

/** A day of 1900 to 2199 as `2026-09-01`, `1.9.2026`, `01/09/2026` (day first) or `1-9-26`; null for anything else. */
export function readDay(given: string): Day | null {
  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})(?:[T ].*)?$/u.exec(given);
  const local = /^(\d{1,2})[./-](\d{1,2})[./-](\d{4}|\d{2})$/u.exec(given);
  const parts = iso ? [iso[1], iso[2], iso[3]] : local ? [local[3], local[2], local[1]] : null;
  if (!parts) return null;
  const [year, month, day] = parts.map(Number) as [number, number, number];
  const full = year < 100 ? 2000 + year : year;
  if (full < 1900 || full >= 2200) return null;
  const date = new Date(Date.UTC(full, month - 1, day));
  if (date.getUTCMonth() !== month - 1 || date.getUTCDate() !== day) return null;
  return date.toISOString().slice(0, 10);
}
