import { z } from 'zod';
import { Id, Instant, Thing, Things } from './common.ts';
import { MOVE_ERRORS } from './library.ts';
import { type RouteMap } from './route.ts';

/** Something in the Bin: a folder with all below it, or an item that lies nowhere else. */
export const BinnedThing = Thing.extend({
  title: z.string(),
  mark: z.string().nullable(),
  itemKind: z.enum(['file', 'link', 'page']).nullable(),
  extension: z.string(),
  /** Bytes of a file. */
  size: z.number().int().nullable(),
  /** Items in a folder and below. */
  items: z.number().int(),
  /** The folders it lay in, from the top; empty for the top of the library. */
  where: z.array(z.string()),
  /** Whether that place is gone, so that it has to be put somewhere else. */
  placeGone: z.boolean(),
  binnedAt: Instant,
  /** When it is deleted for good. */
  leavesAt: Instant,
});
export type BinnedThing = z.infer<typeof BinnedThing>;

export const Bin = z.object({ things: z.array(BinnedThing) });
export type Bin = z.infer<typeof Bin>;

export const IntoBin = z.object({ things: Things });
/** What came to lie in the Bin by this, for Undo: what only left one of its places is not in the Bin. */
export const Binned = z.object({ lastPlaces: z.number().int() });
export type Binned = z.infer<typeof Binned>;

/** Takes things out of the Bin; `to` says where when their place is gone (null: the top of the library). */
export const OutOfBin = z.object({ things: Things, to: Id.nullable().optional() });
export const Restored = z.object({
  /** Things that came back under another name, because theirs was taken. */
  renamed: z.array(z.string()),
});
export type Restored = z.infer<typeof Restored>;

/** Deletes things for good; without `things` the whole Bin. */
export const EmptyBin = z.object({ things: Things.optional() });

/** What was removed. */
export const BIN_ROUTES = {
  'GET /api/bin': {
    summary: 'What one has removed, or was removed from one’s library.',
    reply: Bin,
  },
  'POST /api/bin': {
    summary: 'Removes things: what was in its last place goes to the Bin.',
    body: IntoBin,
    reply: Binned,
  },
  'POST /api/bin/restore': {
    summary: 'Puts things back from the Bin.',
    body: OutOfBin,
    reply: Restored,
    errors: [...MOVE_ERRORS, 'place-gone'],
  },
  'POST /api/bin/empty': {
    summary: 'Deletes things in the Bin for good.',
    body: EmptyBin,
  },
} as const satisfies RouteMap;
