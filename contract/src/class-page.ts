import { z } from 'zod';
import { Colour, Frame, Id, Instant, Release, Thing } from './common.ts';
import { Consequences } from './consequence.ts';
import { Door } from './door.ts';
import { ThingCard } from './reading.ts';
import { ClassParams } from './roster.ts';
import { EVENTS, type RouteMap } from './route.ts';

/** How many things an entry may have, and on how many pages it may be put at once. */
const THINGS_OF_ENTRY = 50;
const PAGES_AT_ONCE = 30;

export const HeadingParams = z.object({ heading: Id });
export const EntryParams = z.object({ entry: Id });
export const AppearanceParams = z.object({ appearance: Id });

const HeadingFacts = z.object({
  title: z.string().trim().min(1).max(60),
  mark: z.string().max(16).nullable(),
  colour: Colour.nullable(),
});
const ClassTab = z.object({ id: Id, code: z.string(), colour: Colour });

/** A thing on the page of a class, with how much of it has not been opened. */
export const PageThing = ThingCard.extend({ unopened: z.number().int() });
export type PageThing = z.infer<typeof PageThing>;

/** An entry as somebody sees it who gets the page: with those of its things that they see. */
export const PageEntry = z.object({
  appearanceId: Id,
  title: z.string(),
  text: z.string(),
  /** Since when it has been on the page. */
  at: Instant,
  things: z.array(PageThing),
});
export type PageEntry = z.infer<typeof PageEntry>;

/** The page of a class, for whoever belongs to it. */
export const ClassPage = ClassTab.extend({
  course: z.string(),
  teachers: z.array(z.string()),
  numbered: z.boolean(),
  /** What is kept on top. */
  top: z.array(PageEntry),
  /** What is under no heading. */
  loose: z.array(PageEntry),
  /** Those under which there is something. */
  headings: z.array(HeadingFacts.extend({ id: Id, entries: z.array(PageEntry) })),
  /** What the class has without an entry. */
  rest: z.array(PageThing),
  /** All classes of the reader, in the order in which one steps from page to page. */
  classes: z.array(ClassTab),
});
export type ClassPage = z.infer<typeof ClassPage>;

/** The website of a class, as whoever comes sees it; words that are not open to them are empty. */
export const ClassWebsite = ClassPage.omit({ rest: true, classes: true }).extend({
  /** What is only for those who sign in, as far as the teachers let it be said; null where nothing is said. */
  signedIn: z.object({ entries: z.number().int(), titles: z.array(z.string()) }).nullable(),
});
export type ClassWebsite = z.infer<typeof ClassWebsite>;

const Tells = z.enum(['nothing', 'number', 'titles']);

/**
 * A thing of an entry, with whether whoever comes to the website may open it: `open` where a teacher of the class has opened it, `closed`
 * where it can be opened now, `other` where it has an address that does not open here (with a password, ended, a colleague’s), and
 * `not-yours` where somebody else decides.
 */
export const WebsiteThing = ThingCard.extend({
  state: z.enum(['open', 'closed', 'other', 'not-yours']),
});
export type WebsiteThing = z.infer<typeof WebsiteThing>;

/** What is on the website of a class, for those who make it. */
export const EditedWebsite = z.object({
  title: z.string(),
  schoolName: z.string(),
  /** Null while there is none. */
  door: Door.nullable(),
  loose: z.boolean(),
  tells: Tells,
  headings: z.array(HeadingFacts.extend({ id: Id, onWebsite: z.boolean() })),
  /** Those that the class has now. */
  entries: z.array(
    PageEntry.omit({ things: true, at: true }).extend({
      headingId: Id.nullable(),
      openText: z.boolean(),
      things: z.array(WebsiteThing),
    }),
  ),
});
export type EditedWebsite = z.infer<typeof EditedWebsite>;

export const WebsiteChange = z.object({
  /** For whom a website is that is opened now. */
  kind: z.enum(['public', 'school']).default('public'),
  /** The headings that are on it, and whether that is so of what is under none. */
  headings: z.array(Id).max(200),
  loose: z.boolean(),
  /** The entries of which the words may be read: their appearances on the page of the class. */
  texts: z.array(Id).max(1000),
  tells: Tells,
  /** Things for which addresses of their own are opened, where there is none. */
  open: z.array(Thing).max(200).default([]),
});
/** The address of the website, with the doors that were opened for this. */
export const WebsiteDone = z.object({ door: Door, opened: z.array(Id) });

/**
 * Where an entry is to appear, when, and for whom: `people` are members of the class; null for all. A heading of another page stands for
 * the one of the same title here, where there is one.
 */
const Appearing = z.object({
  classId: Id,
  headingId: Id.nullable().default(null),
  keepOnTop: z.boolean().default(false),
  release: Release.default({ held: false, from: null, until: null }),
  people: z.array(Id).min(1).max(500).nullable().default(null),
});
export type Appearing = z.input<typeof Appearing>;

