import { z } from 'zod';
import { Colour, Id, THINGS_AT_ONCE, TokenParams } from './common.ts';
import { type RouteMap } from './route.ts';

/** A folder, an item where it is, or the page of a class, to be kept at hand. */
export const Keep = z.object({
  kind: z.enum(['folder', 'placement', 'class']),
  id: Id,
});
export type Keep = z.infer<typeof Keep>;

export const KeptThing = z.object({
  id: Id,
  kind: z.enum(['folder', 'file', 'link', 'page', 'class']),
  title: z.string(),
  mark: z.string().nullable(),
  extension: z.string(),
  /** Where it is opened: one of the three; none when it has been taken back, or is held back now. */
  folderId: Id.nullable(),
  placementId: Id.nullable(),
  classId: Id.nullable(),
  url: z.string().nullable(),
  /** The door it was kept at, by its token; without a place it asks for a new password there. */
  token: z.string().nullable(),
  ownerName: z.string().nullable(),
  /** The classes by which it comes. */
  classes: z.array(z.object({ id: Id, code: z.string(), colour: Colour })),
});
export type KeptThing = z.infer<typeof KeptThing>;

/** What somebody keeps, in their own order. */
export const Kept = z.object({ things: z.array(KeptThing) });
export type Kept = z.infer<typeof Kept>;

export const KeptParams = z.object({ kept: Id });
export const KeptMade = z.object({ id: Id });
/** All that is kept, by its ids, in its new order. */
export const KeptOrder = z.object({ ids: z.array(Id).max(THINGS_AT_ONCE) });

/** What somebody keeps at hand. */
export const KEEP_ROUTES = {
  'GET /api/kept': {
    summary: 'The folders, items and class pages one keeps at hand.',
    reply: Kept,
  },
  'POST /api/kept': {
    summary: 'Keeps a folder, an item or a class page at hand.',
    body: Keep,
    reply: KeptMade,
  },
  // At the door's own address: browsers send there what says that its password was given.
  'POST /api/open/:token/kept': {
    summary: 'Keeps what is behind a door at hand.',
    params: TokenParams,
    body: Keep,
    reply: KeptMade,
  },
  'PUT /api/kept/order': {
    summary: 'Puts what is kept in another order.',
    body: KeptOrder,
  },
  'DELETE /api/kept/:kept': {
    summary: 'Keeps something no longer.',
    params: KeptParams,
  },
} as const satisfies RouteMap;
