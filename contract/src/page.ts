import { z } from 'zod';
import { Day, Frame, StaleFrames, Id, Instant, PlacementParams, Tab, Thing } from './common.ts';
import { PAGE_LIMIT, PICTURE_LIMIT, REFERENCE_LIMIT } from '@sammlung/core';
import { Language } from './session.ts';
import { ThingCard } from './reading.ts';
import { BYTES, media, type RouteMap } from './route.ts';

/**
 * A page as a piece of an HTML document: headings `h2` to `h4` (`h2 data-day`: what belongs to a day), paragraphs, lists (of checks: `li data-checked`), tables, `pre`
 * with `code class="language-…"`, `blockquote`, `aside` (set apart), `details`, `hr`, formulas as TeX (`code` and `pre` of
 * the class `formula`), pictures of the page, `img src="pictures/<SHA-256>"`, and references to things of the library,
 * `p data-folder="<id>"` and `p data-placement="<id>"`, without text: what they are called is told to whoever sees them.
 */
const Html = z.string().max(PAGE_LIMIT);

export const NewPage = z.object({ folderId: Id, title: z.string().max(400) });
export const MadePage = z.object({ id: Id, title: z.string() });

/** What readers get. */
export const PageText = z.object({
  html: z.string(),
  /** 0 where nothing of it has been shown yet. */
  version: z.number().int(),
  /** What it refers to, as far as the reader sees it; nothing else to which it refers is in its text. */
  things: z.array(ThingCard),
});
export type PageText = z.infer<typeof PageText>;

export const PageQuery = z.object({
  /** An earlier version, for those who may change the page. */
  version: Id.optional(),
});

/** What a person has written on a page and has not shown yet; `base` is the version from which they began. */
const DraftText = z.object({ html: Html, base: z.number().int().min(0) });

/**
 * What is written now. `after` says when the draft was saved that this continues; null where there was none. Refused
 * (`changed-since`) when there is another one by now, written in another window or on another device.
 */
export const Written = DraftText.extend({ after: Instant.nullable() });
/** `whileWriting`: until the writer pauses, what they show next takes the place of this version. */
export const Shown = Written.extend({ whileWriting: z.boolean().default(false) });
export type Shown = z.infer<typeof Shown>;
export type Written = z.infer<typeof Written>;

export const Showing = z.object({ whileWriting: z.boolean() });

/** A page for whoever writes on it. */
export const PageDraft = z.object({
  title: z.string(),
  /** What readers get. */
  shown: PageText.omit({ things: true }),
  /** One's own draft; null where there is none. */
  draft: DraftText.extend({ savedAt: Instant }).nullable(),
  /** Others who have a draft of it, and since when they have not written on. */
  others: z.array(z.object({ name: z.string(), savedAt: Instant })),
  /** Whether readers get what is written while it is. */
  whileWriting: z.boolean(),
  /** The language of the classes that get it, where they have one. */
  language: Language.nullable(),
  /** The day of the last lesson of these classes, as far as a timetable tells: what is written today belongs to it. */
  lessonDay: Day.nullable(),
  /** Of a page that was carried over from another year, and in which something still looks out of date. */
  stale: StaleFrames.nullable(),
});
export type PageDraft = z.infer<typeof PageDraft>;

export const BeginFrom = z.object({ from: Id });
/** The text of another page, with its pictures, to go on from; and what may be out of date in it. */
export const BegunFrom = z.object({ html: z.string(), from: Frame, to: Frame });
export type BegunFrom = z.infer<typeof BegunFrom>;

export const References = z.object({ things: z.array(Thing).max(REFERENCE_LIMIT) });

/** A thing to which a page refers, for whoever writes on it. */
export const Reference = ThingCard.extend({
  /** Of those who get the page, who does not see the thing, neither now nor later. */
  unseenBy: z.array(
    Tab.pick({ kind: true, id: true, label: true, colour: true }).extend({
      /** How many they are; null at a door. */
      people: z.number().int().nullable(),
      /** Whether it is handed out to them, and held back or ended. */
      handedOut: z.boolean(),
    }),
  ),
  /** Whether the writer decides who sees it. */
  mayHandOut: z.boolean(),
});
export type Reference = z.infer<typeof Reference>;
/** Those that the writer sees, in no order. */
export const SeenReferences = z.object({ references: z.array(Reference) });

/** When a draft was saved, and which version readers get by then. */
export const SavedDraft = z.object({ savedAt: Instant, version: z.number().int() });
export const ShownPage = z.object({ version: z.number().int() });
export const MadePicture = z.object({ hash: z.string() });

export const PictureParams = PlacementParams.extend({ hash: z.string().regex(/^[0-9a-f]{64}$/u) });

/** Pages, for oneself, at a door, and as somebody else would see them. */
export const PAGE_SCOPED = {
  'GET /placements/:placement/page': {
    summary: 'What a page says.',
    params: PlacementParams,
    query: PageQuery,
    reply: PageText,
    errors: ['content-missing'],
  },
  'GET /placements/:placement/pictures/:hash': {
    summary: 'A picture on a page.',
    params: PictureParams,
    reply: media('image/*'),
    errors: ['content-missing', 'range-not-there'],
  },
} as const satisfies RouteMap;

/** Writing pages. */
export const PAGE_ROUTES = {
  'POST /api/pages': {
    summary: 'Adds a page. Nobody but those who manage its folder sees it before it is shown.',
    body: NewPage,
    reply: MadePage,
    status: 201,
    errors: ['name-not-allowed'],
  },
  'GET /api/placements/:placement/draft': {
    summary: 'A page with one’s own draft of it.',
    params: PlacementParams,
    reply: PageDraft,
    errors: ['content-missing'],
  },
  'PUT /api/placements/:placement/draft': {
    summary: 'Saves what one has written on a page; readers do not get it.',
    params: PlacementParams,
    body: Written,
    largest: 2 * PAGE_LIMIT,
    reply: SavedDraft,
    errors: ['quota-full', 'file-too-large'],
  },
  'DELETE /api/placements/:placement/draft': {
    summary: 'Drops one’s own draft of a page.',
    params: PlacementParams,
  },
  'POST /api/placements/:placement/shown': {
    summary: 'Shows what one has written: readers get it as the next version.',
    params: PlacementParams,
    body: Shown,
    largest: 2 * PAGE_LIMIT,
    reply: ShownPage,
    errors: ['quota-full', 'disk-full', 'too-slow', 'file-too-large'],
  },
  'POST /api/placements/:placement/begin': {
    summary: 'Takes over the text of another page that one sees, with its pictures, to go on from.',
    params: PlacementParams,
    body: BeginFrom,
    reply: BegunFrom,
    errors: ['quota-full', 'content-missing'],
  },
  'PUT /api/placements/:placement/showing': {
    summary: 'Says whether readers get what is written on a page while it is.',
    params: PlacementParams,
    body: Showing,
  },
  'POST /api/placements/:placement/references': {
    summary: 'What things on a page are, and which of its readers do not see them.',
    params: PlacementParams,
    body: References,
    reply: SeenReferences,
  },
  'POST /api/placements/:placement/pictures': {
    summary: 'Adds a picture to a page; readers get it once it is shown there.',
    params: PlacementParams,
    body: BYTES,
    largest: PICTURE_LIMIT,
    reply: MadePicture,
    errors: ['no-picture', 'quota-full', 'disk-full', 'file-too-large'],
  },
} as const satisfies RouteMap;
