import { z } from 'zod';
import { Colour, FolderParams, Id, PlacementParams, Release, Thing, Things } from './common.ts';
import { type RouteMap } from './route.ts';

/** A release in general (`classId` null), or for one class; null there: the class reads the general one. */
const Rule = z.object({ classId: Id.nullable(), release: Release.nullable() });

/** Other releases for some things, all at once. */
export const Releasing = z.object({ things: Things, rules: z.array(Rule).min(1).max(60) });
export type Releasing = z.infer<typeof Releasing>;

/** A release as it was, for Undo; null where a class had none of its own. */
const Former = Thing.extend(Rule.shape);
export const Released = z.object({ before: z.array(Former) });
export type Released = z.infer<typeof Released>;
export const ReleaseBack = z.object({ before: z.array(Former).min(1).max(60_000) });

/** The releases of one folder or placement, with the classes that may have their own. */
export const Timing = z.object({
  general: Release,
  classes: z.array(
    z.object({
      id: Id,
      code: z.string(),
      colour: Colour,
      /** Null where the general one is read. */
      release: Release.nullable(),
    }),
  ),
});
export type Timing = z.infer<typeof Timing>;

/** When something is seen. */
export const RELEASE_ROUTES = {
  'GET /api/folders/:folder/timing': {
    summary: 'When a folder is out, for everybody and for each class.',
    params: FolderParams,
    reply: Timing,
  },
  'GET /api/placements/:placement/timing': {
    summary: 'When an item is out in a folder, for everybody and for each class.',
    params: PlacementParams,
    reply: Timing,
  },
  'POST /api/releases': {
    summary: 'Holds back, releases, or sets times; replies with what was, for Undo.',
    body: Releasing,
    reply: Released,
    errors: ['audience-unknown', 'ends-before-start'],
  },
  'POST /api/releases/back': {
    summary: 'Undoes a change of releases.',
    body: ReleaseBack,
    errors: ['audience-unknown', 'ends-before-start'],
  },
} as const satisfies RouteMap;
