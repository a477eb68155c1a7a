import { combine } from '@atlaskit/pragmatic-drag-and-drop/combine';
import {
  draggable,
  dropTargetForElements,
} from '@atlaskit/pragmatic-drag-and-drop/element/adapter';
import { dropTargetForExternal } from '@atlaskit/pragmatic-drag-and-drop/external/adapter';
import { containsFiles } from '@atlaskit/pragmatic-drag-and-drop/external/file';
import { shallowRef } from 'vue';
import { bound } from '../../ui/bound.ts';
import type { Row } from './library.ts';

/** Dragging rows onto folders and between rows, and files from outside onto folders. */

const ROWS = 'rows';

export type Part = 'before' | 'into' | 'after';

/** What is being dragged, for hints on the screen. */
export const dragged = shallowRef<readonly Row[]>([]);
/** Over which place something is held, and over which part of it. */
export const over = shallowRef<{ key: string; part: Part } | null>(null);

/** Makes an element draggable; `rows` says what goes along when it starts. */
export const vDrag = bound<() => readonly Row[]>((element, rows) =>
  draggable({
    element,
    getInitialData: () => ({ [ROWS]: rows()() }),
    onDragStart: ({ source }) => (dragged.value = rowsOf(source.data)),
    onDrop: () => (dragged.value = []),
  }),
);

export interface DropPlace {
  /** Tells this place from others on the screen. */
  readonly key: string;
  /** Whether things can be put between this row and its neighbours. */
  readonly between?: boolean;
  /** Whether these rows may be dropped into, before or after it. */
  readonly takes: (rows: readonly Row[], part: Part) => boolean;
  readonly rows: (rows: readonly Row[], part: Part) => void;
  /** Where files from outside may be dropped. */
  readonly files?: ((items: readonly DataTransferItem[]) => void) | undefined;
}

const rowsOf = (data: Record<string, unknown>) => (data[ROWS] ?? []) as readonly Row[];

/** Over which part of a row the pointer is: its edges are between it and its neighbours, where both can be meant. */
function partAt(
  element: HTMLElement,
  clientY: number,
  place: DropPlace,
  rows: readonly Row[],
): Part {
  if (!place.between) return 'into';
  const { top, height } = element.getBoundingClientRect();
  const share = (clientY - top) / height;
  const edge = place.takes(rows, 'into') ? 0.28 : 0.5;
  if (share < edge) return 'before';
  return share > 1 - edge ? 'after' : 'into';
}

/** Makes an element a place where rows and files can be dropped; null where nothing can. */
export const vInto = bound<DropPlace | null>((element, place) => {
  const { key } = place() ?? { key: '' };
  const leave = () => {
    if (over.value?.key === key) over.value = null;
  };
  type At = { current: { input: { clientY: number }; dropTargets: { element: Element }[] } };
  /** The part that is meant; null when a place within this one is. */
  const meant = (at: At, rows: readonly Row[]): Part | null => {
    const now = place();
    if (!now || at.current.dropTargets[0]?.element !== element) return null;
    const part = partAt(element, at.current.input.clientY, now, rows);
    return rows.length === 0 || now.takes(rows, part) ? part : null;
  };
  const hint = (at: At, rows: readonly Row[]) => {
    const part = meant(at, rows);
    if (!part) leave();
    else if (over.value?.key !== key || over.value.part !== part) over.value = { key, part };
  };
  return combine(
    dropTargetForElements({
      element,
      canDrop: ({ source }) => {
        const rows = rowsOf(source.data);
        const now = place();
        return (
          now !== null &&
          (now.takes(rows, 'into') || (now.between === true && now.takes(rows, 'before')))
        );
      },
      onDrag: ({ location, source }) => hint(location, rowsOf(source.data)),
      onDragLeave: leave,
      onDrop: ({ source, location }) => {
        const part = meant(location, rowsOf(source.data));
        leave();
        if (part) place()?.rows(rowsOf(source.data), part);
      },
    }),
    dropTargetForExternal({
      element,
      canDrop: ({ source }) => place()?.files !== undefined && containsFiles({ source }),
      onDrag: ({ location }) => {
        if (location.current.dropTargets[0]?.element === element)
          over.value = { key, part: 'into' };
        else leave();
      },
      onDragLeave: leave,
      onDrop: ({ source, location }) => {
        leave();
        if (location.current.dropTargets[0]?.element === element) place()?.files?.(source.items);
      },
    }),
  );
});
