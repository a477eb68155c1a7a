import type { Id } from '../model.ts';
import type { TrayClass } from './model.ts';
import { tokensOf, type Token } from './tokens.ts';
import { AND_WORDS } from './words.ts';

/** Classes that a name speaks of by their codes, with where it does. */
export interface NamedClasses {
  readonly ids: readonly Id[];
  /** From which token to which (not included). */
  readonly from: number;
  readonly to: number;
  /** Whether it is the part of the code that several classes have in common (`SO1` of `SO1A` and `SO1B`). */
  readonly common: boolean;
}

/** What of a name stands between two tokens of a code: nothing, or one of these. */
const WITHIN_CODE = /^[\s._/-]?$/u;
/** Between the letters of two classes: `SO1A+B`, `SO1A/B`, `SO1 A, B`. */
const BETWEEN_LETTERS = /^[\s+&/,]{0,3}$/u;

/** What names of classes are found by. */
type NamedClass = Pick<TrayClass, 'id' | 'code' | 'courseId' | 'course'>;

/** Finds classes in names: by their codes, what codes have in common, their letters, and the words of their courses. */
export class ClassNames {
  readonly #codes: readonly { readonly words: readonly string[]; readonly ids: readonly Id[] }[];
  /** Codes without their last letter, with the classes by that letter. */
  readonly #stems: readonly {
    readonly words: readonly string[];
    readonly byLetter: ReadonlyMap<string, Id>;
  }[];
  readonly #letters = new Map<string, Id[]>();
  readonly #courseWords = new Map<string, Id | null>();

  constructor(readonly classes: readonly NamedClass[]) {
    const codes = classes.map(({ id, code }) => ({
      id,
      words: tokensOf(code).map(({ word }) => word),
    }));
    this.#codes = codes.map(({ id, words }) => ({ words, ids: [id] }));
    const stems = new Map<string, { words: string[]; byLetter: Map<string, Id> }>();
    for (const { id, words } of codes) {
      const letter = words.at(-1) ?? '';
      if (words.length < 2 || !/^\p{L}$/u.test(letter)) continue;
      const stem = words.slice(0, -1);
      const key = stem.join(' ');
      const known = stems.get(key) ?? { words: stem, byLetter: new Map() };
      known.byLetter.set(letter, id);
      stems.set(key, known);
      this.#letters.set(letter, [...(this.#letters.get(letter) ?? []), id]);
    }
    this.#stems = [...stems.values()].sort((a, b) => b.words.length - a.words.length);
    for (const { courseId, course } of classes)
      for (const { word } of tokensOf(course)) {
        if (word.length < 4) continue;
        const known = this.#courseWords.get(word);
        // A word that two courses have in common tells nothing.
        this.#courseWords.set(word, known === undefined || known === courseId ? courseId : null);
      }
  }

  /** The classes whose last letter this is. */
  byLetter(letter: string): readonly Id[] {
    return this.#letters.get(letter) ?? [];
  }

  /** The one course that has this word in its title; null where there is none, or several. */
  courseOf(word: string): Id | null {
    return this.#courseWords.get(word) ?? this.#courseWords.get(word.replace(/s$/u, '')) ?? null;
  }

  /** The classes of a course. */
  ofCourse(courseId: Id): Id[] {
    return this.classes.filter((c) => c.courseId === courseId).map(({ id }) => id);
  }

  /** All codes in a name. */
  find(name: string, tokens: readonly Token[]): NamedClasses[] {
    const found: NamedClasses[] = [];
    for (let at = 0; at < tokens.length; at += 1) {
      const here = this.#at(name, tokens, at);
      if (!here) continue;
      found.push(here);
      at = here.to - 1;
    }
    return found;
  }

  #at(name: string, tokens: readonly Token[], at: number): NamedClasses | null {
    for (const { words, byLetter } of this.#stems) {
      if (!follows(name, tokens, at, words)) continue;
      const listed = lettersAfter(name, tokens, at + words.length, byLetter);
      if (listed) return { ids: listed.ids, from: at, to: listed.to, common: false };
    }
    // A code of one letter is a word of English as well.
    const small = /^\p{Ll}$/u.test(name.slice(tokens[at]!.start, tokens[at]!.end));
    const code = this.#codes.find(
      ({ words }) => follows(name, tokens, at, words) && !(small && words.length === 1),
    );
    if (code) return { ids: code.ids, from: at, to: at + code.words.length, common: false };
    // A lone number is no code.
    const stem = this.#stems.find(
      ({ words }) => words.length > 1 && follows(name, tokens, at, words),
    );
    return stem
      ? { ids: [...stem.byLetter.values()], from: at, to: at + stem.words.length, common: true }
      : null;
  }
}

/** Whether these words stand at a token, as one code. */
function follows(
  name: string,
  tokens: readonly Token[],
  at: number,
  words: readonly string[],
): boolean {
  return (
    words.length > 0 &&
    words.every((word, n) => {
      const token = tokens[at + n];
      if (token?.word !== word) return false;
      return n === 0 || WITHIN_CODE.test(name.slice(tokens[at + n - 1]!.end, token.start));
    })
  );
}

/** The letters of classes after what they have in common: `A`, `AB`, `A+B`, `a und b`. Null where there are none. */
function lettersAfter(
  name: string,
  tokens: readonly Token[],
  from: number,
  byLetter: ReadonlyMap<string, Id>,
): { ids: Id[]; to: number } | null {
  const ids: Id[] = [];
  const read = (at: number, gap: RegExp): boolean => {
    const token = tokens[at];
    if (!token || token.number !== null) return false;
    if (!gap.test(name.slice(tokens[at - 1]!.end, token.start))) return false;
    const letters = [...token.word].map((letter) => byLetter.get(letter));
    if (letters.some((id) => id === undefined)) return false;
    ids.push(...letters.flatMap((id) => id ?? []));
    return true;
  };
  if (!read(from, WITHIN_CODE)) return null;
  let to = from + 1;
  for (;;) {
    if (read(to, BETWEEN_LETTERS)) to += 1;
    else if (AND_WORDS.has(tokens[to]?.word ?? '') && read(to + 1, BETWEEN_LETTERS)) to += 2;
    else return { ids: [...new Set(ids)], to };
  }
}

/** Finds the classes that a title speaks of: by their codes; else the only class of a course of which it has a word. */
export function classesNamed(classes: readonly NamedClass[]): (title: string) => readonly Id[] {
  const names = new ClassNames(classes);
  return (title) => {
    const tokens = tokensOf(title);
    const coded = names.find(title, tokens).flatMap(({ ids }) => ids);
    if (coded.length > 0) return [...new Set(coded)];
    const courseId = tokens.map(({ word }) => names.courseOf(word)).find((id) => id !== null);
    const of = courseId ? names.ofCourse(courseId) : [];
    return of.length === 1 ? of : [];
  };
}
