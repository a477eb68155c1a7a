import { plainWord } from './words.ts';

/** A run of letters, or of digits, in a name. */
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

/** Letters, where a capital after a small one begins a new word (`lessonNotes`), or digits. */
const RUN = /\p{Lu}+(?!\p{Ll})|\p{Lu}?[\p{Ll}\p{M}]+|[\p{Lo}\p{Lt}\p{Lm}]+|\p{Lu}|\p{Nd}+/gu;

/** The words and numbers of a name. Linear in its length. */
export function tokensOf(name: string): Token[] {
  const found: Token[] = [];
  for (const { 0: run, index: start } of name.matchAll(RUN)) {
    const end = start + run.length;
    const number = /^\d{1,6}$/u.test(run) ? Number(run) : null;
    const joined = found.at(-1)?.end === start;
    found.push({ word: plainWord(run), number, start, end, joined });
  }
  return found;
}
