import { z } from 'zod';
import { Colour, Id, Instant, Level, TabKind, Things, THINGS_AT_ONCE } from './common.ts';
import { Releasing } from './release.ts';
import { type RouteMap } from './route.ts';

export const Effect = z.object({
  /** Null where nobody can count them: anyone with an address. */
  people: z.number().int().nullable(),
  items: z.number().int(),
  folders: z.number().int(),
});
export type Effect = z.infer<typeof Effect>;
const LaterEffect = Effect.extend({ from: Instant });

/** What a change does for one audience; computed by core/consequence. */
export const Consequence = z.object({
  gains: Effect.nullable(),
  loses: Effect.nullable(),
  gainsLater: LaterEffect.nullable(),
  losesLater: LaterEffect.nullable(),
  /** Whether it wants a question first. */
  asks: z.boolean(),
});
export type Consequence = z.infer<typeof Consequence>;

/** A change that may let somebody see more or less, to be told before it is made. */
export const Change = z.discriminatedUnion('do', [
  z.object({ do: z.literal('move'), things: Things, to: Id.nullable() }),
  z.object({
    do: z.literal('place'),
    placements: z.array(Id).min(1).max(THINGS_AT_ONCE),
    to: z.array(Id).min(1).max(50),
  }),
  z.object({ do: z.literal('remove'), things: Things }),
  z.object({
    do: z.literal('hand-out'),
    things: Things,
    /** `public` and `school-door` stand for a door that is not there yet; their id is the school's. */
    audiences: z
      .array(z.object({ kind: TabKind, id: Id }))
      .min(1)
      .max(60),
    level: Level.default('view'),
    from: Instant.nullable().default(null),
    until: Instant.nullable().default(null),
  }),
  /** Handings out, or doors, by their ids. */
  z.object({ do: z.literal('take-back'), handings: z.array(Id).min(1).max(THINGS_AT_ONCE) }),
  Releasing.extend({ do: z.literal('release') }),
]);
export type Change = z.infer<typeof Change>;

/** What a change does for each audience that gains or loses. */
export const Consequences = z.object({
  audiences: z.array(
    z.object({
      kind: TabKind,
      id: Id,
      label: z.string(),
      colour: Colour.nullable(),
      change: Consequence,
    }),
  ),
  /** Whether it wants a question first. */
  asks: z.boolean(),
  /** Things that look confidential and become public or school-wide: the first few, with the word that tells. */
  confidential: z.array(z.object({ title: z.string(), word: z.string() })),
});
export type Consequences = z.infer<typeof Consequences>;

/** The words that make a name look confidential to the viewer; an empty list brings those of the application back. */
export const Confidential = z.object({ words: z.array(z.string().trim().min(1).max(60)).max(300) });
export type Confidential = z.infer<typeof Confidential>;

/** What a change would mean, and the words that mark something as confidential. */
export const CONSEQUENCE_ROUTES = {
  'POST /api/consequences': {
    summary: 'What a change would mean, for each audience, before it is made.',
    body: Change,
    reply: Consequences,
  },
  'GET /api/confidential': {
    summary: 'The words by which a teacher’s confidential files are recognised.',
    reply: Confidential,
  },
  'PUT /api/confidential': {
    summary: 'Sets the words by which confidential files are recognised.',
    body: Confidential,
  },
} as const satisfies RouteMap;
