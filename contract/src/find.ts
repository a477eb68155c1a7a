import { z } from 'zod';
import { Colour, Day, Id, Instant, Tab } from './common.ts';
import { Crumb } from './reading.ts';
import { type RouteMap } from './route.ts';

export const FindKind = z.enum([
  'folder',
  'pdf',
  'picture',
  'office',
  'sound',
  'video',
  'text',
  'link',
  'page',
]);
export type FindKind = z.infer<typeof FindKind>;

export const FindQuery = z.object({
  words: z.string().trim().min(1).max(200),
  kind: FindKind.optional(),
  class: Id.optional(),
  year: Id.optional(),
  /** Days; by lesson date, else by when it came. */
  from: Day.optional(),
  until: Day.optional(),
});
export type FindQuery = z.infer<typeof FindQuery>;

/** Something found: a folder, or an item where it lies. */
export const Hit = z.object({
  kind: z.enum(['folder', 'placement']),
  id: Id,
  title: z.string(),
  itemKind: z.enum(['file', 'link', 'page']).nullable(),
  extension: z.string(),
  mark: z.string().nullable(),
  colour: Colour.nullable(),
  url: z.string().nullable(),
  lessonDate: Day.nullable(),
  changedAt: Instant,
  small: z.string().nullable(),
  /** The folders above it that the viewer may know of. */
  where: z.array(Crumb),
  /** Whose it is, where it is somebody else's. */
  ownerName: z.string().nullable(),
  /** What is written around the words inside it; marked with « and ». */
  excerpt: z.string().nullable(),
  /** For those who own or manage it. */
  tabs: z.array(Tab).optional(),
});
export type Hit = z.infer<typeof Hit>;

export const Found = z.object({ hits: z.array(Hit), more: z.boolean() });
export type Found = z.infer<typeof Found>;

/** What can be filtered by. */
export const FindFilters = z.object({
  classes: z.array(z.object({ id: Id, code: z.string(), colour: Colour })),
  years: z.array(z.object({ id: Id, label: z.string() })),
});
export type FindFilters = z.infer<typeof FindFilters>;

/** Finding by words. */
export const FIND_ROUTES = {
  'GET /api/find': {
    summary: 'Finds folders and items by their names and what is written in them.',
    query: FindQuery,
    reply: Found,
    errors: ['too-many-words'],
  },
  'GET /api/find/filters': {
    summary: 'What a search can be limited to.',
    reply: FindFilters,
  },
} as const satisfies RouteMap;
