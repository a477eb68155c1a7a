import type { ClassPage, PageEntry, PageThing } from '@sammlung/contract';
import type { Heading } from '../../domain/class-pages.ts';
import type { SeenEntry } from './queries.ts';

/**
 * Entries as they stand on a page, under their headings, each with those of its things that are seen (`seen`, by id). One of which nothing
 * is left and that says nothing does not show, and neither does a heading with nothing under it.
 */
export function arrange(
  headings: readonly Heading[],
  entries: readonly SeenEntry[],
  seen: ReadonlyMap<string, PageThing>,
): Pick<ClassPage, 'top' | 'loose' | 'headings'> & { readonly shown: readonly PageEntry[] } {
  const shown = entries
    .map(({ appearanceId, title, text, at, things, keepOnTop, headingId }) => ({
      ...{ keepOnTop, headingId },
      entry: {
        ...{ appearanceId, title, text, at },
        things: things.flatMap(({ id }) => seen.get(id) ?? []),
      },
    }))
    .filter(({ entry }) => entry.things.length > 0 || entry.text !== '');
  const under = (headingId: string | null) =>
    shown.filter((e) => !e.keepOnTop && e.headingId === headingId).map(({ entry }) => entry);
  return {
    shown: shown.map(({ entry }) => entry),
    top: shown.filter(({ keepOnTop }) => keepOnTop).map(({ entry }) => entry),
    loose: under(null),
    headings: headings
      .map(({ id, title, mark, colour }) => ({ id, title, mark, colour, entries: under(id) }))
      .filter((heading) => heading.entries.length > 0),
  };
}
