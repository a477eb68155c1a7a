import { z } from 'zod';
import { Colour, Day, FolderParams, Id, Instant } from './common.ts';
import { Consequences } from './consequence.ts';
import { SmallQuery } from './preview.ts';
import { media, type RouteMap } from './route.ts';

/** How many files one round may put in place. */
export const ROUND_FILES = 500;
/** To how many classes one file may go. */
const DESTINATIONS = 30;

export const ThingKind = z.enum(['notes', 'sheet', 'quiz', 'key', 'other']);
export type ThingKind = z.infer<typeof ThingKind>;

/** When a thing goes out, as a rule that is settled for each class. */
export const GoesOutRule = z.enum(['now', 'next-lesson', 'next-school-day', 'held']);
export type GoesOutRule = z.infer<typeof GoesOutRule>;
/** The same, or an instant. */
export const GoesOut = z.union([GoesOutRule, Instant]);
export type GoesOut = z.infer<typeof GoesOut>;

/** For whom a file of the tray is, and where it goes. */
export const TrayDestination = z.object({
  /** Null: for whoever sees the folder. */
  classId: Id.nullable(),
  /** Null where none has been chosen. */
  folderId: Id.nullable(),
  goesOut: GoesOut,
});
export type TrayDestination = z.infer<typeof TrayDestination>;

/** What a teacher has decided about a file, other than proposed: what is missing is as proposed. */
export const TrayAnswer = z.object({
  kind: ThingKind.optional(),
  title: z.string().trim().min(1).max(120).optional(),
  lessonDate: Day.optional(),
  to: z.array(TrayDestination).max(DESTINATIONS).optional(),
  /** Whether it is to be in one more place, though the library has it. */
  again: z.boolean().optional(),
  /** Of nearly the same text: the next version of this item (null: a file of its own). */
  versionOf: Id.nullable().optional(),
});
export type TrayAnswer = z.infer<typeof TrayAnswer>;

/** Why something is proposed; `detail` is what was found: a code, a title, a line of the text. */
export const TrayReason = z.object({
  why: z.enum([
    'code',
    'course',
    'letter',
    'period',
    'lesson-today',
    'follows',
    'like',
    'both',
    'text',
    'only',
  ]),
  detail: z.string(),
});
export type TrayReason = z.infer<typeof TrayReason>;

/** A file of the library that is the same, or nearly. */
export const TrayKnown = z.object({
  itemId: Id,
  placementId: Id,
  title: z.string(),
  folder: z.object({ id: Id, title: z.string() }),
  at: Instant,
  /** The classes that have it there. */
  classIds: z.array(Id),
});
export type TrayKnown = z.infer<typeof TrayKnown>;

export const TrayFile = z.object({
  id: Id,
  /** As it came. */
  name: z.string(),
  extension: z.string(),
  size: z.number().int(),
  arrivedAt: Instant,
  /** Names the state of its small picture; null where there is none. */
  small: z.string().nullable(),
  proposal: z.object({
    kind: ThingKind,
    title: z.string(),
    lessonDate: Day,
    to: z.array(TrayDestination),
    reasons: z.array(TrayReason),
    /** Whether it need not wait for an answer. */
    sure: z.boolean(),
  }),
  answer: TrayAnswer.nullable(),
  /** The library has the same content. */
  known: TrayKnown.nullable(),
  /** The library has nearly the same text. */
  nearly: TrayKnown.nullable(),
  /** A file that came into the tray before has the same content. */
  sameAs: Id.nullable(),
});
export type TrayFile = z.infer<typeof TrayFile>;

/** When things of each kind go out, and how lessons are titled. */
export const TrayRules = z.object({
  goesOut: z.object({
    notes: GoesOutRule,
    sheet: GoesOutRule,
    quiz: GoesOutRule,
    key: GoesOutRule,
    other: GoesOutRule,
  }),
  /** `{class} Lesson {n}, {about}`. */
  titlePattern: z.string().trim().min(1).max(120),
});
export type TrayRules = z.infer<typeof TrayRules>;

/** A class with where its lessons go. */
export const TrayClass = z.object({
  id: Id,
  code: z.string(),
  colour: Colour,
  course: z.string(),
  currentFolder: z.object({ id: Id, title: z.string() }).nullable(),
  /** Where its last lesson is, while it has no current folder. */
  proposedFolder: z.object({ id: Id, title: z.string() }).nullable(),
  /** The folder of the unit that comes next; one without an id is to be made. */
  nextUnit: z.object({ id: Id.nullable(), title: z.string() }).nullable(),
});
export type TrayClass = z.infer<typeof TrayClass>;

/** A folder into which the teacher may put things, of those that are likely here. */
export const TrayFolder = z.object({
  id: Id,
  title: z.string(),
  parentId: Id.nullable(),
  classIds: z.array(Id),
});
export type TrayFolder = z.infer<typeof TrayFolder>;

export const Tray = z.object({
  files: z.array(TrayFile),
  classes: z.array(TrayClass),
  folders: z.array(TrayFolder),
  rules: TrayRules,
});
export type Tray = z.infer<typeof Tray>;

/** What is to be done with a file: all of it, as the screen says. */
export const RoundRow = z.object({
  fileId: Id,
  title: z.string().trim().min(1).max(120),
  lessonDate: Day.nullable(),
  to: z
    .array(TrayDestination.extend({ folderId: Id }))
    .min(1)
    .max(DESTINATIONS),
  again: z.boolean().default(false),
  versionOf: Id.nullable().default(null),
});
export type RoundRow = z.input<typeof RoundRow>;
export const Round = z.object({ rows: z.array(RoundRow).min(1).max(ROUND_FILES) });

