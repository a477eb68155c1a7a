import {
  draggable,
  dropTargetForElements,
} from '@atlaskit/pragmatic-drag-and-drop/element/adapter';
import { shallowRef } from 'vue';
import { bound } from '../../ui/bound.ts';

/** Dragging entries to another place on the page of a class. */

const ENTRY = 'appearance';
const idOf = (data: Record<string, unknown>) => (data[ENTRY] ?? null) as string | null;

/** Over which place an entry is held, and on which side of it. */
export const heldOver = shallowRef<{ key: string; side: 'before' | 'after' } | null>(null);

/** Makes an entry draggable; its value is the id of its appearance. */
export const vCarry = bound<string>((element, appearance) =>
  draggable({ element, getInitialData: () => ({ [ENTRY]: appearance() }) }),
);

export interface EntryPlace {
  /** Tells this place from others on the page: an entry's is the id of its appearance. */
  readonly key: string;
  readonly drop: (appearanceId: string, side: 'before' | 'after') => void;
}

/** Makes an element a place where entries can be dropped, before or after what it is. */
export const vPlace = bound<EntryPlace | null>((element, place) => {
  const leave = () => {
    if (heldOver.value?.key === place()?.key) heldOver.value = null;
  };
  const sideAt = (clientY: number) => {
    const { top, height } = element.getBoundingClientRect();
    return clientY < top + height / 2 ? ('before' as const) : ('after' as const);
  };
  return dropTargetForElements({
    element,
    canDrop: ({ source }) => {
      const id = idOf(source.data);
      return id !== null && place() !== null && id !== place()!.key;
    },
    onDrag: ({ location }) => {
      const side = sideAt(location.current.input.clientY);
      const now = place();
      if (now && (heldOver.value?.key !== now.key || heldOver.value.side !== side))
        heldOver.value = { key: now.key, side };
    },
    onDragLeave: leave,
    onDrop: ({ source, location }) => {
      leave();
      place()?.drop(idOf(source.data)!, sideAt(location.current.input.clientY));
    },
  });
});
