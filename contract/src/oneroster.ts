import { z } from 'zod';

export const ImportQuery = z.object({
  /** Without it nothing is done; the reply says what would be. */
  take: z.enum(['yes', 'no']).default('no'),
  /** Whether members who are not in the files leave the classes that are. */
  leave: z.enum(['yes', 'no']).default('no'),
});

/** What taking in a roster does, or would do. */
export const ImportedRoster = z.object({
  courses: z.object({ made: z.number().int(), known: z.number().int() }),
  classes: z.object({ made: z.number().int(), known: z.number().int() }),
  people: z.object({ made: z.number().int(), known: z.number().int() }),
  joined: z.number().int(),
  left: z.number().int(),
  /** The first lines that cannot be taken, and how many there are. */
  faults: z.array(
    z.object({ file: z.string(), line: z.number().int(), fault: z.string(), what: z.string() }),
  ),
  faultCount: z.number().int(),
});
export type ImportedRoster = z.infer<typeof ImportedRoster>;
