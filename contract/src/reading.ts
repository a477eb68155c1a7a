import { z } from 'zod';
import { Colour, Id, Instant, Right, Tab } from './common.ts';

export const Crumb = z.object({ id: Id, title: z.string() });
export type Crumb = z.infer<typeof Crumb>;

export const FolderOrder = z.enum(['hand', 'a_to_z', 'lesson_date', 'newest']);

/** A folder as the asker may know it; `crumbs` start at the folder that was handed out. */
export const FolderView = z.object({
  id: Id,
  title: z.string(),
  mark: z.string().nullable(),
  colour: Colour.nullable(),
  order: FolderOrder,
  right: Right,
  ownerName: z.string(),
  crumbs: z.array(Crumb),
});
export type FolderView = z.infer<typeof FolderView>;

export const FolderRow = z.object({
  id: Id,
  title: z.string(),
  mark: z.string().nullable(),
  colour: Colour.nullable(),
  /** Items in it that the asker sees, folders below not counted. */
  items: z.number().int(),
  folders: z.number().int(),
  /** For those who own or manage it. */
  tabs: z.array(Tab).optional(),
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
  lessonDate: z.iso.date().nullable(),
  /** When this state of it came here. */
  changedAt: Instant,
  url: z.string().nullable(),
  /** For students: whether they have opened or downloaded the newest state. */
  opened: z.boolean(),
  /** For those who own or manage the folder. */
  tabs: z.array(Tab).optional(),
  /** Other folders of the asker in which the same item lies. */
  alsoIn: z.array(Crumb).optional(),
});
export type ItemRow = z.infer<typeof ItemRow>;

export const ContentsQuery = z.object({
  after: Id.optional(),
  limit: z.coerce.number().int().min(1).max(200).default(100),
});

/** One page of a folder: its folders stand on the first page, `next` is the cursor of the page after. */
export const Contents = z.object({
  folders: z.array(FolderRow),
  items: z.array(ItemRow),
  next: Id.nullable(),
});
export type Contents = z.infer<typeof Contents>;

export const PlacementView = ItemRow.extend({
  folderId: Id,
  description: z.string(),
  /** Folders the asker may know of, down to the one it lies in; empty when only the item was handed out. */
  crumbs: z.array(Crumb),
});
export type PlacementView = z.infer<typeof PlacementView>;

/** `inline` shows the content where that is safe, `attachment` downloads it. */
export const ContentQuery = z.object({
  as: z.enum(['inline', 'attachment']).default('attachment'),
});
