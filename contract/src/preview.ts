import { z } from 'zod';
import { PlacementParams } from './common.ts';
import { media, type RouteMap } from './route.ts';

/** Names the version of what is asked for, so that a browser may keep the answer. */
export const KeepQuery = z.object({ of: z.string().max(200).optional() });

/** A small picture for a tile, or with `as` a smaller one for a line of a list. */
export const SmallQuery = KeepQuery.extend({ as: z.literal('line').optional() });

/** A small picture of an item, and a form of it that browsers show; for oneself, at a door, and as somebody else would. */
export const PREVIEW_SCOPED = {
  'GET /placements/:placement/small': {
    summary: 'A small picture of an item.',
    params: PlacementParams,
    query: SmallQuery,
    reply: media('image/jpeg', 'image/png', 'image/webp'),
    errors: ['content-missing'],
  },
  'GET /placements/:placement/shown': {
    summary: 'A file in a form that browsers can show.',
    params: PlacementParams,
    query: KeepQuery,
    reply: media('*/*'),
    errors: ['content-missing'],
  },
} as const satisfies RouteMap;
