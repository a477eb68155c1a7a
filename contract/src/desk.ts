import { z } from 'zod';
import { FolderParams, Id, PlacementParams, Things } from './common.ts';
import type { RouteMap } from './route.ts';

/** Somebody's own room for copies and work: a folder of theirs, and how full it is (bytes). */
export const Desk = z.object({ folderId: Id, used: z.number().int(), quota: z.number().int() });
export type Desk = z.infer<typeof Desk>;

/** Takes copies of what the viewer sees onto their desk; `to` is a folder of it, null the desk itself. */
export const Copying = z.object({ things: Things, to: Id.nullable().default(null) });
export const Copied = z.object({
  /** What stands in the folder now, for Undo. */
  things: Things,
  /** How many items were copied. */
  count: z.number().int(),
  folderId: Id,
});
export type Copied = z.infer<typeof Copied>;

/** Where a copy comes from, as far as its owner may know. */
export const Origin = z.object({
  placementId: Id,
  /** `gone`: the original is not handed out to them any more, and nothing is said about it. */
  state: z.enum(['same', 'newer', 'gone']),
  /** Where the original lies for them, and whose it is. */
  originalId: Id.nullable(),
  ownerName: z.string().nullable(),
});
export type Origin = z.infer<typeof Origin>;

export const Origins = z.object({ origins: z.array(Origin) });
export type Origins = z.infer<typeof Origins>;

/** Copies of one's own, of what one sees by oneself or at a door. */
export const DESK_SCOPED = {
  'POST /copies': {
    summary: 'Takes copies of items to one’s desk.',
    body: Copying,
    reply: Copied,
    errors: ['name-taken', 'already-here', 'too-deep', 'too-many', 'quota-full'],
  },
} as const satisfies RouteMap;

/** A student’s own room. */
export const DESK_ROUTES = {
  // It is made when it is first asked for.
  'POST /api/desk': {
    summary: 'One’s desk; it is made when it is first asked for.',
    reply: Desk,
    errors: ['name-taken'],
  },
  'GET /api/folders/:folder/origins': {
    summary: 'Where the copies in a folder of the desk come from.',
    params: FolderParams,
    reply: Origins,
  },
  'POST /api/placements/:placement/renew': {
    summary: 'Gives a copy the newest version of its original.',
    params: PlacementParams,
    errors: ['quota-full'],
  },
} as const satisfies RouteMap;
