import { z } from 'zod';
import { ID_PATTERN } from './common.ts';

const THING = `(?:folder|placement)\\.${ID_PATTERN}`;

/** Folders and placements to take along in one archive, as `folder.<id>,placement.<id>`. */
export const ArchiveQuery = z.object({
  things: z
    .string()
    .max(10_000)
    .regex(new RegExp(`^${THING}(?:,${THING}){0,199}$`, 'u')),
});
