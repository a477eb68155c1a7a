import type { Id } from '../model.ts';
import { findDay } from '../ordering.ts';
import type { Day } from '../zone.ts';
import type { ClassNames } from './class-names.ts';
import type { ThingKind } from './model.ts';
import { tokensOf, type Token } from './tokens.ts';
import {
  AND_WORDS,
  ANY_KIND,
  CLASS_WORDS,
  GROUP_WORDS,
  KIND_WORDS,
  MACHINE_WORDS,
  NO_KEY_AFTER,
  ORDINAL_PERIODS,
  PERIOD_WORDS,
  STATE_WORDS,
  UNIT_WORDS,
} from './words.ts';

/** What the name of a handout tells. */
export interface NameReading {
  /** Null where no word tells it; a name that begins with a number speaks of a lesson. */
  readonly kind: ThingKind | null;
  /** The number of the lesson, quiz or sheet. */
  readonly number: number | null;
  readonly day: Day | null;
  readonly period: number | null;
  /** Classes named by their codes. */
  readonly classIds: readonly Id[];
  /** Classes named by what their codes have in common. */
  readonly commonIds: readonly Id[];
  /** Classes whose last letter stands alone. */
  readonly letterIds: readonly Id[];
  readonly letter: string;
  /** A course whose title has a word of the name. */
  readonly courseId: Id | null;
  /** False for the names that cameras, scanners and programs give. */
  readonly meaningful: boolean;
  /** Without codes, dates and marks of copies. */
  readonly title: string;
  /** The same without its number and the word that tells its kind. */
  readonly about: string;
  /** What names of the same series have in common: `notes #`. */
  readonly stem: string;
}

/** A lesson has no number above this. */
const MOST = 399;
/** A date without a year counts when it is so near, in days. */
const NEAR = 45;

/** Reads the name of a file, without its extension, or a line of its text. `today` settles dates without a year. Linear. */
export function readName(given: string, names: ClassNames, today: Day): NameReading {
  const name = given.normalize('NFC');
  const tokens = tokensOf(name);
  /** What each token is taken for; undefined: a word of what the file is about. */
  const uses: (Use | undefined)[] = Array.from({ length: tokens.length });
  const take = (from: number, to: number, use: Use) => {
    for (let n = from; n < to; n += 1) uses[n] ??= use;
  };

  const found = findDay(name, today) ?? shortDay(name, tokens, today);
  if (found)
    tokens.forEach(({ start, end }, n) => {
      if (start >= found.start && end <= found.end) take(n, n + 1, 'date');
    });
  const codes = names.find(name, tokens).filter(({ from }) => uses[from] === undefined);
  for (const { from, to } of codes) {
    take(CLASS_WORDS.has(tokens[from - 1]?.word ?? '') ? from - 1 : from, to, 'code');
    // `8a und 8b`
    if (AND_WORDS.has(tokens[to]?.word ?? '') && codes.some((c) => c.from === to + 1))
      take(to, to + 1, 'code');
  }
  takeMarks(name, tokens, take);

  const kind = kindOf(tokens, uses);
  const period = periodOf(name, tokens, uses, take);
  const number = numberOf(name, tokens, uses, kind?.words ?? new Set(), take);
  const letter = codes.length > 0 ? null : letterOf(name, tokens, uses, names);
  if (letter !== null) take(letter, letter + 1, 'letter');

  const rest = tokens.filter((_, n) => !uses[n] || uses[n] === 'kind');
  const letterWord = letter === null ? '' : tokens[letter]!.word;
  const first = uses.findIndex((use) => !REMOVED.has(use!));
  /** A course before the number of a lesson says nothing of what it was about: `Soil lesson 15`. */
  const leading = names.courseOf(tokens[first]?.word ?? '') !== null && !!uses[first + 1];
  const told = kind?.kind ?? (uses[first] === 'number' ? 'notes' : null);
  return {
    kind: told,
    number,
    day: found?.day ?? null,
    period,
    classIds: distinct(codes.filter((c) => !c.common).flatMap((c) => c.ids)),
    commonIds: distinct(codes.filter((c) => c.common).flatMap((c) => c.ids)),
    letterIds: letter === null ? [] : names.byLetter(letterWord),
    letter: letterWord,
    courseId: rest.map(({ word }) => names.courseOf(word)).find((id) => id !== null) ?? null,
    meaningful:
      number !== null ||
      rest.some((t) => t.number === null && t.word.length > 1 && !MACHINE_WORDS.has(t.word)),
    title: capital(without(name, tokens, (n) => REMOVED.has(uses[n]!))),
    about: without(
      name,
      tokens,
      (n) =>
        REMOVED.has(uses[n]!) ||
        uses[n] === 'number' ||
        (leading && n === first) ||
        (uses[n] === 'kind' && told === 'notes'),
    ),
    stem: tokens
      .flatMap(({ word, number: digits }, n) => {
        if (REMOVED.has(uses[n]!)) return [];
        return digits === null ? word : '#';
      })
      .join(' '),
  };
}

