import { z } from 'zod';
import { Colour, Id } from './common.ts';
import { FolderRow } from './reading.ts';

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

/** All folders of the asker, in the order they stand. */
export const Tree = z.object({ folders: z.array(TreeFolder) });
export type Tree = z.infer<typeof Tree>;

export const NewFolder = z.object({
  parentId: Id.nullable(),
  title: z.string().max(400),
});
export const MadeFolder = z.object({ id: Id });

/** Puts an item that lies at `placementId` into one more folder. */
export const NewPlacement = z.object({ placementId: Id, folderId: Id });
export const MadePlacement = z.object({ id: Id });
export type MadePlacement = z.infer<typeof MadePlacement>;

/** Top folders with their tabs, for the first screen of the Library. */
export const TopFolders = z.object({ folders: z.array(FolderRow) });
export type TopFolders = z.infer<typeof TopFolders>;
