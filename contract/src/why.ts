import { z } from 'zod';
import { AsParams, Id, Instant, Tab, Thing } from './common.ts';
import { Whence } from './reading.ts';
import { type RouteMap } from './route.ts';

/** About a thing and somebody, at an instant (now by default). */
export const WhyQuery = z.object({
  kind: Thing.shape.kind,
  id: Id,
  as: AsParams.shape.as,
  at: Instant.optional(),
});

/** One handing out that reaches them, and what stands in between. */
export const WhyReason = z.object({
  audience: Tab.pick({ kind: true, label: true, colour: true }),
  /** The folder that was handed out; null for the item itself. */
  through: Whence.nullable(),
  obstacle: z
    .object({
      kind: z.enum(['handing', 'folder', 'placement', 'year']),
      /** The folder that closes it; null where it is the thing or the handing out itself. */
      folder: Whence.nullable(),
      state: z.enum(['later', 'held', 'ended']),
      from: Instant.nullable(),
    })
    .nullable(),
});
export type WhyReason = z.infer<typeof WhyReason>;

export const Why = z.object({
  sees: z.boolean(),
  owns: z.boolean(),
  reasons: z.array(WhyReason),
  /** Classes that have it but to which the person no longer belongs, or not yet. */
  formerClasses: z.array(z.string()),
});
export type Why = z.infer<typeof Why>;

/** Why somebody sees something, or does not. */
export const WHY_ROUTES = {
  'GET /api/why': {
    summary: 'Why somebody sees something, or does not.',
    query: WhyQuery,
    reply: Why,
  },
} as const satisfies RouteMap;
