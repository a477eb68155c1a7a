import { z } from 'zod';
import { Colour, Id, Instant, Level, TabKind } from './common.ts';
import { type RouteMap } from './route.ts';

/** `at` shows the board as it will be (or was) at that instant, with what is handed out today. */
export const BoardQuery = z.object({ at: Instant.optional() });

/** A column. All public doors share one, and so do all ways to the whole school. */
export const BoardAudience = z.object({
  kind: TabKind,
  id: Id,
  label: z.string(),
  colour: Colour.nullable(),
  /** People reached at that instant; null for public. */
  people: z.number().int().nullable(),
});
export type BoardAudience = z.infer<typeof BoardAudience>;

export const BoardSquare = z.object({
  /** Where it stands in `audiences`. */
  audience: z.number().int(),
  state: z.enum(['out', 'later', 'held', 'ended']),
  from: Instant.nullable(),
  /** The handing out or door on this very folder. */
  here: z.object({ id: Id, level: Level }).nullable(),
});
export type BoardSquare = z.infer<typeof BoardSquare>;

export const BoardFolder = z.object({
  id: Id,
  parentId: Id.nullable(),
  title: z.string(),
  mark: z.string().nullable(),
  depth: z.number().int(),
  /** Items directly in it. */
  items: z.number().int(),
  /** Whether it is held back by itself or by a folder above. */
  held: z.boolean(),
  /** Whose library it lies in, when it is not the viewer's. */
  ownerName: z.string().nullable(),
  squares: z.array(BoardSquare),
});
export type BoardFolder = z.infer<typeof BoardFolder>;

/** Every folder the viewer decides about, against every audience. */
export const Board = z.object({
  at: Instant,
  audiences: z.array(BoardAudience),
  folders: z.array(BoardFolder),
});
export type Board = z.infer<typeof Board>;

/** Who sees what, all folders against all audiences. */
export const BOARD_ROUTES = {
  'GET /api/board': {
    summary: 'Who sees what: folders against audiences at one instant.',
    query: BoardQuery,
    reply: Board,
  },
} as const satisfies RouteMap;
