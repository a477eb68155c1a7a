import {
  A_MONTH,
  A_WEEKDAY,
  AN_ENGLISH_MONTH,
  monthLike,
  monthOf,
  weekdayLike,
  weekdayOf,
} from './calendar-words.ts';
import { dayAfter, type Day } from './zone.ts';

/** When, and for whom, a text was written or is wanted. */
export interface Frame {
  /** The first and the last day of the school year. */
  readonly firstDay: Day;
  readonly lastDay: Day;
  /** Codes of the classes. */
  readonly classes: readonly string[];
}

/** What looks out of date in a text, from `start` up to `end` (UTF-16 code units). */
export interface Stale {
  readonly start: number;
  readonly end: number;
  readonly kind: 'date' | 'year' | 'class';
  readonly text: string;
  /** What could be there instead; null where nothing is known. */
  readonly proposed: string | null;
  /** The day that is proposed; null for what is no day. */
  readonly day: Day | null;
}

/** A text out of one frame is to be used in another. */
interface Move {
  readonly from: Frame;
  readonly to: Frame;
  /** How many school years lie between the two. */
  readonly years: number;
  /** The same in days: whole weeks, so that a day stays the day of the week that it was. */
  readonly days: number;
}

/**
 * What looks out of date in a text that was written in one frame and is to be used in another: dates, years and school years
 * of the earlier one, days of the week that do not fit their dates, and classes that the later frame does not have. In English
 * and German; in the order in which they are, none within another. Days move by whole weeks, so that lessons stay on their days of the week.
 * What happened long before the text was written is left alone. The work grows with the length of the text.
 */
export function staleDates(text: string, from: Frame, to: Frame): Stale[] {
  const years = yearOf(to.firstDay) - yearOf(from.firstDay);
  const move: Move = { from, to, years, days: Math.round((years * 365.25) / 7) * 7 };
  const found: Stale[] = [];
  for (const find of [days, schoolYears, singleYears, classes]) found.push(...find(text, move));
  // What was found first is the larger of two that overlap.
  const taken: Stale[] = [];
  let last = -1;
  for (const one of found
    .map((stale, rank) => ({ stale, rank }))
    .sort((a, b) => a.stale.start - b.stale.start || a.rank - b.rank)) {
    if (one.stale.start < last) continue;
    last = one.stale.end;
    if (one.stale.proposed !== one.stale.text) taken.push(one.stale);
  }
  return taken;
}

/** Puts what is proposed in the place of what is stale. */
export function withProposals(text: string, stale: readonly Stale[]): string {
  let result = '';
  let at = 0;
  for (const { start, end, proposed, text: old } of stale) {
    result += text.slice(at, start) + (proposed ?? old);
    at = end;
  }
  return result + text.slice(at);
}

const yearOf = (day: Day) => Number(day.slice(0, 4));

/** Whether what is found is not part of a longer word or number. */
function standsAlone(text: string, start: number, end: number): boolean {
  const part = /[\p{L}\p{N}_]/u;
  return !part.test(text.charAt(start - 1)) && !part.test(text.charAt(end));
}

const WEEKDAY = `(?:(?<weekday>${A_WEEKDAY})\\.?,?\\s{1,2}(?:(?:the|der|den|dem)\\s)?)?`;

/** Ways of writing a day; of two that begin at the same place the first one counts. */
const DAYS = [
  /(?<year>\d{4})-(?<month>\d\d)-(?<day>\d\d)/dgu,
  new RegExp(
    `${WEEKDAY}(?:(?<first>\\d{1,2}(?:\\.|st|nd|rd|th)?)\\s?(?:–|-|to|bis|und|and)\\s?)?(?<day>\\d{1,2})(?<ordinal>\\.|st|nd|rd|th)?(?:\\sof)?\\s{1,2}(?<name>${A_MONTH})(?:\\.?,?\\s(?<year>\\d{4}))?`,
    'dgu',
  ),
  new RegExp(
    `${WEEKDAY}(?<name>${AN_ENGLISH_MONTH})\\.?\\s(?<day>\\d{1,2})(?<ordinal>st|nd|rd|th)?(?:,?\\s(?<year>\\d{4}))?`,
    'dgu',
  ),
  new RegExp(
    `${WEEKDAY}(?<day>\\d{1,2})\\.\\s?(?<month>\\d{1,2})\\.(?:(?:\\s?(?=\\d{4})|(?=\\d\\d(?!\\d)))(?<year>\\d{4}|\\d\\d))?`,
    'dgu',
  ),
  new RegExp(`${WEEKDAY}(?<day>\\d{1,2})/(?<month>\\d{1,2})/(?<year>\\d{4}|\\d\\d)`, 'dgu'),
];

