import type { Board, BoardAudience, BoardFolder, BoardSquare } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { api } from '../../app/api/api.ts';

export function useBoard(at: () => string | null) {
  return useQuery({
    key: () => ['board', at() ?? 'now'],
    query: () => api('GET /api/board', { query: { at: at() ?? undefined } }),
    // Another day is looked at in the place of the one before: nothing jumps meanwhile.
    placeholderData: (before: Board | undefined) => before,
    staleTime: 0,
  });
}

/** One square: a folder against an audience, and what stands between them; nothing where it was not handed out. */
export interface Cell {
  readonly folder: BoardFolder;
  readonly audience: BoardAudience;
  readonly square: BoardSquare | null;
}

/** How a square is drawn, and read out. */
export type Look = 'here' | 'above' | 'later' | 'held' | 'ended' | 'none';

export function lookOf({ square }: Pick<Cell, 'square'>): Look {
  if (!square) return 'none';
  if (square.state !== 'out') return square.state;
  return square.here ? 'here' : 'above';
}

export function cellOf(board: Board, row: number, column: number): Cell | null {
  const folder = board.folders[row];
  const audience = board.audiences[column];
  if (!folder || !audience) return null;
  return {
    folder,
    audience,
    square: folder.squares.find((s) => s.audience === column) ?? null,
  };
}

/** Whether anybody with the address sees a folder, or everybody at the school. */
export function openToAll(board: Board, folder: BoardFolder): boolean {
  return folder.squares.some((s) => {
    const kind = board.audiences[s.audience]?.kind;
    return s.state !== 'ended' && (kind === 'public' || kind === 'school-door');
  });
}

/** The nearest folder above from which a square comes. */
export function comesFrom(board: Board, { folder, audience }: Cell): BoardFolder | null {
  const column = board.audiences.indexOf(audience);
  const byId = new Map(board.folders.map((f) => [f.id, f]));
  for (let id = folder.parentId; id !== null; id = byId.get(id)?.parentId ?? null) {
    const above = byId.get(id);
    if (above?.squares.some((s) => s.audience === column && s.here)) return above;
  }
  return null;
}
