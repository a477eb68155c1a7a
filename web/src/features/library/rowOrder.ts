import type { Thing } from '@sammlung/contract';
import type { useLibraryChanges } from './changes.ts';
import type { DropPlace } from './drag.ts';
import type { Row } from './library.ts';

/** The list whose rows are dragged and put in order. */
interface OrderedList {
  readonly rows: () => readonly Row[];
  /** The open place: a folder, or the top of the library. */
  readonly here: () => { readonly id: string | null; readonly title: string };
  readonly mayChange: () => boolean;
  /** Whether rows may be put in another order here. */
  readonly sortable: () => boolean;
  readonly files: (items: readonly DataTransferItem[], into: { id: string; title: string }) => void;
}

/** Rows dragged onto folders and between rows, or moved by a key. */
export function useRowOrder(list: OrderedList, changes: ReturnType<typeof useLibraryChanges>) {
  const inThisPlace = (row: Row) => list.rows().some((x) => x.id === row.id);

  /** The row after `at` that does not move along; null when there is none of this kind. */
  function following(moved: readonly Row[], at: number): Row | null {
    const next = list
      .rows()
      .slice(at + 1)
      .find((x) => !moved.some((m) => m.id === x.id));
    return next?.kind === list.rows()[at]?.kind ? (next ?? null) : null;
  }

  const order = (moved: readonly Row[], before: Thing | null) =>
    changes.move(
      moved.filter((row) => before === null || row.kind === before.kind),
      list.here(),
      before,
      true,
    );

  /** What may be dropped on a row and beside it, and what happens then; null where nothing may be changed. */
  function dropPlace(row: Row, at: number): DropPlace | null {
    if (!list.mayChange()) return null;
    const { id, title, kind } = row;
    const others = (dropped: readonly Row[]) => dropped.filter((x) => x.id !== id);
    return {
      key: id,
      between: list.sortable(),
      takes: (dropped, part) => {
        if (others(dropped).length < dropped.length && dropped.length === 1) return false;
        return part === 'into'
          ? kind === 'folder'
          : dropped.some((x) => x.kind === kind) && dropped.every((x) => inThisPlace(x));
      },
      rows: (dropped, part) => {
        if (part === 'into') void changes.move(others(dropped), { id, title });
        else void order(dropped, part === 'before' ? row : following(dropped, at));
      },
      files: kind === 'folder' ? (items) => list.files(items, { id, title }) : undefined,
    };
  }

  /** Moves the row at a place one up or down by hand. Resolves to whether it was moved. */
  async function shift(at: number, step: 1 | -1): Promise<boolean> {
    const row = list.rows()[at];
    const other = list.rows()[at + step];
    if (!row || other?.kind !== row.kind || !list.sortable()) return false;
    const before = step < 0 ? other : following([row], at + 1);
    return order([row], before);
  }

  return { dropPlace, shift };
}