/** What comes before two bare numbers that are a day and a month, and not a section of a book. */
const LEADS_TO_A_DAY = /(?:^|\P{L})(?:am|vom|bis|zum|ab|seit|den|der|dem|on|until|from|by)\s$/u;

function* days(text: string, move: Move): Generator<Stale> {
  for (const pattern of DAYS)
    for (const match of text.matchAll(pattern)) {
      const stale = staleDay(text, match as RegExpExecArray, move);
      if (stale) yield stale;
    }
}

function staleDay(text: string, match: RegExpExecArray, move: Move): Stale | null {
  const groups = match.groups!;
  const start = match.index;
  const end = start + match[0].length;
  if (!standsAlone(text, start, end)) return null;
  const { weekday, name, year } = groups;
  const bare = !name && !year && !weekday;
  if (bare && !LEADS_TO_A_DAY.test(text.slice(Math.max(0, start - 8), start))) return null;
  const date = dateOf(groups, move.from);
  if (!date) return null;
  // Without a year its day of the week tells to which of the two frames a day belongs.
  const there = weekday && !year ? dateOf(groups, move.to) : null;
  const fits = there !== null && weekdayOf(weekday!) === weekdayOn(there);
  const past = move.years !== 0 && !fits && (!year || isOf(date, move));
  const day = past ? dayAfter(date, move.days) : fits ? there : date;
  return {
    ...{ start, end, kind: 'date', text: match[0], day },
    // What fits is proposed as it is, so that its year is not taken for one by itself.
    proposed: written(match, past || !fits ? date : day, day),
  };
}

/** Whether a day lies in the frame from which a text comes, or the holidays around it, and before the one in which it is wanted. */
function isOf(day: Day, { from, to }: Move): boolean {
  return (
    day >= dayAfter(from.firstDay, -92) && day <= dayAfter(from.lastDay, 92) && day < to.firstDay
  );
}

/** The day that is written, in the year of the frame where none is; null for one that no calendar has. */
function dateOf(groups: Partial<Record<string, string>>, frame: Frame): Day | null {
  let day = Number(groups.day);
  let month = groups.name ? monthOf(groups.name) + 1 : Number(groups.month);
  // The American way round.
  if (month > 12 && day <= 12 && groups.year) [day, month] = [month, day];
  const two = (n: number) => String(n).padStart(2, '0');
  const { year } = groups;
  const written = year === undefined ? null : year.length === 2 ? `20${year}` : year;
  const within = (y: number) => `${y}-${two(month)}-${two(day)}`;
  const first = yearOf(frame.firstDay);
  const found = within(
    written === null ? first + (two(month) < frame.firstDay.slice(5, 7) ? 1 : 0) : Number(written),
  );
  const date = new Date(`${found}T00:00:00Z`);
  return !Number.isNaN(date.getTime()) && date.toISOString().startsWith(found) ? found : null;
}

/** From 0 for Monday. */
const weekdayOn = (day: Day) => (new Date(`${day}T00:00:00Z`).getUTCDay() + 6) % 7;

/** Another day in the words in which one is written. */
function written(match: RegExpExecArray, old: Day, day: Day): string {
  const groups = match.groups!;
  const [year, month, date] = day.split('-').map(Number) as [number, number, number];
  const { name, ordinal = '' } = groups;
  const german = ordinal === '.' || (groups.weekday !== undefined && isGerman(groups.weekday));
  const figures = [groups.day, groups.month];
  // Numbers with two figures each may be written so by chance.
  const wide =
    figures.some((figure) => figure?.startsWith('0')) || (!name && /[/-]/u.test(match[0]));
  const padded = (n: number) => String(n).padStart(wide ? 2 : 1, '0');
  const swapped = !name && Number(groups.month) > 12;
  const parts: Partial<Record<string, string>> = {
    weekday: groups.weekday && weekdayLike(groups.weekday, weekdayOn(day)),
    day: groups.day && padded(swapped ? month : date),
    month: groups.month && padded(swapped ? date : month),
    name: name && monthLike(name, month - 1, german),
    year: groups.year && String(year).slice(-groups.year.length),
    ordinal: ordinal && ordinal !== '.' ? ordinalOf(date) : ordinal,
    first: groups.first && firstOf(match, old, day, german),
  };
  let result = '';
  let at = match.index;
  const places = Object.entries(match.indices!.groups!)
    .flatMap(([key, place]) => (place ? [{ key, place }] : []))
    .sort((a, b) => a.place[0] - b.place[0]);
  for (const { key, place } of places) {
    result += match.input.slice(at, place[0]) + parts[key]!;
    at = place[1];
  }
  return result + match.input.slice(at, match.index + match[0].length);
}

