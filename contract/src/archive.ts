import { z } from 'zod';
import { FolderParams, ID_PATTERN } from './common.ts';
import { media, type RouteMap } from './route.ts';

const THING = `(?:folder|placement)\\.${ID_PATTERN}`;

/** Folders and placements to take along in one archive, as `folder.<id>,placement.<id>`. */
export const ArchiveQuery = z.object({
  things: z
    .string()
    .max(10_000)
    .regex(new RegExp(`^${THING}(?:,${THING}){0,199}$`, 'u')),
});

/**
 * Hand-in boxes of which everything is taken along, by their ids, with commas between them; without any, a student takes along all that
 * they have handed in.
 */
export const BoxArchiveQuery = z.object({
  boxes: z
    .string()
    .max(10_000)
    .regex(new RegExp(`^${ID_PATTERN}(?:,${ID_PATTERN}){0,29}$`, 'u'))
    .optional(),
});

const ZIP = media('application/zip');

export const ARCHIVE_ROUTES = {
  'GET /api/account/held': {
    summary:
      'All that is held about whoever asks, as one archive: their own folders and files, what they have handed in, and the records about them as JSON.',
    reply: ZIP,
  },
  'GET /api/box-archive': {
    summary:
      'Everything in the places of hand-in boxes as one archive: for teachers with a folder for each class, in it one for each student; for a student with one for each box.',
    query: BoxArchiveQuery,
    reply: ZIP,
  },
} as const satisfies RouteMap;

/** For oneself, at a door, and as somebody else would. */
export const ARCHIVE_SCOPED = {
  'GET /folders/:folder/archive': {
    summary: 'A folder and everything visible below it as one archive.',
    params: FolderParams,
    reply: ZIP,
  },
  'GET /archive': {
    summary: 'Chosen folders and files as one archive.',
    query: ArchiveQuery,
    reply: ZIP,
  },
} as const satisfies RouteMap;
