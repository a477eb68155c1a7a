import { z } from 'zod';
import { Colour, Day, FolderParams, Id, Instant, PlacementParams } from './common.ts';
import { CoverNote, Noted } from './note.ts';
import { ItemRow } from './reading.ts';
import { ClassParams } from './roster.ts';
import type { RouteMap } from './route.ts';

/** What teachers are told of who has opened their things: with names, in numbers, or nothing. */
export const ReachLevel = z.enum(['names', 'numbers', 'nothing']);
export type ReachLevel = z.infer<typeof ReachLevel>;

/** Where only numbers are told, nothing is told of fewer people than that: they would be as good as named. */
export const FEWEST_COUNTED = 5;

/** How many things, the newest, are looked at together. */
export const REACH_SHOWS = 500;

/** Looks at the students of one class only. */
export const ReachQuery = z.object({ class: Id.optional() });

/** Openings by visitors, who are counted and never named. */
const ByLink = z.object({ opened: z.number().int(), downloaded: z.number().int() });

/** How many of those who see something now have opened it. Null: so few people that a number would name them. */
const Counts = z.object({
  people: z.number().int(),
  opened: z.number().int().nullable(),
});

const ReachedItem = z.object({
  placementId: Id,
  itemId: Id,
  kind: ItemRow.shape.kind,
  title: z.string(),
  extension: z.string(),
  /** The number of the newest version; null for links. */
  version: z.number().int().nullable(),
  /** The folder in which it is, where that is for the viewer to know. */
  folder: z.string(),
});

export const ReachItem = ReachedItem.extend(Counts.shape).extend({
  /** Of those who opened it, how many did so in the newest version, and how many downloaded that. */
  newest: z.number().int().nullable(),
  downloaded: z.number().int().nullable(),
  byLink: ByLink,
  /** On which days, as places from `firstDay` on, how many people opened it first. */
  days: z.array(z.tuple([z.number().int(), z.number().int()])),
});
export type ReachItem = z.infer<typeof ReachItem>;

export const ReachClass = z.object({
  id: Id,
  code: z.string(),
  colour: Colour,
  people: z.number().int(),
});
export type ReachClass = z.infer<typeof ReachClass>;

const ReachPerson = z.object({
  personId: Id,
  name: z.string(),
  /** The codes of their classes here. */
  classes: z.array(z.string()),
});

export const ReachStudent = ReachPerson.extend({
  /** How many of the things they see now, and how many of these they have opened. */
  items: z.number().int(),
  opened: z.number().int(),
  lastDay: Day.nullable(),
  /**
   * One character for each of the items, in their order: a space for what is not theirs to see, `-` for not opened, `e` for opened in an earlier version
   * only, `o` for opened and `d` for downloaded in the newest.
   */
  cells: z.string(),
});
export type ReachStudent = z.infer<typeof ReachStudent>;

const Told = z.object({
  level: ReachLevel,
  /** Since when openings are counted. */
  since: Instant,
  /** The classes of those who see something of it by name, class or course. */
  classes: z.array(ReachClass),
  /** How many of the students are not named: the viewer does not teach them. */
  unnamed: z.number().int(),
});

/** Who has opened what of many things. */
export const Reach = Told.extend(Counts.shape).extend({
  /** The folder or class that this is about. */
  title: z.string(),
  firstDay: Day,
  items: z.array(ReachItem).max(REACH_SHOWS),
  /** How many older things there are. */
  more: z.number().int(),
  students: z.array(ReachStudent),
});
export type Reach = z.infer<typeof Reach>;

export const ItemReachStudent = ReachPerson.extend({
  state: z.enum(['unopened', 'earlier', 'opened', 'downloaded']),
  /** The newest version they have opened. */
  version: z.number().int().nullable(),
  openedAt: Instant.nullable(),
  downloadedAt: Instant.nullable(),
});
export type ItemReachStudent = z.infer<typeof ItemReachStudent>;

/** Who has opened one thing. */
export const ItemReach = Told.extend({
  item: ReachItem,
  firstDay: Day,
  students: z.array(ItemReachStudent),
  /** How many others have opened it: who had it before, or have it by an address for all at the school. Null where only numbers are told. */
  others: z.number().int().nullable(),
  /** How often it was opened more than a year ago, by people and by visitors. */
  earlier: z.object({ people: z.number().int(), visitors: z.number().int() }),
});
export type ItemReach = z.infer<typeof ItemReach>;

/** A note to those who have not opened a thing, or not in its newest version. */
export const ReachNote = CoverNote.extend({
  to: z.enum(['unopened', 'not-newest']).default('unopened'),
});
export type ReachNote = z.infer<typeof ReachNote>;

/** Something that one has opened oneself, as it is recorded. */
export const RecordedOpening = z.object({
  id: z.number().int(),
  kind: z.enum(['opened', 'downloaded']),
  at: Instant,
  version: z.number().int().nullable(),
  /** What it is called; null where one does not see it any more. */
  title: z.string().nullable(),
  placementId: Id.nullable(),
});
export type RecordedOpening = z.infer<typeof RecordedOpening>;
export const RECORDED_AT_ONCE = 50;
export const Recorded = z.object({
  level: ReachLevel,
  since: Instant,
  openings: z.array(RecordedOpening),
  /** Where the older ones begin. */
  next: z.number().int().nullable(),
});
export type Recorded = z.infer<typeof Recorded>;

export const SchoolReach = z.object({ level: ReachLevel, since: Instant });
export type SchoolReach = z.infer<typeof SchoolReach>;

/** Who has opened what. */
export const REACH_ROUTES = {
  'GET /api/folders/:folder/reach': {
    summary: 'Who has opened what is in a folder and below.',
    params: FolderParams,
    query: ReachQuery,
    reply: Reach,
  },
  'GET /api/classes/:class/reach': {
    summary: 'Who in a class that one teaches has opened what the class has.',
    params: ClassParams,
    reply: Reach,
  },
  'GET /api/placements/:placement/reach': {
    summary: 'Who has opened an item; with `class` of a class that one teaches, who in it.',
    params: PlacementParams,
    query: ReachQuery,
    reply: ItemReach,
  },
  'POST /api/placements/:placement/reach/notes': {
    summary: 'Sends a cover note to just those who have not opened an item.',
    params: PlacementParams,
    query: ReachQuery,
    body: ReachNote,
    reply: Noted,
    status: 201,
    errors: ['reach-not-told'],
  },
  'GET /api/recorded': {
    summary: 'What is recorded of what one has opened oneself, newest first.',
    query: z.object({
      before: z.coerce.number().int().positive().max(Number.MAX_SAFE_INTEGER).optional(),
    }),
    reply: Recorded,
  },
  'GET /api/school/reach': {
    summary: 'What teachers at this school are told of who has opened their things.',
    reply: SchoolReach,
  },
  'PUT /api/school/reach': {
    summary: 'Sets that. Telling more begins anew: of what was opened before, nothing is told.',
    body: z.object({ level: ReachLevel }),
    reply: SchoolReach,
  },
} as const satisfies RouteMap;
