import { z } from 'zod';
import {
  Colour,
  Day,
  FolderParams,
  Id,
  Instant,
  PlacementParams,
  Release,
  Right,
  Tab,
  Thing,
} from './common.ts';
import { EVENTS, media, type RouteMap } from './route.ts';

export const Crumb = z.object({ id: Id, title: z.string() });
export type Crumb = z.infer<typeof Crumb>;

/** A folder from which something comes; one that the viewer may not know of has neither id nor title. */
export const Whence = z.object({ id: Id.nullable(), title: z.string().nullable() });
export type Whence = z.infer<typeof Whence>;

export const FolderOrder = z.enum(['hand', 'a_to_z', 'lesson_date', 'newest']);

export const FolderDisplay = z.enum(['list', 'tiles', 'reader']);
export type FolderOrder = z.infer<typeof FolderOrder>;
export type FolderDisplay = z.infer<typeof FolderDisplay>;

/** A folder as the viewer may know it; `crumbs` start at the folder that was handed out. */
export const FolderView = z.object({
  id: Id,
  title: z.string(),
  mark: z.string().nullable(),
  colour: Colour.nullable(),
  order: FolderOrder,
  display: FolderDisplay,
  keepOnTop: z.boolean(),
  parentId: Id.nullable(),
  right: Right,
  ownerName: z.string(),
  /** The place of a student in a hand-in box, where the folder is in one. */
  placeId: Id.nullable(),
  crumbs: z.array(Crumb),
});
export type FolderView = z.infer<typeof FolderView>;

export const FolderRow = z.object({
  id: Id,
  title: z.string(),
  mark: z.string().nullable(),
  colour: Colour.nullable(),
  /** Items in it that the viewer sees, folders below not counted. */
  items: z.number().int(),
  folders: z.number().int(),
  keepOnTop: z.boolean(),
  /** For those who own or manage it. */
  tabs: z.array(Tab).optional(),
  /** Its own release; for those who manage the folder. */
  release: Release.optional(),
});
export type FolderRow = z.infer<typeof FolderRow>;

export const ItemRow = z.object({
  placementId: Id,
  itemId: Id,
  kind: z.enum(['file', 'link', 'page']),
  title: z.string(),
  /** Of a file, lower case without the dot. */
  extension: z.string(),
  mediaType: z.string().nullable(),
  /** Bytes. */
  size: z.number().int().nullable(),
  version: z.number().int().nullable(),
  lessonDate: Day.nullable(),
  /** When this state of it came here. */
  changedAt: Instant,
  url: z.string().nullable(),
  keepOnTop: z.boolean(),
  /** Names the newest small picture, where there is one. */
  small: z.string().nullable(),
  /** The first lines of a text. */
  opening: z.string().nullable(),
  /** For students: whether they have opened or downloaded the newest state. */
  opened: z.boolean(),
  /** For those who own or manage the folder. */
  tabs: z.array(Tab).optional(),
  /** Its own release; for those who manage the folder. */
  release: Release.optional(),
  /** Other folders of the viewer in which the same item lies. */
  alsoIn: z.array(Crumb.extend({ placementId: Id })).optional(),
});
export type ItemRow = z.infer<typeof ItemRow>;

/** A folder or an item to which something refers, as far as has to be known to show that it is there. */
export const ThingCard = Thing.extend({
  title: z.string(),
  /** Null for a folder. */
  itemKind: ItemRow.shape.kind.nullable(),
  extension: z.string(),
  mark: z.string().nullable(),
  colour: Colour.nullable(),
  url: z.string().nullable(),
});
export type ThingCard = z.infer<typeof ThingCard>;

export const ContentsQuery = z.object({
  after: Id.optional(),
  /** Another order than the folder's own. */
  order: FolderOrder.optional(),
  limit: z.coerce.number().int().min(1).max(200).default(100),
});

/** One page of a folder: its folders stand on the first page, `next` is the cursor of the page after. */
export const Contents = z.object({
  folders: z.array(FolderRow),
  items: z.array(ItemRow),
  next: Id.nullable(),
  /** How many items the folder has, with the first page; only for its owner. */
  total: z.number().int().optional(),
});
export type Contents = z.infer<typeof Contents>;

export const PlacementView = ItemRow.extend({
  /** The place of a student in a hand-in box, where it is in one. */
  placeId: Id.nullable(),
  folderId: Id,
  description: z.string(),
  /** What was made of the content to show it; null where nothing is made of its kind. */
  preview: z
    .object({
      state: z.enum(['waiting', 'done', 'failed']),
      fault: z.enum(['broken', 'password', 'too-large', 'off']).nullable(),
      /** Media type of a form that is shown in place of the content. */
      shown: z.string().nullable(),
    })
    .nullable(),
  /** Whether the viewer may rename it, date it and see its versions. */
  mayChange: z.boolean(),
  /** Folders the viewer may know of, down to the one it lies in; empty when only the item was handed out. */
  crumbs: z.array(Crumb),
});
export type PlacementView = z.infer<typeof PlacementView>;

