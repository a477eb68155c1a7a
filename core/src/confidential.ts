/** Words that make the name of a file or folder look as if not everybody should have it. Editable by each teacher. */
export const CONFIDENTIAL_WORDS: readonly string[] = [
  'mark',
  'marks',
  'grade',
  'grades',
  'marksheet',
  'gradebook',
  'key',
  'keys',
  'solution',
  'solutions',
  'answers',
  'report',
  'reports',
  'appraisal',
  'absence',
  'absences',
  'register',
  'medical',
  'health',
  'contact',
  'contacts',
  'address',
  'addresses',
  'birthday',
  'birthdays',
  'personal',
  'private',
  'confidential',
  'password',
  'passwords',
];

/**
 * The first word of `words` that stands as a whole word in a name, without regard to case; null when none does.
 * A term of several words counts where they follow one another. `Keyboard` is no key.
 */
export function confidentialWord(name: string, words: readonly string[]): string | null {
  const spoken = ` ${plain(name)} `;
  return (
    words.find((word) => {
      const looked = plain(word);
      return looked !== '' && spoken.includes(` ${looked} `);
    }) ?? null
  );
}

/** The words in a list with one term a line; empty lines and repeated ones are left out. */
export function readWords(lines: string): string[] {
  return [
    ...new Set(
      lines
        .split(/[\n,;]/u)
        .map((line) => line.trim())
        .filter(Boolean),
    ),
  ];
}

/** Lower case, anything that is no letter or digit as one space: `Answer_key-2.pdf` is `answer key 2 pdf`. */
function plain(text: string): string {
  return text
    .normalize('NFC')
    .replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();
}
