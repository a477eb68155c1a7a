import { z } from 'zod';
import { Id, Instant, Thing } from './common.ts';

export const TokenParams = z.object({ token: z.string().min(1).max(200) });
export const TokenFolderParams = TokenParams.extend({ folder: Id });
export const TokenPlacementParams = TokenParams.extend({ placement: Id });

/** What stands behind an address: the folder to open, or the wall with its reason. */
export const Behind = z.discriminatedUnion('state', [
  z.object({
    state: z.literal('open'),
    schoolName: z.string(),
    folderId: Id.nullable(),
    placementId: Id.nullable(),
  }),
  z.object({
    state: z.literal('wall'),
    /** `unknown`: no such address. `sign-in`: for people of the school. `other-school`: signed in elsewhere. */
    reason: z.enum([
      'unknown',
      'closed',
      'ended',
      'later',
      'held',
      'sign-in',
      'other-school',
      'word',
    ]),
    schoolName: z.string().nullable(),
    /** When it opens, with `later`. */
    from: z.iso.datetime().nullable(),
  }),
]);
export type Behind = z.infer<typeof Behind>;

/** A door as whoever manages its folder or item sees it. */
export const Door = z.object({
  id: Id,
  kind: z.enum(['public', 'school']),
  address: z.string(),
  /** The sayable address, where it has one. */
  shortAddress: z.string().nullable(),
  until: Instant.nullable(),
  /** Whether a word has to be given at it. */
  hasWord: z.boolean(),
});
export type Door = z.infer<typeof Door>;

export const NewDoor = z.object({
  thing: Thing,
  kind: z.enum(['public', 'school']),
  until: Instant.nullable().default(null),
});
export const DoorParams = z.object({ door: Id });
