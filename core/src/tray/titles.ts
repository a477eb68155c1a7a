import { fileTitle } from '../naming.ts';

/** What a title is put together from. */
export interface TitleParts {
  readonly class: string;
  readonly course: string;
  readonly n: number | null;
  readonly about: string;
}

const TOKEN = /\{(class|course|n|about)(?::(\d))?\}/gu;

/** How lessons are titled until a teacher says otherwise, by the language of their screens. */
export const TITLE_PATTERNS = { en: 'Lesson {n}, {about}', de: 'Stunde {n}, {about}' } as const;

/** What is wrong with a pattern of titles such as `{class} Lesson {n:2}, {about}`; null when it can be used. */
export function titlePatternFault(pattern: string): string | null {
  const rest = pattern.replace(TOKEN, '');
  return /\{[^{}]*\}/u.exec(rest)?.[0] ?? /[{}]/u.exec(rest)?.[0] ?? null;
}

/** Fills a pattern of titles in. What is empty goes with the separators before it. */
export function fillTitle(pattern: string, parts: TitleParts): string {
  const filled = pattern.replace(TOKEN, (_, token: keyof TitleParts, width?: string) => {
    const value = String(parts[token] ?? '');
    return value === '' ? EMPTY : value.padStart(Number(width ?? 0), '0');
  });
  const pieces = filled.split(EMPTY);
  const kept = pieces
    .map((piece, n) => (n < pieces.length - 1 ? withoutEnd(piece) : piece))
    .join('');
  return fileTitle(withoutStart(kept)) ?? '';
}

const EMPTY = '\u0000';
const SEPARATOR = /[\s,;:–-]/u;

function withoutEnd(text: string): string {
  let end = text.length;
  while (end > 0 && SEPARATOR.test(text[end - 1]!)) end -= 1;
  return text.slice(0, end);
}

function withoutStart(text: string): string {
  let start = 0;
  while (start < text.length && SEPARATOR.test(text[start]!)) start += 1;
  return text.slice(start);
}
