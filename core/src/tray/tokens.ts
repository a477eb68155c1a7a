import { plainWord } from './words.ts';

/** A word, or a run of digits, in a name. */
export interface Token {
  /** Lower case, without marks. */
  readonly word: string;
  readonly number: number | null;
  /** Where it stands in the name. */
  readonly start: number;
  readonly end: number;
  /** Whether it is directly after the one before it. */
  readonly joined: boolean;
}

const RUN = /[\p{L}\p{M}]+|\p{Nd}+/gu;
const CAPITAL = /\p{Lu}/u;
const SMALL = /\p{Ll}/u;

/** The words and numbers of a name. Linear in its length. */
export function tokensOf(name: string): Token[] {
  const found: Token[] = [];
  for (const { 0: run, index } of name.matchAll(RUN)) {
    let start = index;
    for (const part of wordsIn(run)) {
      const end = start + part.length;
      const number = /^\d{1,6}$/u.test(part) ? Number(part) : null;
      found.push({
        word: plainWord(part),
        number,
        start,
        end,
        joined: found.at(-1)?.end === start,
      });
      start = end;
    }
  }
  return found;
}

/** Where a capital begins a new word: `lessonNotes`, `ANotes`. */
function wordsIn(run: string): string[] {
  const letters = [...run];
  const words: string[] = [];
  let word = '';
  for (const [n, letter] of letters.entries()) {
    const begins =
      CAPITAL.test(letter) &&
      (SMALL.test(letters[n - 1] ?? '') ||
        (CAPITAL.test(letters[n - 1] ?? '') && SMALL.test(letters[n + 1] ?? '')));
    if (begins) words.push(word);
    word = begins ? letter : word + letter;
  }
  return [...words, word];
}
