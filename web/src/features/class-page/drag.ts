import {
  draggable,
  dropTargetForElements,
} from '@atlaskit/pragmatic-drag-and-drop/element/adapter';
import { shallowRef } from 'vue';
import { bound } from '../../ui/bound.ts';

/** Dragging entries and headings to another place on the page of a class. */

export interface Carried {
  readonly kind: 'entry' | 'heading';
  /** The id of the heading, or of the appearance of the entry. */
  readonly id: string;
}
const CARRIED = 'carried';
const carriedIn = (data: Record<string, unknown>) => (data[CARRIED] ?? null) as Carried | null;

/** Over which place something is held, and on which side of it. */
const heldOver = shallowRef<{ key: string; side: 'before' | 'after' } | null>(null);

/** How a place looks while something is held over it: a line where that would go. */
export const heldAt = (key: string): string =>
  heldOver.value?.key === key
    ? heldOver.value.side === 'before'
      ? 'shadow-[inset_0_3px_0_var(--saffron)]'
      : 'shadow-[inset_0_-3px_0_var(--saffron)]'
    : '';

/** Makes something draggable; null for what stays where it is. */
export const vCarry = bound<Carried | null>((element, carried) =>
  draggable({
    element,
    canDrag: () => carried() !== null,
    getInitialData: () => ({ [CARRIED]: carried() }),
  }),
);

export interface Place {
  readonly takes: Carried['kind'];
  /** Tells this place from others on the page: the id of what is there. */
  readonly key: string;
  readonly drop: (id: string, side: 'before' | 'after') => void;
}

/** Makes an element a place where something can be dropped, before or after what it is. */
export const vPlace = bound<Place | null>((element, place) => {
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
      const [carried, here] = [carriedIn(source.data), place()];
      return carried !== null && carried.kind === here?.takes && carried.id !== here.key;
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
      place()?.drop(carriedIn(source.data)!.id, sideAt(location.current.input.clientY));
    },
  });
});
