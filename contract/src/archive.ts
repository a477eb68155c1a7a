import { z } from 'zod';

const THING = String.raw`(?:folder|placement)\.[0-9a-f-]{36}`;

/** Folders and placements to take along in one archive, as `folder.<id>,placement.<id>`. */
export const ArchiveQuery = z.object({
  things: z
    .string()
    .max(10_000)
    .regex(new RegExp(`^${THING}(?:,${THING}){0,199}$`, 'u')),
});