type Use = 'date' | 'code' | 'mark' | 'period' | 'number' | 'kind' | 'letter' | 'other';
type Take = (from: number, to: number, use: Use) => void;
type Uses = readonly (Use | undefined)[];
/** What does not belong to a title. */
const REMOVED: ReadonlySet<Use> = new Set(['date', 'code', 'mark', 'period', 'letter']);

const distinct = <T>(all: readonly T[]) => [...new Set(all)];
/** With a capital at its beginning. */
export const capital = (text: string) => text.replace(/^\p{Ll}/u, (first) => first.toUpperCase());

/** A day and a month alone, `26.11.`, when it is near. */
function shortDay(name: string, tokens: readonly Token[], today: Day) {
  for (const [n, first] of tokens.entries()) {
    const second = tokens[n + 1];
    if (!second || first.number === null || second.number === null) continue;
    if (name.slice(first.end, second.start) !== '.' || first.word.length > 2) continue;
    const dotted = `${first.word}.${second.word}.${today.slice(0, 4)}`;
    const near = [0, -1, 1]
      .map((by) =>
        findDay(
          dotted.replace(/\d{4}$/u, (y) => String(Number(y) + by)),
          today,
        ),
      )
      .find((found) => found && Math.abs(Date.parse(found.day) - Date.parse(today)) <= NEAR * DAY);
    if (near) return { day: near.day, start: first.start, end: second.end };
  }
  return null;
}
const DAY = 86_400_000;

/** Marks of copies and states: `(2)`, `v3`, `- Kopie`, `final`. */
function takeMarks(name: string, tokens: readonly Token[], take: Take) {
  for (const [n, { word, number, start, end, joined }] of tokens.entries()) {
    const bracketed = name[start - 1] === '(' && name[end] === ')';
    const last = n === tokens.length - 1;
    if (number !== null && bracketed && last) take(n, n + 1, 'mark');
    else if (STATE_WORDS.has(word) && !tokens[n + 1]?.joined) take(n, n + 1, 'mark');
    else if (number !== null && joined && tokens[n - 1]!.word === 'v') take(n - 1, n + 1, 'mark');
    else if (word === 'of' && tokens[n - 1]?.word === 'copy') take(n, n + 1, 'mark');
  }
}

/** By which word of the name the kind is told, and which words do. */
function kindOf(tokens: readonly Token[], uses: (Use | undefined)[]) {
  for (const [kind, words] of KIND_WORDS) {
    const at = tokens.flatMap(({ word }, n) =>
      !uses[n] &&
      words.has(word) &&
      !(kind === 'key' && NO_KEY_AFTER.has(tokens[n + 1]?.word ?? ''))
        ? [n]
        : [],
    );
    if (at.length === 0) continue;
    for (const n of at) uses[n] = 'kind';
    // The number of a key is that of its quiz or sheet.
    return { kind, words: kind === 'key' ? ANY_KIND : words };
  }
  return null;
}

/** `P3`, `period 3`, `3rd period`, `3. Stunde`. */
function periodOf(name: string, tokens: readonly Token[], uses: Uses, take: Take): number | null {
  for (const [n, { word, number }] of tokens.entries()) {
    if (uses[n] && uses[n] !== 'kind') continue;
    const next = tokens[n + 1];
    if (PERIOD_WORDS.has(word) && next?.number && next.number <= 12) {
      if (word.length < 3 && !next.joined) continue;
      take(n, n + 2, 'period');
      return next.number;
    }
    if (number === null || number > 12 || number === 0) continue;
    const ordinal = /^(st|nd|rd|th)$/u.test(next?.word ?? '') && next!.joined;
    const said = tokens[n + (ordinal ? 2 : 1)];
    const dotted = name.slice(tokens[n]!.end, said?.start).trimEnd() === '.';
    if (said && (ordinal || dotted) && ORDINAL_PERIODS.has(said.word)) {
      take(n, n + (ordinal ? 3 : 2), 'period');
      return number;
    }
  }
  return null;
}

