import { z } from 'zod';
import { Colour, Id } from './common.ts';
import { type RouteMap } from './route.ts';

export const FileKind = z.enum(['pdf', 'picture', 'office', 'sound', 'video', 'text', 'other']);
export type FileKind = z.infer<typeof FileKind>;

const Share = z.object({ size: z.number().int(), files: z.number().int() });

/** What a teacher's files take up, in bytes; each content is counted once, with all versions and the Bin. */
export const Space = z.object({
  used: z.number().int(),
  quota: z.number().int(),
  kinds: z.array(Share.extend({ kind: FileKind })),
  /** By the course to which they are handed out; null: to none. */
  courses: z.array(Share.extend({ title: z.string().nullable(), colour: Colour.nullable() })),
  /** By the school year of that course or of the folder; null: of none. */
  years: z.array(Share.extend({ label: z.string().nullable() })),
  largest: z.array(
    z.object({
      placementId: Id.nullable(),
      title: z.string(),
      extension: z.string(),
      size: z.number().int(),
      versions: z.number().int(),
      /** The folder it lies in; null when it lies nowhere but in the Bin. */
      folder: z.object({ id: Id, title: z.string() }).nullable(),
    }),
  ),
  /** What lies nowhere but in the Bin. */
  unplaced: Share,
});
export type Space = z.infer<typeof Space>;

/** What takes up room. */
export const SPACE_ROUTES = {
  'GET /api/space': {
    summary: 'How much room one’s files take, and which take the most.',
    reply: Space,
  },
} as const satisfies RouteMap;
