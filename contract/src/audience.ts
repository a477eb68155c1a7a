import { z } from 'zod';
import { Colour, Id, Instant } from './common.ts';
import { Crumb } from './reading.ts';

export const Effect = z.object({
  /** Null where nobody can count them: anyone with an address. */
  people: z.number().int().nullable(),
  items: z.number().int(),
  folders: z.number().int(),
});
export type Effect = z.infer<typeof Effect>;
const LaterEffect = Effect.extend({ from: Instant });

/** What a change does for one audience; computed by core/consequence. */
export const Consequence = z.object({
  gains: Effect.nullable(),
  loses: Effect.nullable(),
  gainsLater: LaterEffect.nullable(),
  losesLater: LaterEffect.nullable(),
  /** Whether it wants a question first. */
  asks: z.boolean(),
});
export type Consequence = z.infer<typeof Consequence>;

/** One audience beside a folder: whether it sees the folder, whence that comes, and what changing it would do. */
export const AudienceRow = z.object({
  kind: z.enum(['class', 'course', 'person', 'staff', 'school', 'public', 'school-door']),
  id: Id,
  label: z.string(),
  colour: Colour.nullable(),
  people: z.number().int().nullable(),
  state: z.enum(['none', 'out', 'later', 'held', 'ended']),
  from: Instant.nullable(),
  /** The handing out on this very folder, for taking back; the door for a public row. */
  here: z.object({ id: Id, address: z.string().nullable() }).nullable(),
  /** Folders above on which it was handed out. */
  above: z.array(Crumb),
  change: Consequence,
});
export type AudienceRow = z.infer<typeof AudienceRow>;

export const FolderAudience = z.object({
  /** Distinct students who see the folder now. */
  students: z.number().int(),
  classes: z.number().int(),
  rows: z.array(AudienceRow),
  /** Items in this folder that are public by another way. */
  publicElsewhere: z.array(z.object({ placementId: Id, title: z.string(), folder: Crumb })),
});
export type FolderAudience = z.infer<typeof FolderAudience>;

export const HandOut = z.object({
  folderId: Id,
  audience: z.object({ kind: z.enum(['class', 'course', 'person', 'staff', 'school']), id: Id }),
});
export const HandedOut = z.object({ id: Id });

export const NewDoor = z.object({ folderId: Id, kind: z.enum(['public', 'school']) });
export const Door = z.object({ id: Id, address: z.string() });
export type Door = z.infer<typeof Door>;

export const GrantParams = z.object({ grant: Id });
export const DoorParams = z.object({ door: Id });
