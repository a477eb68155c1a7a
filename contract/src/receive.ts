import { z } from 'zod';
import { Colour, Id, Instant, Level } from './common.ts';
import { Feed, FeedParams, Feeds, FeedToken, NewFeed } from './feed.ts';
import { ItemRow } from './reading.ts';
import { EVENTS, media, type RouteMap } from './route.ts';

const ClassTab = z.object({ id: Id, code: z.string(), colour: Colour });

export const NewThing = ItemRow.extend({
  /** Null when only the item was handed out. */
  folder: z.object({ id: Id, title: z.string() }).nullable(),
  /** When it came to this person: added, handed out or released, whichever was last. */
  cameAt: Instant,
  classes: z.array(ClassTab),
});
export type NewThing = z.infer<typeof NewThing>;

/** A class by its id, or `me` for what came to this person alone. */
const By = z.union([Id, z.literal('me')]);

/** How many of the newest things, and by which class they came. */
export const NewQuery = z.object({
  limit: z.coerce.number().int().min(1).max(1000).default(50),
  by: By.optional(),
});

/** What came in, newest first. */
export const NewThings = z.object({
  things: z.array(NewThing),
  /** Whether there are older things. */
  more: z.boolean(),
  /** How many things have not been opened: in all, of each class, and of what came to this person alone. */
  unopened: z.number().int(),
  classes: z.array(ClassTab.extend({ unopened: z.number().int() })),
  forMe: z.number().int(),
  /** Whether a mail tells each day what is new; null for whoever has no mail address. */
  digest: z.boolean().nullable(),
  /** How many classes the person is asked to join. */
  joinRequests: z.number().int(),
  /** How many hand-in boxes they have a place in. */
  boxes: z.number().int(),
});
export type NewThings = z.infer<typeof NewThings>;

/** Told to pages that show what came in: what there is now in these folders. */
export const CameNews = z.object({ folderIds: z.array(Id), things: z.array(NewThing) });
export type CameNews = z.infer<typeof CameNews>;

/** Nothing that came in until then need be shown as new any more; `until` is when the newest thing on the page came. */
export const Mark = z.object({ until: Instant, by: By.optional() });
/** How many things that was, and the name by which it is undone. */
export const Marked = z.object({ count: z.number().int(), at: Instant });
export type Marked = z.infer<typeof Marked>;
export const MarkedParams = z.object({ at: Instant });

const CountedFolder = z.object({
  id: Id,
  title: z.string(),
  mark: z.string().nullable(),
  /** Items in it and below that the viewer sees, and how many of them they have not opened. */
  items: z.number().int(),
  unopened: z.number().int(),
});

/** A folder that was handed out, with the folders directly in it. */
export const HandedFolder = CountedFolder.extend({ folders: z.array(CountedFolder) });
export type HandedFolder = z.infer<typeof HandedFolder>;

export const MyClass = z.object({
  id: Id,
  code: z.string(),
  colour: Colour,
  course: z.string(),
  teachers: z.array(z.string()),
  folders: z.array(HandedFolder),
});
export type MyClass = z.infer<typeof MyClass>;

/** Class pages, and the folders that were handed out to this person alone. */
export const MyClasses = z.object({ classes: z.array(MyClass), forMe: z.array(HandedFolder) });
export type MyClasses = z.infer<typeof MyClasses>;

export const DigestChoice = z.object({ digest: z.boolean() });

/** The folders of colleagues that were handed out to staff, or to the viewer by name. */
export const StaffRoom = z.object({
  folders: z.array(
    z.object({
      id: Id,
      title: z.string(),
      mark: z.string().nullable(),
      ownerName: z.string(),
      right: Level,
      items: z.number().int(),
      folders: z.number().int(),
    }),
  ),
});
export type StaffRoom = z.infer<typeof StaffRoom>;

/** Whom a teacher sees their things as. */
export const SeenAs = z.object({ name: z.string(), staff: z.boolean() });
export type SeenAs = z.infer<typeof SeenAs>;

/** What came to oneself, or to whom one looks as. */
export const RECEIVE_SCOPED = {
  'GET /new': {
    summary: 'What came to somebody, the newest first.',
    query: NewQuery,
    reply: NewThings,
  },
  'GET /classes': {
    summary: 'The classes of a student, with what each has.',
    reply: MyClasses,
  },
  'GET /staff-room': {
    summary: 'The folders that colleagues have handed out to staff.',
    reply: StaffRoom,
  },
} as const satisfies RouteMap;

export const SEEN_AS_SCOPED = {
  'GET /name': {
    summary: 'Whom the library is seen as.',
    reply: SeenAs,
  },
} as const satisfies RouteMap;

/** What came to somebody, and feeds of it. */
export const RECEIVE_ROUTES = {
  'PUT /api/new/digest': {
    summary: 'Chooses whether what is new comes as a daily email.',
    body: DigestChoice,
  },
  'PUT /api/new/marked': {
    summary: 'Marks everything as seen up to an instant.',
    body: Mark,
    reply: Marked,
  },
  'DELETE /api/new/marked/:at': {
    summary: 'Undoes marking as seen.',
    params: MarkedParams,
  },
  'GET /api/feeds': {
    summary: 'One’s feeds and calendars.',
    reply: Feeds,
  },
  'POST /api/feeds': {
    summary: 'Makes an address for a feed or a calendar.',
    body: NewFeed,
    reply: Feed,
  },
  'DELETE /api/feeds/:feed': {
    summary: 'Ends a feed or a calendar.',
    params: FeedParams,
  },
  // Whoever has the address needs no session: feed readers have none.
  'GET /api/feeds/:token/atom.xml': {
    summary: 'What is new for whoever made this address, as a feed.',
    params: FeedToken,
    reply: media('application/atom+xml'),
  },
  'GET /api/new/live': {
    summary: 'Events while New is open: something came or went.',
    reply: EVENTS,
  },
} as const satisfies RouteMap;