const EntryFacts = z.object({
  title: z.string().trim().min(1).max(120),
  text: z.string().max(5000),
  things: z.array(Thing).max(THINGS_OF_ENTRY),
});

export const NewEntry = EntryFacts.extend({
  text: EntryFacts.shape.text.default(''),
  things: EntryFacts.shape.things.default([]),
  on: z.array(Appearing).min(1).max(PAGES_AT_ONCE),
});
export const MadeEntry = z.object({ id: Id, appearances: z.array(Id) });
export const EntryChange = EntryFacts.partial();
export type EntryChange = z.infer<typeof EntryChange>;
export const MoreAppearances = z.object({ on: z.array(Appearing).min(1).max(PAGES_AT_ONCE) });
export const AppearanceChange = z.object({
  keepOnTop: z.boolean().optional(),
  release: Release.optional(),
  people: Appearing.shape.people.unwrap().optional(),
});
export type AppearanceChange = z.infer<typeof AppearanceChange>;

/** When an entry is to be on all pages on which the person has it. */
export const EverywhereChange = z.object({ release: Release });
/** What each of the appearances was before. */
export const EverywhereChanged = z.object({
  before: z.array(z.object({ appearanceId: Id, release: Release })),
});
export const TakenFromAll = z.object({ appearances: z.array(Id) });

/** Something that is about to be done with an entry, to be told what it would mean. */
export const EntryStep = z.discriminatedUnion('do', [
  NewEntry.omit({ title: true, text: true }).extend({ do: z.literal('make') }),
  z.object({ do: z.literal('things'), entry: Id, things: EntryFacts.shape.things }),
  z.object({ do: z.literal('set'), appearance: Id, change: AppearanceChange }),
  z.object({ do: z.literal('take-back'), appearance: Id }),
  z.object({ do: z.literal('set-everywhere'), entry: Id, change: EverywhereChange }),
  z.object({ do: z.literal('take-back-everywhere'), entry: Id }),
]);
export type EntryStep = z.input<typeof EntryStep>;

/** Under which heading (null: none), and before which of what is there; null: after all. */
export const AppearanceMove = z.object({ headingId: Id.nullable(), before: Id.nullable() });
export const HeadingMove = z.object({ before: Id.nullable() });
export const NewHeading = HeadingFacts.extend({
  mark: HeadingFacts.shape.mark.default(null),
  colour: HeadingFacts.shape.colour.default(null),
});
export const HeadingChange = HeadingFacts.partial();
export const ClassPageChange = z.object({
  numbered: z.boolean().optional(),
  currentFolderId: Id.nullable().optional(),
});
export const MadeHeading = z.object({ id: Id });

/** An entry for those who make the page: drafts too, with when and for whom it appears here, and where else. */
export const EditedEntry = PageEntry.omit({ things: true }).extend({
  entryId: Id,
  headingId: Id.nullable(),
  keepOnTop: z.boolean(),
  release: Release,
  state: z.enum(['out', 'later', 'held', 'ended']),
  people: z.array(z.object({ id: Id, name: z.string() })).nullable(),
  /** Those that the teacher sees. */
  things: z.array(ThingCard),
  /** How many of its things the teacher does not see, or are in the Bin. */
  gone: z.number().int(),
  /** Whether the teacher may change its words and things. */
  mayChange: z.boolean(),
  /** Pages of other classes on which it is. */
  alsoOn: z.array(ClassTab),
});
export type EditedEntry = z.infer<typeof EditedEntry>;

/** The page of a class, for those who make it. */
export const EditedPage = ClassTab.extend({
  course: z.string(),
  numbered: z.boolean(),
  currentFolder: z.object({ id: Id, title: z.string() }).nullable(),
  /** While there is none: the folder handed out to the class in which something came last. */
  proposedFolder: z.object({ id: Id, title: z.string() }).nullable(),
  headings: z.array(HeadingFacts.extend({ id: Id, onWebsite: z.boolean() })),
  /** For whom the class has a website, where it has one. */
  website: z.enum(['public', 'school']).nullable(),
  /** In the order in which they are on the page. */
  entries: z.array(EditedEntry),
  members: z.array(z.object({ id: Id, name: z.string() })),
  /** What the class has without an entry. */
  rest: z.array(ThingCard),
  /** All classes of the teacher, in the order in which one steps from page to page. */
  classes: z.array(ClassTab),
});
export type EditedPage = z.infer<typeof EditedPage>;

/** Entries of other pages by a word of theirs; without one, the newest. */
export const EarlierQuery = z.object({ words: z.string().trim().max(100).default('') });
/** An entry that can be used again, with where it was last, and when that was written. */
export const EarlierEntry = z.object({
  entryId: Id,
  title: z.string(),
  text: z.string(),
  things: z.array(ThingCard),
  code: z.string(),
  colour: Colour,
  year: z.string(),
  from: Frame,
});
export type EarlierEntry = z.infer<typeof EarlierEntry>;
export const EarlierEntries = z.object({ entries: z.array(EarlierEntry), to: Frame });

