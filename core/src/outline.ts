/** Outlines: folders typed or pasted as indented lines. */

export interface OutlineLine {
  /** The name as typed, which may hold tokens of a naming pattern. */
  readonly name: string;
  /** Number of the line in the text, from 1. */
  readonly line: number;
  readonly below: readonly OutlineLine[];
}

export interface OutlineFault {
  readonly line: number;
  readonly fault: 'too-deep' | 'too-many';
}

export interface Outline {
  readonly lines: readonly OutlineLine[];
  readonly faults: readonly OutlineFault[];
}

export const OUTLINE_DEPTH = 20;
export const OUTLINE_LINES = 500;
/** How far a tab stop goes. */
const TAB = 4;
/** What lists put before their lines when they are pasted: dashes, stars, bullets. */
const BULLET = /^(?:[-–*+•◦▪‣]\s+)+/u;

interface Growing {
  readonly name: string;
  readonly line: number;
  readonly below: Growing[];
}

/**
 * Reads an outline. A line that is indented further than the one before stands below it; how far does not matter.
 * Empty lines and the bullets of pasted lists are left out. Lines beyond OUTLINE_LINES or OUTLINE_DEPTH are left out
 * and named as faults.
 */
export function parseOutline(text: string): Outline {
  const top: Growing[] = [];
  const above: { indent: number; below: Growing[] }[] = [{ indent: -1, below: top }];
  const faults: OutlineFault[] = [];
  let count = 0;
  text.split(/\r\n|\r|\n/u).forEach((raw, n) => {
    const line = n + 1;
    const name = raw.trim().replace(BULLET, '').trim();
    if (name === '') return;
    count += 1;
    if (count > OUTLINE_LINES) {
      faults.push({ line, fault: 'too-many' });
      return;
    }
    const indent = indentOf(raw);
    while (above.at(-1)!.indent >= indent) above.pop();
    if (above.length > OUTLINE_DEPTH) {
      faults.push({ line, fault: 'too-deep' });
      return;
    }
    const grown: Growing = { name, line, below: [] };
    above.at(-1)!.below.push(grown);
    above.push({ indent, below: grown.below });
  });
  return { lines: top, faults };
}

function indentOf(raw: string): number {
  let width = 0;
  for (const sign of raw) {
    if (sign === '\t') width += TAB - (width % TAB);
    else if (/\s/u.test(sign)) width += 1;
    else break;
  }
  return width;
}