/** Why a file is not put in place, or not for a class. */
export const RoundRefusal = z.object({
  fileId: Id,
  classId: Id.nullable(),
  because: z.enum(['in-library', 'has-it', 'in-round', 'not-for-class', 'no-place']),
  /** Where it is, where that is why. */
  folder: z.object({ id: Id, title: z.string() }).nullable(),
});
export type RoundRefusal = z.infer<typeof RoundRefusal>;

/** One thing that a round does, or did. */
export const RoundStep = z.object({
  fileId: Id,
  /** `opened`: what is in the folder goes out to more classes. */
  outcome: z.enum(['new', 'placed', 'version', 'opened']),
  title: z.string(),
  folderId: Id,
  /** For each class that gets it by this: when (null: now), or that it is held back. */
  out: z.array(z.object({ classId: Id, from: Instant.nullable(), held: z.boolean() })),
});
export type RoundStep = z.infer<typeof RoundStep>;

/** What a round would do. */
export const RoundPreview = z.object({
  steps: z.array(RoundStep),
  refused: z.array(RoundRefusal),
  consequences: Consequences,
});
export type RoundPreview = z.infer<typeof RoundPreview>;

export const RoundDone = z.object({
  roundId: Id,
  /** How many files are in place now. */
  files: z.number().int(),
  refused: z.array(RoundRefusal),
});
export type RoundDone = z.infer<typeof RoundDone>;

/** What was put in place, for the list of the day. */
export const RoundOfDay = z.object({
  id: Id,
  at: Instant,
  steps: z.array(
    RoundStep.omit({ folderId: true }).extend({
      /** Null for one that has been deleted since. */
      folder: z.object({ id: Id, title: z.string() }).nullable(),
      placementId: Id.nullable(),
      classes: z.array(z.object({ id: Id, code: z.string(), colour: Colour })),
    }),
  ),
});
export type RoundOfDay = z.infer<typeof RoundOfDay>;
export const Rounds = z.object({ rounds: z.array(RoundOfDay), before: Instant.nullable() });
export type Rounds = z.infer<typeof Rounds>;

/** As many as can be in a tray. */
const TrayFiles = z.object({ files: z.array(Id).min(1).max(1000) });
const TrayFileParams = z.object({ file: Id });
const RoundParams = z.object({ round: Id });

/** A class that a folder reaches, with whether its lessons go there. */
export const LessonsOfClass = z.object({
  id: Id,
  code: z.string(),
  colour: Colour,
  here: z.boolean(),
  /** Where they go now. */
  currentFolder: z.object({ id: Id, title: z.string() }).nullable(),
});
export type LessonsOfClass = z.infer<typeof LessonsOfClass>;

/** The tray of a teacher: files that wait to be put in place, and what was put in place. */
export const TRAY_ROUTES = {
  'GET /api/tray': {
    summary: 'The files in the tray, with what is proposed for each.',
    reply: Tray,
  },
  'PATCH /api/tray/:file': {
    summary:
      'Notes what was decided about a file of the tray; nothing stands for what is proposed.',
    params: TrayFileParams,
    body: z.object({ answer: TrayAnswer.nullable() }),
  },
  'GET /api/tray/:file/small': {
    summary: 'A small picture of a file of the tray.',
    params: TrayFileParams,
    query: SmallQuery,
    reply: media('image/jpeg', 'image/png', 'image/webp'),
    errors: ['content-missing'],
  },
  'GET /api/tray/:file/content': {
    summary: 'A file of the tray, to look at.',
    params: TrayFileParams,
    reply: media('*/*'),
    errors: ['content-missing', 'range-not-there'],
  },
  'POST /api/tray/remove': { summary: 'Takes files out of the tray.', body: TrayFiles },
  'POST /api/tray/restore': {
    summary: 'Puts files back into the tray that were taken out of it.',
    body: TrayFiles,
    errors: ['tray-full'],
  },
  'PUT /api/tray/rules': {
    summary: 'Sets when things of each kind go out, and how lessons are titled.',
    body: TrayRules,
    errors: ['pattern-not-allowed'],
  },
  'POST /api/tray/preview': {
    summary: 'What putting files in place would do.',
    body: Round,
    reply: RoundPreview,
    errors: ['file-name-empty'],
  },
  'POST /api/tray/rounds': {
    summary: 'Puts files in place.',
    body: Round,
    reply: RoundDone,
    errors: ['name-taken', 'file-name-empty'],
  },
  'POST /api/tray/rounds/:round/back': {
    summary: 'Takes back what a round has put in place; its files are in the tray again.',
    params: RoundParams,
    errors: ['tray-full'],
  },
  'GET /api/tray/rounds': {
    summary: 'What was put in place, newest first.',
    query: z.object({ before: Instant.optional() }),
    reply: Rounds,
  },
  'GET /api/folders/:folder/lessons': {
    summary: 'The classes of a teacher that a folder reaches, with where their lessons go.',
    params: FolderParams,
    reply: z.object({ classes: z.array(LessonsOfClass) }),
  },
  'POST /api/tray/next-unit': {
    summary:
      'Moves a class on to its next unit: that becomes its current folder, and is made if it is not there.',
    body: z.object({ classId: Id }),
    reply: z.object({ id: Id, title: z.string(), before: Id }),
    errors: ['name-taken', 'name-not-allowed', 'too-deep'],
  },
} as const satisfies RouteMap;
