import { z } from 'zod';
import { Colour, Day, Id, Instant, Tab } from './common.ts';
import type { RouteMap } from './route.ts';

/** How many folders and classes one carrying over may name. */
const CHOSEN = 500;

/** A class as it is chosen from. */
const CarryClass = z.object({ id: Id, code: z.string(), colour: Colour, course: z.string() });
export type CarryClass = z.infer<typeof CarryClass>;

/** A folder of a year: it was set to that, or its classes have it. */
export const YearFolder = z.object({
  id: Id,
  title: z.string(),
  mark: z.string().nullable(),
  /** Classes of the year that have it. */
  classes: z.array(Id),
  /** How many folders and things are in it and below. */
  folders: z.number().int(),
  things: z.number().int(),
  /** Whether nobody but classes of this year has it. */
  only: z.boolean(),
});
export type YearFolder = z.infer<typeof YearFolder>;

/** A year with what the viewer has of it. */
const CarryYear = z.object({
  id: Id,
  label: z.string(),
  firstDay: Day,
  lastDay: Day,
  closed: z.boolean(),
  classes: z.array(
    CarryClass.extend({
      /** Entries on its page. */
      entries: z.number().int(),
      boxes: z.array(z.object({ id: Id, title: z.string() })),
    }),
  ),
  folders: z.array(YearFolder),
});
export type CarryYear = z.infer<typeof CarryYear>;

/** What was made: folders, things placed again, and what was copied. */
export const CarriedCounts = z.object({
  folders: z.number().int(),
  placements: z.number().int(),
  /** Of these, pages and things of colleagues: copies. */
  copies: z.number().int(),
  headings: z.number().int(),
  entries: z.number().int(),
  boxes: z.number().int(),
});
export type CarriedCounts = z.infer<typeof CarriedCounts>;

export const CarryOver = z.object({
  id: Id,
  from: z.string(),
  to: z.string(),
  state: z.enum(['waiting', 'done', 'failed']),
  /** Folders and things: how many are made, of how many. */
  done: z.number().int(),
  total: z.number().int(),
  made: CarriedCounts.nullable(),
  /** What looks out of date, and was neither mended nor left as it is. */
  marks: z.number().int(),
  /** The code of the error with which it ended. */
  fault: z.string().nullable(),
  at: Instant,
  undone: z.boolean(),
});
export type CarryOver = z.infer<typeof CarryOver>;

export const CarryPlan = z.object({
  /** From one year to another one. */
  from: Id,
  to: Id,
  /** Which classes take the place of a class: one, several, or none. */
  classes: z.array(z.object({ from: Id, to: z.array(Id).max(30) })).max(CHOSEN),
  /** Folders, with all that is below them. */
  folders: z.array(Id).max(CHOSEN),
  /** Classes whose pages are carried over. */
  pages: z.array(Id).max(CHOSEN),
  boxes: z.array(Id).max(CHOSEN),
  /** Where the new folders go; null for the top of the library. */
  into: Id.nullable(),
  /** Other names than those proposed, for the topmost folders. */
  names: z
    .array(z.object({ folder: Id, key: Id, title: z.string().trim().min(1).max(60) }))
    .max(2 * CHOSEN),
  /** Whether the new folders are handed out to their classes. */
  handOut: z.boolean(),
});
export type CarryPlan = z.infer<typeof CarryPlan>;

/** A folder as it was, and as it will be. */
export const CarriedRow = z.object({
  id: Id,
  depth: z.number().int(),
  before: z.string(),
  after: z.string(),
  /** How many things are placed in it. */
  things: z.number().int(),
  /** The folder that was carried over before, under the name that it has by now; null for one that will be made. */
  there: Id.nullable(),
});
export type CarriedRow = z.infer<typeof CarriedRow>;

/** What will be made out of a folder, for some classes. */
export const CarriedTree = z.object({
  folder: Id,
  key: Id,
  classes: z.array(CarryClass),
  rows: z.array(CarriedRow),
  /** Folders that are not listed. */
  more: z.number().int(),
});
export type CarriedTree = z.infer<typeof CarriedTree>;

/** What carrying over would do now. */
export const CarryPreview = z.object({
  counts: CarriedCounts,
  /** Carried over before: nothing happens to it. */
  there: z.number().int(),
  /** Carried over before, and removed since: it stays removed. */
  removed: z.number().int(),
  /** Entries for single students, which stay where they are. */
  leftOut: z.number().int(),
  trees: z.array(CarriedTree),
  /** Words of entries and boxes that will be others. */
  words: z.array(z.object({ before: z.string(), after: z.string() })),
  /** When boxes end. */
  ends: z.array(z.object({ title: z.string(), before: Instant, after: Instant })),
  /** Whom the new folders are handed out to: how many students, and how many things they see now, later, and not before they go out. */
  sight: z.array(
    CarryClass.extend({
      students: z.number().int(),
      now: z.number().int(),
      later: z.number().int(),
      held: z.number().int(),
    }),
  ),
  /** Who has the folder into which the new ones go, and so has them, too. */
  seenBy: z.array(Tab),
});
export type CarryPreview = z.infer<typeof CarryPreview>;

export const StaleMark = z.object({
  id: Id,
  placementId: Id,
  title: z.string(),
  kind: z.enum(['file', 'link', 'page']),
  place: z.enum(['title', 'text', 'inside']),
  count: z.number().int(),
  found: z.string(),
  proposed: z.string().nullable(),
});
export type StaleMark = z.infer<typeof StaleMark>;

const CarryParams = z.object({ carryOver: Id });

/** Structure of one year for the classes of another one. */
export const CARRY_OVER_ROUTES = {
  'GET /api/carry-over': {
    summary: 'The years of the viewer with classes, folders and boxes, and what was carried over.',
    reply: z.object({ years: z.array(CarryYear), done: z.array(CarryOver) }),
  },
  'POST /api/carry-over/preview': {
    summary: 'What carrying over would make, with the names it would have, and who would see it.',
    body: CarryPlan,
    reply: CarryPreview,
    errors: ['same-year', 'year-closed', 'too-many', 'name-not-allowed'],
  },
  'POST /api/carry-over': {
    summary: 'Carries over, in one step. What was carried over before is not made again.',
    body: CarryPlan,
    status: 201,
    reply: z.object({ id: Id }),
    errors: ['same-year', 'year-closed', 'too-many', 'name-not-allowed'],
  },
  'GET /api/carry-over/:carryOver': {
    summary: 'How far it has come.',
    params: CarryParams,
    reply: CarryOver,
  },
  'DELETE /api/carry-over/:carryOver': {
    summary: 'Undoes it: what it made goes to the Bin, and what it handed out is taken back.',
    params: CarryParams,
    errors: ['changed-since'],
  },
  'GET /api/carry-over/:carryOver/marks': {
    summary: 'What looks out of date in what was carried over.',
    params: CarryParams,
    reply: z.object({ marks: z.array(StaleMark), more: z.number().int() }),
  },
  'POST /api/carry-over/:carryOver/marks': {
    summary: 'Mends what looks out of date, or leaves it as it is: these, or all of them.',
    params: CarryParams,
    body: z.object({ ids: z.array(Id).max(CHOSEN).nullable(), mend: z.boolean() }),
    reply: z.object({ settled: z.number().int(), left: z.number().int() }),
  },
} as const satisfies RouteMap;
