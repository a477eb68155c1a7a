import { z } from 'zod';
import { Colour, Id, Instant } from './common.ts';
import { ItemRow } from './reading.ts';
import type { RouteMap } from './route.ts';

/** For how many classes a box is made at once. */
const CLASSES_AT_ONCE = 30;

export const BoxParams = z.object({ box: Id });
export const PlaceParams = z.object({ place: Id });

const BoxFacts = z.object({
  title: z.string().trim().min(1).max(60),
  text: z.string().max(5000),
  /** Null: it stays open until it is closed. */
  endsAt: Instant.nullable(),
  /** Whether something may still be handed in after the end, marked as late. */
  takesLate: z.boolean(),
});
export const NewBoxes = BoxFacts.extend({
  text: BoxFacts.shape.text.default(''),
  endsAt: BoxFacts.shape.endsAt.default(null),
  takesLate: BoxFacts.shape.takesLate.default(true),
  classIds: z.array(Id).min(1).max(CLASSES_AT_ONCE),
});
export type NewBoxes = z.infer<typeof NewBoxes>;
/** The boxes that were made, one for each class, and how many students have a place in them. */
export const MadeBoxes = z.object({ ids: z.array(Id), students: z.number().int() });
export const BoxChange = BoxFacts.extend({ closed: z.boolean() }).partial();
export type BoxChange = z.infer<typeof BoxChange>;

/** A hand-in box. `open`: before its end; `late`: after it, and what comes is marked; `ended`: after it, nothing is taken; `closed` for good. */
export const Box = BoxFacts.extend({
  id: Id,
  classId: Id,
  code: z.string(),
  colour: Colour,
  state: z.enum(['open', 'late', 'ended', 'closed']),
  /** When what is in its places is deleted for good; null where it is kept. */
  goesAt: Instant.nullable(),
});
export type Box = z.infer<typeof Box>;

/** What has been handed in in a place: files, pages and links of the student. */
const HandedIn = z.object({
  files: z.number().int(),
  /** When the last of it came; null while there is nothing. */
  handedInAt: Instant.nullable(),
  /** Whether some of it came after the end. */
  late: z.boolean(),
});

/** A box for the student of a place in it. */
export const OwnBox = Box.extend(HandedIn.shape).extend({
  placeId: Id,
  mayAdd: z.boolean(),
  /** When a teacher first looked at the last of it; null while nobody has. */
  seenAt: Instant.nullable(),
  /** Remarks of others that the student has not read. */
  remarks: z.number().int(),
});
export type OwnBox = z.infer<typeof OwnBox>;

/**
 * A box for those who teach the class: how many students have a place, how many have handed something in, and in how many something, or
 * a remark of the student, is new to the teacher.
 */
export const TaughtBox = Box.extend({
  students: z.number().int(),
  handedIn: z.number().int(),
  fresh: z.number().int(),
});
export type TaughtBox = z.infer<typeof TaughtBox>;

/** Boxes that are closed, also of years that are, in place of those of open years. */
export const BoxesQuery = z.object({ ended: z.stringbool().optional() });
/** The boxes in which somebody has a place, and those of the classes that they teach; of years that are open. */
export const Boxes = z.object({ own: z.array(OwnBox), taught: z.array(TaughtBox) });
export type Boxes = z.infer<typeof Boxes>;

/** The place of a student, for those who teach the class. */
export const PlaceRow = HandedIn.extend({
  placeId: Id,
  personId: Id,
  name: z.string(),
  /** What the lists of a class are ordered by. */
  familyName: z.string(),
  /** How much of it, and how many remarks of the student, are new to the teacher. */
  fresh: z.number().int(),
  /** Whether the student belongs to the class now. */
  member: z.boolean(),
});
export type PlaceRow = z.infer<typeof PlaceRow>;
export const BoxPlaces = z.object({ box: TaughtBox, places: z.array(PlaceRow) });
export type BoxPlaces = z.infer<typeof BoxPlaces>;