/** The number after the word that tells the kind, before it, or the only one there is. */
function numberOf(
  name: string,
  tokens: readonly Token[],
  uses: Uses,
  kindWords: ReadonlySet<string>,
  take: Take,
): number | null {
  const free = (n: number) => {
    const token = tokens[n];
    return (
      token !== undefined &&
      token.number !== null &&
      token.number <= MOST &&
      token.word.length <= 3 &&
      !uses[n]
    );
  };
  const near = (from: number, to: number) =>
    /^[\s._#-]{0,3}$/u.test(name.slice(tokens[from]!.end, tokens[to]!.start));
  const chosen = (n: number) => {
    take(n, n + 1, 'number');
    return tokens[n]!.number;
  };
  const saying = tokens.flatMap(({ word }, n) => (kindWords.has(word) ? [n] : []));
  for (const n of saying) {
    const number = /^(nr|no|number)$/u.test(tokens[n + 1]?.word ?? '') ? n + 2 : n + 1;
    if (free(number) && near(number - 1, number)) return chosen(number);
  }
  for (const n of saying) {
    const before = /^(st|nd|rd|th)$/u.test(tokens[n - 1]?.word ?? '') ? n - 2 : n - 1;
    if (before >= 0 && free(before)) return chosen(before);
  }
  for (const n of tokens.keys()) {
    if (!free(n)) continue;
    const before = tokens[n - 1]?.word ?? '';
    if (!UNIT_WORDS.has(before) && !GROUP_WORDS.has(before) && !MACHINE_WORDS.has(before))
      return chosen(n);
  }
  return null;
}

/** Which token is a letter that stands for classes; null where none does. */
function letterOf(
  name: string,
  tokens: readonly Token[],
  uses: Uses,
  names: ClassNames,
): number | null {
  const at = tokens.findIndex(({ word, joined, start }, n) => {
    if (uses[n] || word.length !== 1 || names.byLetter(word).length === 0) return false;
    if (GROUP_WORDS.has(tokens[n - 1]?.word ?? '')) return false;
    // `a` is a word of English as well.
    const small = name[start] === word;
    if (small && !joined && (n < tokens.length - 1 ? n > 0 || word === 'a' : false)) return false;
    // `notes14b` has one, `plan b` has none, and neither has `pH`.
    return !joined || tokens[n - 1]!.number !== null;
  });
  return at < 0 ? null : at;
}

/** The name without some of its tokens, made readable. */
function without(name: string, tokens: readonly Token[], gone: (n: number) => boolean): string {
  let text = '';
  let end = 0;
  for (const [n, token] of tokens.entries()) {
    const gap = name.slice(end, token.start);
    // `quiz4` reads `quiz 4`.
    const apart =
      gap === '' && n > 0 && token.number !== null && (tokens[n - 1]?.word.length ?? 0) > 1;
    text += apart ? ' ' : gap;
    if (!gone(n)) text += name.slice(token.start, token.end);
    end = token.end;
  }
  text += name.slice(end);
  const spaced = text.replace(/[_+]/gu, ' ').replace(/\(\s{0,9}\)/gu, ' ');
  const words = / /u.test(spaced.trim()) ? spaced : spaced.replace(/[-.]/gu, ' ');
  return trimmed(words.replace(/\s+/gu, ' '));
}

const EDGE = /[\s,;:.&#/–-]/u;

/** Without separators at its ends, and with one between two words. */
function trimmed(text: string): string {
  let [start, end] = [0, text.length];
  while (start < end && EDGE.test(text[start]!)) start += 1;
  while (end > start && EDGE.test(text[end - 1]!)) end -= 1;
  return text
    .slice(start, end)
    .replace(/ ([,;:])/gu, '$1')
    .replace(/([,;:–-])(?: ?[,;:–-])+/gu, '$1');
}
