import { z } from 'zod';
import {
  Colour,
  FolderParams,
  GrantParams,
  Id,
  Instant,
  Level,
  Release,
  TabKind,
  Things,
} from './common.ts';
import { Consequence } from './consequence.ts';
import { Door } from './door.ts';
import { CoverNote } from './note.ts';
import { Whence } from './reading.ts';
import { type RouteMap } from './route.ts';

/** One audience beside a folder: whether it sees the folder, whence that comes, and what changing it would do. */
export const AudienceRow = z.object({
  kind: TabKind,
  id: Id,
  label: z.string(),
  colour: Colour.nullable(),
  people: z.number().int().nullable(),
  state: z.enum(['none', 'out', 'later', 'held', 'ended']),
  from: Instant.nullable(),
  /** The handing out on this very folder, for taking back; with `door` for a row of public or a school door. */
  here: z
    .object({
      id: Id,
      level: Level,
      from: Instant.nullable(),
      until: Instant.nullable(),
      door: Door.nullable(),
    })
    .nullable(),
  /** Whether an entry on a class page hands it out. */
  byEntry: z.boolean(),
  /** Folders above on which it was handed out. */
  above: z.array(Whence),
  change: Consequence,
});
export type AudienceRow = z.infer<typeof AudienceRow>;

export const FolderAudience = z.object({
  /** Distinct students who see the folder now. */
  students: z.number().int(),
  classes: z.number().int(),
  /** When the folder itself is out, and how many classes read it otherwise. */
  release: Release,
  releaseClasses: z.number().int(),
  /** The folder above that keeps this one from being seen now, for all. */
  closedBy: Whence.nullable(),
  rows: z.array(AudienceRow),
  /** Items in this folder that are public by another way. */
  publicElsewhere: z.array(z.object({ placementId: Id, title: z.string(), folder: Whence })),
});
export type FolderAudience = z.infer<typeof FolderAudience>;

/** Whom something can be handed out to by roster. `id` is the school for staff and school. */
export const RosterAudience = z.object({
  kind: z.enum(['class', 'course', 'person', 'staff', 'school']),
  id: Id,
});
export type RosterAudience = z.infer<typeof RosterAudience>;

const AUDIENCES_AT_ONCE = 60;

/** Hands things out to each of the audiences. Levels above `view` are for folders and colleagues. */
export const HandOut = z.object({
  things: Things,
  audiences: z.array(RosterAudience).min(1).max(AUDIENCES_AT_ONCE),
  level: Level.default('view'),
  from: Instant.nullable().default(null),
  until: Instant.nullable().default(null),
  /** A message to everybody whom it newly reaches; none by default. */
  note: CoverNote.nullable().default(null),
});
/** Dates and level of a handing out. */
export const GrantChange = z.object({
  level: Level,
  from: Instant.nullable(),
  until: Instant.nullable(),
});
export type GrantChange = z.infer<typeof GrantChange>;

/** What undoing takes: the handings out that were made, and those that got other terms, with the ones before. */
export const HandedUndo = z.object({
  made: z.array(Id),
  changed: z.array(z.object({ id: Id, before: GrantChange })),
});
export type HandedUndo = z.infer<typeof HandedUndo>;

/** What was handed out. */
export const HandedOut = HandedUndo.extend({
  /** How many audiences had it just so. */
  already: z.number().int(),
  /** How many people get the note. */
  noted: z.number().int(),
});
export type HandedOut = z.infer<typeof HandedOut>;

/** Handings out by their ids: to be taken back, or to be in force again. */
export const Grants = z.object({ grants: z.array(Id).min(1).max(1000) });

/** Whom one can hand out to: one's own classes and courses, staff and school; or whoever is called by `words`. */
export const AudienceQuery = z.object({ words: z.string().trim().max(100).default('') });
export const AudienceChoice = z.object({
  kind: RosterAudience.shape.kind,
  id: Id,
  label: z.string(),
  colour: Colour.nullable(),
  /** How many people it reaches now. */
  people: z.number().int(),
  /** The course of a class, or what a person is. */
  about: z.string(),
});
export type AudienceChoice = z.infer<typeof AudienceChoice>;
export const AudienceChoices = z.object({ audiences: z.array(AudienceChoice) });
export type AudienceChoices = z.infer<typeof AudienceChoices>;

/** Who has what: handing out, changing its terms, taking it back. */
export const AUDIENCE_ROUTES = {
  'GET /api/folders/:folder/audience': {
    summary: 'Who sees a folder: its handings out, doors, and what comes from the folders above.',
    params: FolderParams,
    reply: FolderAudience,
  },
  'GET /api/audiences': {
    summary: 'The audiences that one may hand out to, found by their names.',
    query: AudienceQuery,
    reply: AudienceChoices,
  },
  'POST /api/grants': {
    summary: 'Hands out a folder or an item.',
    body: HandOut,
    reply: HandedOut,
    status: 201,
    errors: ['already-handed-out', 'audience-unknown', 'level-not-possible', 'ends-before-start'],
  },
  'PUT /api/grants/:grant': {
    summary: 'Changes the level or the span of a handing out; replies with what it was, for Undo.',
    params: GrantParams,
    body: GrantChange,
    reply: GrantChange,
    errors: ['level-not-possible', 'ends-before-start'],
  },
  'POST /api/grants/take-back': {
    summary: 'Takes back handings out.',
    body: Grants,
  },
  'POST /api/grants/restore': {
    summary: 'Undoes taking back.',
    body: Grants,
    errors: ['already-handed-out', 'audience-unknown'],
  },
} as const satisfies RouteMap;