/** The page of a class, for oneself and as somebody else would see it. */
export const CLASS_PAGE_SCOPED = {
  'GET /class-pages/:class': {
    summary: 'The page of a class, with what the reader sees.',
    params: ClassParams,
    reply: ClassPage,
  },
} as const satisfies RouteMap;

/** The website of a class, for whoever came through its door. */
export const CLASS_WEBSITE_SCOPED = {
  'GET /website': {
    summary: 'The website of a class.',
    reply: ClassWebsite,
  },
  'GET /website/live': {
    summary: 'Events while the website of a class is open: something on it has changed.',
    reply: EVENTS,
  },
} as const satisfies RouteMap;

const GRANTING = [
  'audience-unknown',
  'ends-before-start',
  'class-cannot-open',
  'already-here',
] as const;

/** Making the page of a class. */
export const CLASS_PAGE_ROUTES = {
  'GET /api/class-pages/:class/edited': {
    summary: 'The page of a class, for those who make it.',
    params: ClassParams,
    reply: EditedPage,
  },
  'GET /api/class-pages/:class/earlier': {
    summary: 'Entries of other classes and years that can be used again on the page of a class.',
    params: ClassParams,
    query: EarlierQuery,
    reply: EarlierEntries,
  },
  'PATCH /api/class-pages/:class': {
    summary: 'Numbers the headings of a class’s page, or sets its current folder.',
    params: ClassParams,
    body: ClassPageChange,
  },
  'GET /api/class-pages/:class/website': {
    summary: 'What is on the website of a class, for those who make it.',
    params: ClassParams,
    reply: EditedWebsite,
  },
  'PUT /api/class-pages/:class/website': {
    summary: 'Opens the website of a class, or changes what is on it.',
    params: ClassParams,
    body: WebsiteChange,
    reply: WebsiteDone,
    errors: ['already-handed-out'],
  },
  'POST /api/class-pages/:class/headings': {
    summary: 'Adds a heading, after the others.',
    params: ClassParams,
    body: NewHeading,
    reply: MadeHeading,
    status: 201,
  },
  'PATCH /api/headings/:heading': {
    summary: 'Changes a heading.',
    params: HeadingParams,
    body: HeadingChange,
  },
  'POST /api/headings/:heading/move': {
    summary: 'Moves a heading before another one, or after all.',
    params: HeadingParams,
    body: HeadingMove,
  },
  'DELETE /api/headings/:heading': {
    summary: 'Removes a heading; what was under it is under none.',
    params: HeadingParams,
  },
  'POST /api/headings/:heading/restore': {
    summary: 'Undoes removing a heading.',
    params: HeadingParams,
  },
  'POST /api/entries': {
    summary: 'Makes an entry and puts it on pages of classes; its things are handed out with it.',
    body: NewEntry,
    reply: MadeEntry,
    status: 201,
    errors: GRANTING,
  },
  'POST /api/entries/consequences': {
    summary: 'What something done with an entry would mean, for each audience, before it is done.',
    body: EntryStep,
    reply: Consequences,
    errors: GRANTING,
  },
  'PATCH /api/entries/:entry': {
    summary: 'Changes the words and things of an entry, wherever it is.',
    params: EntryParams,
    body: EntryChange,
    errors: GRANTING,
  },
  'POST /api/entries/:entry/appearances': {
    summary: 'Puts an entry on further pages.',
    params: EntryParams,
    body: MoreAppearances,
    reply: MadeEntry,
    status: 201,
    errors: GRANTING,
  },
  'PATCH /api/entries/:entry/appearances': {
    summary: 'Changes when an entry is there, on all pages that the person makes.',
    params: EntryParams,
    body: EverywhereChange,
    reply: EverywhereChanged,
    errors: GRANTING,
  },
  'DELETE /api/entries/:entry/appearances': {
    summary: 'Takes an entry from all pages that the person makes, and back what it handed out.',
    params: EntryParams,
    reply: TakenFromAll,
  },
  'PATCH /api/appearances/:appearance': {
    summary: 'Changes when, and for whom, an entry is on the page of a class.',
    params: AppearanceParams,
    body: AppearanceChange,
    errors: GRANTING,
  },
  'POST /api/appearances/:appearance/move': {
    summary: 'Moves an entry on the page of a class.',
    params: AppearanceParams,
    body: AppearanceMove,
  },
  'DELETE /api/appearances/:appearance': {
    summary: 'Takes an entry from the page of a class, and back what it handed out.',
    params: AppearanceParams,
  },
  'POST /api/appearances/:appearance/restore': {
    summary: 'Undoes taking an entry from a page.',
    params: AppearanceParams,
    errors: GRANTING,
  },
} as const satisfies RouteMap;