/** `inline` shows the content where that is safe, `attachment` downloads it. */
export const ContentQuery = z.object({
  as: z.enum(['inline', 'attachment']).default('attachment'),
  /** Of a page: as Markdown, in place of HTML. */
  form: z.literal('markdown').optional(),
  /** An earlier version, for those who may change the item. */
  version: Id.optional(),
  /** The number of the version that is being read: refused (`changed-since`) once there is a newer one. */
  of: z.coerce.number().int().optional(),
});

/** One state of a file, for those who may change it. */
export const Version = z.object({
  id: Id,
  number: z.number().int(),
  size: z.number().int(),
  mediaType: z.string(),
  originalName: z.string(),
  createdAt: Instant,
  createdBy: z.string(),
});
export type Version = z.infer<typeof Version>;
export const Versions = z.object({ versions: z.array(Version) });
export type Versions = z.infer<typeof Versions>;
export const BringBack = z.object({ versionId: Id });

/** A part of a reader: a folder, with what is in it. */
export const ReaderPart = z.object({
  folderId: Id,
  title: z.string(),
  mark: z.string().nullable(),
  /** 0 for the folder that is read, 1 for those in it, and so on. */
  depth: z.number().int(),
  items: z.array(ItemRow),
});
export type ReaderPart = z.infer<typeof ReaderPart>;
/** A folder with all below it, as one reads it: what is in a folder, then the folders in it. */
export const Reader = z.object({
  parts: z.array(ReaderPart),
  /** Whether there is more than what is listed. */
  cut: z.boolean(),
});
export type Reader = z.infer<typeof Reader>;

/**
 * The order in which a page shows a folder, when it wants to be told of what changes in it; or whether it shows all below it
 * too (`below`).
 */
export const LiveQuery = ContentsQuery.pick({ order: true }).extend({
  below: z.stringbool().optional(),
});

/** Told to pages that show a folder, when it or its first page of contents has changed. */
export const FolderNews = z.object({ folder: FolderView, contents: Contents });
export type FolderNews = z.infer<typeof FolderNews>;

/** Reading for oneself, at a door, and as somebody else would. */
export const READING_SCOPED = {
  'GET /folders/:folder': {
    summary: 'A folder: its name, the folders above it, and what may be done in it.',
    params: FolderParams,
    reply: FolderView,
  },
  'GET /folders/:folder/contents': {
    summary: 'The folders and items in a folder, page by page.',
    params: FolderParams,
    query: ContentsQuery,
    reply: Contents,
  },
  'GET /folders/:folder/reader': {
    summary: 'A folder with all below it, in the order in which it is read.',
    params: FolderParams,
    reply: Reader,
  },
  'GET /placements/:placement': {
    summary: 'An item, with the ones before and after it.',
    params: PlacementParams,
    reply: PlacementView,
  },
  'GET /placements/:placement/content': {
    summary: 'The bytes of a file, whole or by range.',
    params: PlacementParams,
    query: ContentQuery,
    reply: media('*/*'),
    errors: ['range-not-there', 'content-missing', 'busy', 'too-slow'],
  },
} as const satisfies RouteMap;

/** Pages that are kept up to date, of one's own and at a door. */
export const READING_LIVE = {
  'GET /folders/:folder/live': {
    summary: 'Events while a folder is open: something in it has changed.',
    params: FolderParams,
    query: LiveQuery,
    reply: EVENTS,
  },
  'GET /placements/:placement/live': {
    summary: 'Events while an item is open: it has changed.',
    params: PlacementParams,
    reply: EVENTS,
  },
} as const satisfies RouteMap;

/** What was opened, by people and through a door. */
export const READING_OPENED = {
  'PUT /placements/:placement/opened': {
    summary: 'Says that one has opened an item.',
    params: PlacementParams,
  },
} as const satisfies RouteMap;

/** Versions. */
export const READING_ROUTES = {
  'GET /api/placements/:placement/versions': {
    summary: 'The versions of a file.',
    params: PlacementParams,
    reply: Versions,
  },
  'POST /api/placements/:placement/versions': {
    summary: 'Makes an older version the newest again.',
    params: PlacementParams,
    body: BringBack,
  },
} as const satisfies RouteMap;