/** Something in a place, wherever it is in it. */
export const PlaceThing = ItemRow.extend({
  folderId: Id,
  /** The folders in which it is, below the place. */
  path: z.array(z.string()),
  /** Whether it is the student’s work, and not what they were given. */
  own: z.boolean(),
  /** Who put it, or its newest version, here. */
  by: z.string(),
  late: z.boolean(),
  /** When a teacher first looked at this version. */
  seenAt: Instant.nullable(),
  /** How many remarks there are about it, and how many of them the reader has not read. */
  remarks: z.object({ count: z.number().int(), fresh: z.number().int() }),
});
export type PlaceThing = z.infer<typeof PlaceThing>;

/** How many things of a place are shown. */
export const PLACE_SHOWS = 2000;

/** The place of a student in a box, with all that is in it. */
export const Place = z.object({
  placeId: Id,
  box: Box,
  personId: Id,
  name: z.string(),
  /** Whether it is the viewer’s own. */
  own: z.boolean(),
  mayAdd: z.boolean(),
  things: z.array(PlaceThing).max(PLACE_SHOWS),
});
export type Place = z.infer<typeof Place>;

/** A file or page of which every student of a box is given a copy; in `pattern` `{title}`, `{student}` and `{class}` stand for what they say. */
export const NewCopies = z.object({
  placement: Id,
  pattern: z.string().trim().min(1).max(100).default('{title}'),
});
export const GivenCopies = z.object({
  id: Id,
  /** What the original is called; null once it has been deleted. */
  title: z.string().nullable(),
  at: Instant,
  by: z.string(),
  /** How many students have one, and how many have opened it. */
  given: z.number().int(),
  opened: z.number().int(),
});
export type GivenCopies = z.infer<typeof GivenCopies>;
export const CopiesParams = z.object({ copies: Id });

export const ClearBoxes = z.object({
  boxes: z.array(Id).min(1).max(500),
  /** Whether it is cleared, or kept after all. */
  clear: z.boolean(),
});
export type ClearBoxes = z.infer<typeof ClearBoxes>;

/** Hand-in boxes of classes, with a private place for each student. */
export const BOX_ROUTES = {
  'GET /api/boxes': {
    summary:
      'The hand-in boxes in which one has a place, and those of the classes that one teaches.',
    query: BoxesQuery,
    reply: Boxes,
  },
  'POST /api/boxes/clear': {
    summary:
      'Has what is in the places of closed hand-in boxes deleted for good after 30 days, or keeps it after all.',
    body: ClearBoxes,
    errors: ['box-open'],
  },
  'POST /api/boxes': {
    summary:
      'Makes a hand-in box for each of some classes; every student of them has a place in it.',
    body: NewBoxes,
    reply: MadeBoxes,
    status: 201,
    errors: ['name-not-allowed'],
  },
  'GET /api/boxes/:box': {
    summary: 'A hand-in box with the places of its students, for those who teach the class.',
    params: BoxParams,
    reply: BoxPlaces,
  },
  'PATCH /api/boxes/:box': {
    summary: 'Changes a hand-in box, closes it or opens it again.',
    params: BoxParams,
    body: BoxChange,
    errors: ['name-not-allowed'],
  },
  'DELETE /api/boxes/:box': {
    summary: 'Removes a hand-in box in which nothing has been handed in.',
    params: BoxParams,
    errors: ['box-not-empty'],
  },
  'POST /api/boxes/:box/back': {
    summary: 'Undoes the removal of a hand-in box.',
    params: BoxParams,
  },
  'GET /api/boxes/:box/copies': {
    summary: 'What every student of a hand-in box has been given a copy of.',
    params: BoxParams,
    reply: z.object({ copies: z.array(GivenCopies) }),
  },
  'POST /api/boxes/:box/copies': {
    summary:
      'Gives every student of a hand-in box a copy of a file or page of their own, also who joins later.',
    params: BoxParams,
    body: NewCopies,
    reply: z.object({ id: Id, given: z.number().int() }),
    status: 201,
    errors: ['name-not-allowed', 'already-here'],
  },
  'DELETE /api/copies/:copies': {
    summary: 'Takes copies back that nobody has opened; the others stay.',
    params: CopiesParams,
    reply: z.object({ kept: z.number().int() }),
  },
  'GET /api/places/:place': {
    summary:
      'The place of a student in a hand-in box, for the student and those who teach the class.',
    params: PlaceParams,
    reply: Place,
  },
} as const satisfies RouteMap;
