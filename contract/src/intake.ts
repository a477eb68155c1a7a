import { z } from 'zod';
import { Id } from './common.ts';

/** Which finished upload becomes a file of the folder. Asking twice answers the same. */
export const PlaceUpload = z.object({ uploadId: z.string().regex(/^[0-9a-f]{32}$/u) });

export const PlacedUpload = z.object({
  placementId: Id,
  outcome: z.enum(['new', 'version', 'unchanged']),
  /** Number of the version people get now. */
  version: z.number().int(),
  /** The name it is kept under. */
  name: z.string(),
  /** True when the given name could not be kept as it was. */
  renamed: z.boolean(),
});
export type PlacedUpload = z.infer<typeof PlacedUpload>;

/** What the server takes in. */
export const IntakeLimits = z.object({ uploadLimit: z.number().int() });
export type IntakeLimits = z.infer<typeof IntakeLimits>;
