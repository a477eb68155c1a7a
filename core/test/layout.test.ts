import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  DEFAULT_PATTERN,
  faultsIn,
  layOut,
  missingPaths,
  nameKey,
  OUTLINE_DEPTH,
  OUTLINE_LINES,
  parseOutline,
  pathsOf,
  type LaidFolder,
  type ExistingFolder,
} from '../src/index.ts';

const PARTS = {
  year: 2026,
  course: 'Soil Science I',
  class: 'SO1A',
  teacher: 'Vandermoor',
  kind: 'Handouts',
};

const names = (lines: readonly Named[]): unknown[] =>
  lines.map((l) => (l.below.length > 0 ? [l.name, names(l.below)] : l.name));

interface Named {
  readonly name: string;
  readonly below: readonly Named[];
}

describe('parseOutline', () => {
  it('reads indented lines with blanks, tabs, bullets and empty lines', () => {
    const text = 'Units\r\n  - 1 Soil\n\n      Worksheets\n  * 2 Texture\n\tAnswer keys\nRubrics';
    expect(names(parseOutline(text).lines)).toEqual([
      [
        'Units',
        [
          ['1 Soil', ['Worksheets']],
          ['2 Texture', ['Answer keys']],
        ],
      ],
      'Rubrics',
    ]);
  });

  it('keeps dashes within names, takes several bullets, and a tab goes to the next stop', () => {
    const text = 'Soil - water\n-  - A\n    B\n \tC';
    expect(names(parseOutline(text).lines)).toEqual(['Soil - water', ['A', ['B', 'C']]]);
  });

  it('takes a step back to a depth that is not there as the nearest one above', () => {
    expect(names(parseOutline('A\n    B\n  C').lines)).toEqual([['A', ['B', 'C']]]);
  });

  it('names the lines that are too deep or too many, and keeps the rest', () => {
    const deep = Array.from({ length: 30 }, (_, n) => `${' '.repeat(n)}L${n}`).join('\n');
    expect(parseOutline(deep).faults.map((f) => f.line)).toEqual(
      Array.from({ length: 30 - OUTLINE_DEPTH }, (_, n) => OUTLINE_DEPTH + 1 + n),
    );
    const many = Array.from({ length: OUTLINE_LINES + 2 }, (_, n) => `L${n}`).join('\n');
    const parsed = parseOutline(many);
    expect(parsed.lines).toHaveLength(OUTLINE_LINES);
    expect(parsed.faults).toHaveLength(2);
  });

  it('reads back what an outline is written as', () => {
    const name = fc.string({ minLength: 1, maxLength: 8, unit: fc.constantFrom(...'abcÄ1 2') });
    const tree = nested<Line>((below) => fc.record({ name, below }));
    fc.assert(
      fc.property(tree, fc.constantFrom(' ', '   ', '\t'), (lines, step) => {
        const cleaned = clean(lines);
        const written = write(cleaned, step, 0);
        expect(names(parseOutline(written).lines)).toEqual(names(cleaned));
      }),
    );
  });
});

/** Lists of records in each other, three deep. */
function nested<T>(record: (below: fc.Arbitrary<T[]>) => fc.Arbitrary<T>): fc.Arbitrary<T[]> {
  let level: fc.Arbitrary<T[]> = fc.constant([]);
  for (let depth = 0; depth < 3; depth += 1) level = fc.array(record(level), { maxLength: 4 });
  return level;
}

interface Line {
  name: string;
  below: Line[];
}
const clean = (lines: Line[]): Line[] =>
  lines
    .filter((l) => l.name.trim() !== '')
    .map((l) => ({ name: l.name.trim(), below: clean(l.below) }));
const write = (lines: Line[], step: string, depth: number): string =>
  lines.map((l) => `${step.repeat(depth)}${l.name}\n${write(l.below, step, depth + 1)}`).join('');

describe('layOut', () => {
  const outline = parseOutline('{unit:2} Soil\n  Worksheets\n{unit:2} Texture\nRubrics').lines;

  it('names the folder of a class by the pattern and counts the units', () => {
    const folder = layOut(PARTS, '{year2} {class} {teacher} {kind}', outline);
    expect(pathsOf([folder]).map((p) => p.join(' / '))).toEqual([
      '26-27 SO1A Vandermoor Handouts',
      '26-27 SO1A Vandermoor Handouts / 01 Soil',
      '26-27 SO1A Vandermoor Handouts / 01 Soil / Worksheets',
      '26-27 SO1A Vandermoor Handouts / 02 Texture',
      '26-27 SO1A Vandermoor Handouts / Rubrics',
    ]);
    expect(faultsIn([folder])).toEqual([]);
  });

  it('counts a unit for each line that says so, with a width or without', () => {
    const lines = parseOutline('{unit} Soil\nRubrics\n{unit:2} Texture\n{unit} Water').lines;
    const { below } = layOut(PARTS, DEFAULT_PATTERN, lines);
    expect(below.map((f) => f.title)).toEqual(['1 Soil', 'Rubrics', '02 Texture', '3 Water']);
    expect(layOut(PARTS, DEFAULT_PATTERN, []).title).toBe('26-27 SO1A Soil Science I');
    expect(layOut(PARTS, '{wrong}', []).long).toBe(false);
  });

  it('finds names that cannot be used, twins among siblings and wrong tokens', () => {
    const folder = layOut(PARTS, '{class}', parseOutline('a/b\nKeys\nKEYS\n{wrong}').lines);
    expect(faultsIn([folder]).map((f) => [f.title, f.faults])).toEqual([
      ['a/b', ['forbidden-sign']],
      ['KEYS', ['taken']],
      ['{wrong}', ['pattern']],
    ]);
  });

  it('can be repeated: what it made is not missing, and only what was taken out is made again', () => {
    const title = fc.string({ minLength: 1, maxLength: 4, unit: fc.constantFrom(...'abAB') });
    const tree = nested<LaidFolder>((below) =>
      fc.record({ title, below, faults: fc.constant([]), long: fc.constant(false) }),
    );
    fc.assert(
      fc.property(tree, tree, (before, wanted) => {
        const lying = make([], pathsOf(before));
        const after = make(lying, missingPaths(wanted, lying));
        expect(missingPaths(wanted, after)).toEqual([]);
        // Nothing that lay there has gone.
        expect(missingPaths(before, after)).toEqual([]);
      }),
    );
  });
});

/** Makes the folders at these paths, as the server does: a parent is there before what lies in it. */
function make(lying: readonly ExistingFolder[], paths: readonly string[][]): ExistingFolder[] {
  const copy = (folders: readonly ExistingFolder[]): Mutable[] =>
    folders.map((f) => ({ ...f, below: copy(f.below) }));
  const top = copy(lying);
  for (const path of paths) {
    let level = top;
    for (const [n, title] of path.entries()) {
      const there = level.find((f) => nameKey(f.title) === nameKey(title));
      if (there) level = there.below;
      else if (n === path.length - 1) level.push({ id: path.join('/'), title, below: [] });
      else throw new Error(`${path.join('/')}: its parent is missing`);
    }
  }
  return top;
}
interface Mutable {
  id: string;
  title: string;
  below: Mutable[];
}
