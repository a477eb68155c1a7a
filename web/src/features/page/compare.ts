import { diffArrays, diffWordsWithSpace } from 'diff';

/** A piece of text that both versions have, or only the later (`added`) or the earlier one (`removed`). */
export interface Piece {
  readonly text: string;
  readonly is: 'same' | 'added' | 'removed';
}

/** A block of a page (a paragraph, a heading, a row of a table) with what was added to it and taken out of it. */
export type Compared = readonly Piece[];

/** Blocks that differ more than this are shown one after the other, not word by word: the share of what both have. */
const ALIKE = 0.3;

const BLOCKS = 'p, h2, h3, h4, li, tr, pre, summary, hr, img';

/** What stands on a page, block by block. */
export function blocksOf(html: string): string[] {
  const page = new DOMParser().parseFromString(html, 'text/html');
  return [...page.querySelectorAll<HTMLElement>(BLOCKS)]
    .filter((block) => block.matches('tr') || !block.closest('tr') || block.matches('img'))
    .map((block) => {
      if (block.matches('hr')) return '———';
      if (block.matches('img')) return `[${block.getAttribute('alt') || 'picture'}]`;
      if (block.matches('tr'))
        return [...block.children].map((cell) => cell.textContent?.trim()).join(' | ');
      // What is in blocks of its own stands there.
      const own = block.cloneNode(true) as HTMLElement;
      for (const inner of own.querySelectorAll(BLOCKS)) inner.remove();
      if (block.matches('li') && own.textContent?.trim() === '') return '';
      return (own.textContent ?? '').replace(/\s+/gu, ' ').trim();
    })
    .filter((text) => text !== '');
}

const block = (is: Piece['is']) => (text: string) => [{ text, is }] as const;

/** Two versions of a page, block by block, in the order in which they stand. */
export function compare(before: readonly string[], after: readonly string[]): Compared[] {
  const found: Compared[] = [];
  let removed: readonly string[] = [];
  const letGo = () => {
    found.push(...removed.map(block('removed')));
    removed = [];
  };
  for (const part of diffArrays([...before], [...after])) {
    if (part.removed) removed = part.value;
    else if (part.added) {
      // What was taken out and put in at one place is the same, changed, as far as the two are alike.
      const changed = part.value.map((text, n) => wordByWord(removed[n], text));
      found.push(...changed.flat());
      removed = removed.slice(part.value.length);
      letGo();
    } else {
      letGo();
      found.push(...part.value.map(block('same')));
    }
  }
  letGo();
  return found;
}

function wordByWord(before: string | undefined, after: string): Compared[] {
  if (before === undefined) return [block('added')(after)];
  const pieces = diffWordsWithSpace(before, after).map(({ value, added, removed }): Piece => ({
    text: value,
    is: added ? 'added' : removed ? 'removed' : 'same',
  }));
  const same = pieces.reduce((sum, { is, text }) => sum + (is === 'same' ? text.length : 0), 0);
  return same / Math.max(before.length, after.length) >= ALIKE
    ? [pieces]
    : [block('removed')(before), block('added')(after)];
}
