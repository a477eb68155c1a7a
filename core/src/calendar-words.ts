/** Days of the week and months as people write them, in English and German. */

/** From Monday on; each language with its whole names and its short ones. */
const WEEKDAYS: readonly (readonly string[])[] = [
  ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'],
  ['Montag', 'Dienstag', 'Mittwoch', 'Donnerstag', 'Freitag', 'Samstag', 'Sonntag'],
  ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'],
  ['Mo', 'Di', 'Mi', 'Do', 'Fr', 'Sa', 'So'],
  ['Mon', 'Tues', 'Wed', 'Thurs', 'Fri', 'Sat', 'Sun'],
];

/** The German forms come last, so that what both languages have is taken for English. */
const MONTHS: readonly (readonly string[])[] = [
  'January February March April May June July August September October November December',
  'Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec',
  'Jan Feb Mar Apr May Jun Jul Aug Sept Oct Nov Dec',
  'Januar Februar März April Mai Juni Juli August September Oktober November Dezember',
  'Jan Feb Mär Apr Mai Jun Jul Aug Sep Okt Nov Dez',
  'Jan Feb Mrz Apr Mai Jun Jul Aug Sept Okt Nov Dez',
  'Jänner Feber März April Mai Juni Juli August September Oktober November Dezember',
].map((names) => names.split(' '));

/** How many of the forms of months are English. */
const ENGLISH = 3;

/** A form of all names, and where in it a name is. */
interface Found {
  readonly form: readonly string[];
  readonly n: number;
}

function find(forms: readonly (readonly string[])[], name: string): Found | null {
  for (const form of forms) {
    const n = form.indexOf(name);
    if (n >= 0) return { form, n };
  }
  return null;
}

const alternatives = (forms: readonly (readonly string[])[]) =>
  [...new Set(forms.flat())].sort((a, b) => b.length - a.length).join('|');

/** Parts of regular expressions that match one name. */
export const A_WEEKDAY = alternatives(WEEKDAYS);
export const A_MONTH = alternatives(MONTHS);
export const AN_ENGLISH_MONTH = alternatives(MONTHS.slice(0, ENGLISH));

/** From 0 for Monday, or for January; -1 for what is no such name. */
export const weekdayOf = (name: string) => find(WEEKDAYS, name)?.n ?? -1;
export const monthOf = (name: string) => find(MONTHS, name)?.n ?? -1;

/** Another day or month in the form in which `like` is written. */
export const weekdayLike = (like: string, n: number) => find(WEEKDAYS, like)!.form[n]!;
/** A name that both languages have, such as April, says nothing of the language: `german` decides. */
export function monthLike(like: string, n: number, german: boolean): string {
  const forms = german ? [...MONTHS.slice(ENGLISH), ...MONTHS.slice(0, ENGLISH)] : MONTHS;
  return find(forms, like)!.form[n]!;
}
