import { z } from 'zod';
import { Colour, Id } from './common.ts';
import { type RouteMap } from './route.ts';

/** What a teacher's folders are named and laid out with. */
export const NamingSettings = z.object({
  pattern: z.string().max(200),
  outline: z.string().max(20_000),
  purpose: z.string().max(60),
});
export type NamingSettings = z.infer<typeof NamingSettings>;

/** A class that can be laid out for, with what its folders are named by. */
export const LayoutClass = z.object({
  id: Id,
  code: z.string(),
  colour: Colour,
  course: z.string(),
  /** Calendar year its school year begins in. */
  year: z.number().int(),
  students: z.number().int(),
});
export type LayoutClass = z.infer<typeof LayoutClass>;

export const LayoutStart = z.object({
  settings: NamingSettings,
  teacher: z.string(),
  classes: z.array(LayoutClass),
});
export type LayoutStart = z.infer<typeof LayoutStart>;

export const NewLayout = NamingSettings.extend({
  parentId: Id.nullable(),
  classIds: z.array(Id).min(1).max(60),
  handOut: z.boolean(),
});
export type NewLayout = z.infer<typeof NewLayout>;

export const MadeLayout = z.object({
  /** The folder of each class, in the order asked for. */
  folders: z.array(z.object({ classId: Id, folderId: Id, title: z.string() })),
  /** Folders made, all together. */
  count: z.number().int(),
  /** For Undo: the topmost folders that were made, and the new handings out. */
  made: z.array(Id),
  grants: z.array(Id),
});
export type MadeLayout = z.infer<typeof MadeLayout>;

/** The same folders for several classes at once. */
export const LAYOUT_ROUTES = {
  'GET /api/layout': {
    summary: 'What laying out begins with: classes, folders, and the last naming pattern.',
    reply: LayoutStart,
  },
  'POST /api/layout': {
    summary: 'Makes the same folders for several classes, and hands them out.',
    body: NewLayout,
    reply: MadeLayout,
    errors: [
      'name-not-allowed',
      'name-taken',
      'already-handed-out',
      'audience-unknown',
      'layout-faults',
      'too-deep',
      'too-many-folders',
    ],
  },
} as const satisfies RouteMap;
