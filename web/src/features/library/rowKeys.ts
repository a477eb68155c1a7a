import type { Choice } from './choice.ts';
import type { Row } from './library.ts';
import type { RowAct } from './rowFacts.ts';

/** The list that is walked, and what can be done with its rows. */
interface KeyedList {
  readonly rows: () => readonly Row[];
  /** How many rows stand side by side. */
  readonly across: () => number;
  readonly mayChange: () => boolean;
  readonly choice: Choice;
  /** Where the row is that has the focus. */
  readonly focused: () => number;
  readonly focusRow: (at: number) => Promise<void>;
  readonly shift: (at: number, step: 1 | -1) => void;
  readonly act: (name: RowAct, row: Row) => void;
  readonly cut: (row: Row) => void;
}

/** Walks the rows of a list and acts on them by keys, while a row itself has the focus. */
export function useRowKeys(list: KeyedList) {
  /** Where a key leads from `at`; null where it leads nowhere. */
  function target(key: string, at: number): number | null {
    const across = list.across();
    const steps: Record<string, number> = {
      ArrowDown: at + across,
      ArrowUp: at - across,
      ...(across > 1 && { ArrowRight: at + 1, ArrowLeft: at - 1 }),
      Home: 0,
      End: list.rows().length - 1,
    };
    const next = steps[key];
    return next === undefined ? null : Math.min(Math.max(next, 0), list.rows().length - 1);
  }

  function walk(event: KeyboardEvent, row: Row, at: number, to: number) {
    const { choice } = list;
    if (event.altKey) {
      if (event.key === 'ArrowUp') list.shift(at, -1);
      if (event.key === 'ArrowDown') list.shift(at, 1);
      return;
    }
    if (event.shiftKey && list.mayChange()) {
      if (!choice.ids.value.has(row.id)) choice.toggle(row.id);
      choice.reach(list.rows()[to]!.id);
    }
    void list.focusRow(to);
  }

  /** What a key does with a row. */
  function action(event: KeyboardEvent, row: Row): (() => void) | undefined {
    const { act, choice, cut } = list;
    const keys: Record<string, () => void> =
      event.ctrlKey || event.metaKey
        ? { a: choice.all, x: () => cut(row) }
        : {
            ' ': () => choice.toggle(row.id),
            F2: () => act('rename', row),
            Delete: () => act('remove', row),
            m: () => act('move', row),
            ...(choice.ids.value.size > 0 && { Escape: choice.none }),
          };
    return keys[event.key];
  }

  return function onKey(event: KeyboardEvent) {
    const at = list.focused();
    const row = list.rows()[at];
    if (!row || !(document.activeElement as HTMLElement).matches('[data-row]')) return;
    const to = event.ctrlKey || event.metaKey ? null : target(event.key, at);
    if (to !== null) {
      event.preventDefault();
      walk(event, row, at, to);
      return;
    }
    const does = list.mayChange() && !event.altKey ? action(event, row) : undefined;
    if (!does) return;
    event.preventDefault();
    event.stopPropagation();
    does();
  };
}
