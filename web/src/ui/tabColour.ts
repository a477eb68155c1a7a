import type { Colour, Tab } from '@sammlung/contract';

/** The colours of classes, courses, folders and headings. */
export const COLOURS: readonly Colour[] = [
  ...(['leaf', 'plum', 'lake', 'bark', 'rose', 'slate', 'moss', 'clay'] as const),
];

/** The colour of an audience, as CSS: its own, or that of its kind. */
export function tabColour({ kind, colour }: Pick<Tab, 'kind' | 'colour'>): string {
  if (colour) return `var(--${colour})`;
  if (kind === 'public') return 'var(--brick)';
  if (kind === 'person') return 'var(--slate)';
  return kind === 'staff' ? 'var(--lake)' : '#665e4c';
}
