import { z } from 'zod';
import {
  Colour,
  Day,
  FolderParams,
  Id,
  PlacementParams,
  THINGS_AT_ONCE,
  Thing,
  Things,
} from './common.ts';
import { FolderDisplay, FolderOrder, FolderRow } from './reading.ts';
import { type RouteMap } from './route.ts';

export const WebAddress = z.url({ protocol: /^https?$/u }).max(2000);

export const TreeFolder = z.object({
  id: Id,
  parentId: Id.nullable(),
  title: z.string(),
  mark: z.string().nullable(),
  colour: Colour.nullable(),
  /** Whether anybody sees it through a handing out or a door. */
  handedOut: z.boolean(),
});
export type TreeFolder = z.infer<typeof TreeFolder>;

/** All folders of the viewer, in the order they stand. */
export const Tree = z.object({ folders: z.array(TreeFolder) });
export type Tree = z.infer<typeof Tree>;

export const NewFolder = z.object({
  parentId: Id.nullable(),
  title: z.string().max(400),
});
export const MadeFolder = z.object({ id: Id });

/** What of a folder is to be different; what is left out stays. */
const YearName = z.object({ id: Id, label: z.string() });
export const FolderYear = z.object({
  /** Null for none. */
  year: YearName.extend({ closed: z.boolean() }).nullable(),
  /** Years that are open. */
  years: z.array(YearName),
});

export const FolderChange = z.object({
  title: z.string().max(400).optional(),
  /** One emoji, or null for none. */
  mark: z.string().max(40).nullable().optional(),
  colour: Colour.nullable().optional(),
  order: FolderOrder.optional(),
  display: FolderDisplay.optional(),
  keepOnTop: z.boolean().optional(),
});
export type FolderChange = z.infer<typeof FolderChange>;

/** What of an item, or of its lying here (`keepOnTop`), is to be different; what is left out stays. */
export const PlacementChange = z.object({
  title: z.string().max(400).optional(),
  lessonDate: Day.nullable().optional(),
  description: z.string().max(2000).optional(),
  url: WebAddress.optional(),
  keepOnTop: z.boolean().optional(),
});
export type PlacementChange = z.infer<typeof PlacementChange>;

/** Moves things into a folder (null: to the top of the library), in front of another thing or to the end. */
export const Move = z.object({ things: Things, to: Id.nullable(), before: Thing.nullable() });
export type Move = z.infer<typeof Move>;

/** Where a thing is: its folder, and its position there. */
export const ThingPosition = Thing.extend({ folderId: Id.nullable(), position: z.number() });
export const Moved = z.object({ from: z.array(ThingPosition) });
export type Moved = z.infer<typeof Moved>;
export const MoveBack = z.object({ from: z.array(ThingPosition).min(1).max(THINGS_AT_ONCE) });

/** Puts the items that lie at these placements into more folders. Where one lies already it is left out. */
export const Placing = z.object({
  placements: z.array(Id).min(1).max(THINGS_AT_ONCE),
  to: z.array(Id).min(1).max(50),
});
export const Placed = z.object({ made: z.array(Id), already: z.number().int() });
export type Placed = z.infer<typeof Placed>;

export const NewLink = z.object({
  folderId: Id,
  url: WebAddress,
  /** Left out, the address gives the title. */
  title: z.string().max(400).optional(),
});
export const MadePlacement = z.object({ id: Id, title: z.string() });
export type MadePlacement = z.infer<typeof MadePlacement>;

/**
 * Folders in folders, by their paths below `parentId` from the top down. What is there already is taken, what is
 * missing is made. The reply names the folder at each path.
 */
export const Paths = z.object({
  parentId: Id.nullable(),
  paths: z
    .array(z.array(z.string().max(400)).min(1).max(40))
    .min(1)
    .max(5000),
});
export const MadePaths = z.object({
  ids: z.array(Id),
  /** The topmost folders that were made, for Undo. */
  made: z.array(Id),
  count: z.number().int(),
});
export type MadePaths = z.infer<typeof MadePaths>;

/** Top folders with their tabs, for the first screen of the Library. */
export const TopFolders = z.object({ folders: z.array(FolderRow) });
export type TopFolders = z.infer<typeof TopFolders>;

/** What stands against putting something in another place. */
export const MOVE_ERRORS = [
  'name-taken',
  'already-here',
  'into-itself',
  'other-library',
  'no-items-on-top',
  'too-deep',
] as const;

/** Folders and what is in them, for those who build. */
export const LIBRARY_ROUTES = {
  'GET /api/library/tree': {
    summary: 'The folders of one’s library.',
    reply: Tree,
  },
  'GET /api/library/top': {
    summary: 'The folders at the top of one’s library.',
    reply: TopFolders,
  },
  'POST /api/folders': {
    summary: 'Makes a folder.',
    body: NewFolder,
    reply: MadeFolder,
    status: 201,
    errors: ['name-not-allowed', 'name-taken', 'too-deep'],
  },
  'POST /api/paths': {
    summary: 'Makes folders by their paths, for folders that are added whole.',
    body: Paths,
    reply: MadePaths,
    errors: ['name-not-allowed', 'name-taken', 'too-deep', 'too-many-folders'],
  },
  'PATCH /api/folders/:folder': {
    summary: 'Changes a folder’s name, mark, colour, order or display, or keeps it on top.',
    params: FolderParams,
    body: FolderChange,
    errors: ['name-not-allowed', 'name-taken', 'too-deep'],
  },
  'GET /api/folders/:folder/year': {
    summary: 'The year of a folder of one’s own library, and the years that it could be of.',
    params: FolderParams,
    reply: FolderYear,
  },
  'PUT /api/folders/:folder/year': {
    summary:
      'Sets the year of a folder, or none. Closing a year closes its folders; so a closed year is neither set nor left here.',
    params: FolderParams,
    body: z.object({ yearId: Id.nullable() }),
    errors: ['year-closed'],
  },
  'PATCH /api/placements/:placement': {
    summary:
      'Changes an item’s title, description, lesson date or address, or keeps it on top here.',
    params: PlacementParams,
    body: PlacementChange,
    errors: ['name-not-allowed', 'name-taken'],
  },
  'POST /api/placements': {
    summary: 'Places items in another folder as well.',
    body: Placing,
    reply: Placed,
    errors: ['name-taken', 'already-here', 'other-library', 'no-items-on-top'],
  },
  'POST /api/links': {
    summary: 'Adds a link.',
    body: NewLink,
    reply: MadePlacement,
    status: 201,
    errors: ['name-not-allowed', 'name-taken', 'too-deep'],
  },
  'POST /api/moves': {
    summary: 'Moves folders and items; replies with where they were, for Undo.',
    body: Move,
    reply: Moved,
    errors: MOVE_ERRORS,
  },
  'POST /api/moves/back': {
    summary: 'Undoes a move.',
    body: MoveBack,
    errors: MOVE_ERRORS,
  },
} as const satisfies RouteMap;