const isGerman = (weekday: string) =>
  /^(?:Mo|Di|Mi|Do|Fr|Sa|So|\p{L}{4,9}(?:tag|woch))$/u.test(weekday) && !/day$/u.test(weekday);

/** The day with which a span begins, as many days before its end as it was; with its month, where that is another one by now. */
function firstOf(match: RegExpExecArray, old: Day, day: Day, german: boolean): string {
  const { first = '', name = '' } = match.groups!;
  const [, figures = '', ordinal = ''] = /^(\d+)(\D*)$/u.exec(first)!;
  const span = Number(old.slice(8)) - Number(figures);
  // What begins in the month before its end stays as it is written.
  if (span < 0) return first;
  const begins = dayAfter(day, -span);
  const n = Number(begins.slice(8));
  const numbered = `${n}${ordinal && ordinal !== '.' ? ordinalOf(n) : ordinal}`;
  const month = monthLike(name, Number(begins.slice(5, 7)) - 1, german);
  return begins.slice(0, 7) === day.slice(0, 7) ? numbered : `${numbered} ${month}`;
}

function ordinalOf(n: number): string {
  if (n >= 11 && n <= 13) return 'th';
  return ['th', 'st', 'nd', 'rd'][n % 10] ?? 'th';
}

/** `2025/26`, `2025–2026`. */
function* schoolYears(text: string, move: Move): Generator<Stale> {
  for (const match of text.matchAll(/(?<first>\d{4})(?<dash>\s?[/–-]\s?)(?<second>\d{4}|\d\d)/gu)) {
    const { first = '', dash = '', second = '' } = match.groups!;
    const start = match.index;
    const end = start + match[0].length;
    const follows = Number(second) % 100 === (Number(first) + 1) % 100;
    if (!follows || !standsAlone(text, start, end)) continue;
    const old = Number(first);
    const stale = move.years !== 0 && old === yearOf(move.from.firstDay);
    const year = stale ? old + move.years : old;
    const proposed = `${year}${dash}${String(year + 1).slice(-second.length)}`;
    yield { start, end, kind: 'year', text: match[0], proposed, day: null };
  }
}

/** A year by itself, or with the name of a term. */
function* singleYears(text: string, move: Move): Generator<Stale> {
  if (move.years === 0) return;
  const [first, last] = [yearOf(move.from.firstDay), yearOf(move.from.lastDay)];
  for (const { 0: year, index: start } of text.matchAll(/\d{4}/gu)) {
    const n = Number(year);
    if (n < first || n > last || !standsAlone(text, start, start + 4)) continue;
    yield {
      ...{ start, end: start + 4, kind: 'year', text: year, day: null },
      proposed: String(n + move.years),
    };
  }
}

/** Codes of classes that the later frame does not have. */
function* classes(text: string, { from, to }: Move): Generator<Stale> {
  for (const code of new Set(from.classes)) {
    if (code === '' || to.classes.includes(code)) continue;
    for (
      let start = text.indexOf(code);
      start >= 0;
      start = text.indexOf(code, start + code.length)
    ) {
      const end = start + code.length;
      if (!standsAlone(text, start, end)) continue;
      const proposed = likeliest(code, to.classes);
      yield { start, end, kind: 'class', text: code, proposed, day: null };
    }
  }
}

/** Of these classes the one whose code ends most as the other one does; null for none. */
function likeliest(code: string, codes: readonly string[]): string | null {
  const ending = (other: string) => {
    let n = 0;
    while (n < Math.min(code.length, other.length) && code.at(-1 - n) === other.at(-1 - n)) n += 1;
    return n;
  };
  return codes.reduce<string | null>(
    (best, other) => (best === null || ending(other) > ending(best) ? other : best),
    null,
  );
}
