import type { TreeFolder } from '@sammlung/contract';
import { describe, expect, it } from 'vitest';
import { branches } from '../src/app/tree.ts';

const folder = (id: string, parentId: string | null): TreeFolder => ({
  id,
  parentId,
  title: id.toUpperCase(),
  mark: null,
  colour: null,
  handedOut: false,
});
const TREE = [
  folder('a', null),
  folder('b', 'a'),
  folder('c', 'b'),
  folder('d', 'a'),
  folder('e', null),
];
const shape = (open: (id: string) => boolean) =>
  branches(TREE, open).map((b) => `${' '.repeat(b.depth)}${b.id}`);

describe('the tree of folders', () => {
  it('stands from top to bottom with the names above each', () => {
    expect(shape(() => true)).toEqual(['a', ' b', '  c', ' d', 'e']);
    expect(branches(TREE, () => true).find((b) => b.id === 'c')?.above).toEqual(['A', 'B']);
  });

  it('shows nothing below a folded folder', () => {
    expect(shape((id) => id === 'a')).toEqual(['a', ' b', ' d', 'e']);
    expect(shape((id) => id === 'b')).toEqual(['a', 'e']);
  });

  it('leaves out what hangs on a folder that is not there', () => {
    expect(branches([folder('x', 'gone')], () => true)).toEqual([]);
  });
});
