import type { Board, BoardFolder, BoardSquare } from '@sammlung/contract';
import { describe, expect, it } from 'vitest';
import { cellOf, comesFrom, lookOf, openToAll } from '../src/features/board/board.ts';

const square = (audience: number, more: Partial<BoardSquare> = {}): BoardSquare => ({
  audience,
  state: 'out',
  from: null,
  here: null,
  ...more,
});
const here = { here: { id: 'grant', level: 'view' as const } };
const folder = (id: string, parentId: string | null, squares: BoardSquare[]): BoardFolder => ({
  id,
  parentId,
  title: id,
  mark: null,
  depth: 0,
  items: 1,
  held: false,
  ownerName: null,
  squares,
});
const board: Board = {
  at: '2026-11-25T08:00:00.000Z',
  audiences: [
    { kind: 'class', id: 'a', label: 'SO1A', colour: 'leaf', people: 24 },
    { kind: 'school-door', id: 's', label: '', colour: null, people: 94 },
    { kind: 'public', id: 's', label: '', colour: null, people: null },
  ],
  folders: [
    folder('top', null, [square(0, here)]),
    folder('middle', 'top', [square(0)]),
    folder('inner', 'middle', [
      square(0),
      square(2, { ...here, state: 'later', from: '2026-12-07T08:00:00.000Z' }),
    ]),
    folder('ended', null, [square(1, { ...here, state: 'ended' })]),
  ],
};

describe('the squares of the board', () => {
  it('look as they stand: handed out here, from above, later, held, ended or not at all', () => {
    const looks = board.folders.map((_, row) =>
      board.audiences.map((__, column) => lookOf(cellOf(board, row, column)!)),
    );
    expect(looks).toEqual([
      ['here', 'none', 'none'],
      ['above', 'none', 'none'],
      ['above', 'none', 'later'],
      ['none', 'ended', 'none'],
    ]);
    expect(lookOf({ square: square(0, { state: 'held' }) })).toBe('held');
    expect(cellOf(board, 9, 0)).toBeNull();
    expect(cellOf(board, 0, 9)).toBeNull();
  });

  it('lead to the nearest folder above on which it was handed out', () => {
    const from = (row: number, column: number) => comesFrom(board, cellOf(board, row, column)!)?.id;
    expect(from(2, 0)).toBe('top');
    expect(from(1, 0)).toBe('top');
    expect(from(0, 0)).toBeUndefined();
    expect(from(2, 1)).toBeUndefined();
  });

  it('count as open to all while public or the school has them, now or later, and no longer once ended', () => {
    expect(board.folders.map((f) => openToAll(board, f))).toEqual([false, false, true, false]);
    const school = folder('school', null, [square(1, here)]);
    expect(openToAll(board, school)).toBe(true);
  });
});
