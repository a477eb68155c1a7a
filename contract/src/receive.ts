import { z } from 'zod';
import { Colour, Id, Instant, Level } from './common.ts';
import { ItemRow } from './reading.ts';

const ClassTab = z.object({ id: Id, code: z.string(), colour: Colour });

export const NewThing = ItemRow.extend({
  /** Null when only the item was handed out. */
  folder: z.object({ id: Id, title: z.string() }).nullable(),
  /** When it came to this person: added, handed out or released, whichever was last. */
  cameAt: Instant,
  classes: z.array(ClassTab),
});
export type NewThing = z.infer<typeof NewThing>;

/** What came in, newest first. */
export const NewThings = z.object({
  things: z.array(NewThing),
  unopened: z.number().int(),
  /** Whether a mail tells each day what is new; null for whoever has no mail address. */
  digest: z.boolean().nullable(),
});
export type NewThings = z.infer<typeof NewThings>;

const CountedFolder = z.object({
  id: Id,
  title: z.string(),
  mark: z.string().nullable(),
  /** Items in it and below that the asker sees, and how many of them they have not opened. */
  items: z.number().int(),
  unopened: z.number().int(),
});

/** A folder that was handed out, with the folders directly in it. */
export const HandedFolder = CountedFolder.extend({ folders: z.array(CountedFolder) });
export type HandedFolder = z.infer<typeof HandedFolder>;

export const MyClass = z.object({
  id: Id,
  code: z.string(),
  colour: Colour,
  course: z.string(),
  teachers: z.array(z.string()),
  folders: z.array(HandedFolder),
});
export type MyClass = z.infer<typeof MyClass>;

/** Class pages, and the folders that were handed out to this person alone. */
export const MyClasses = z.object({ classes: z.array(MyClass), forMe: z.array(HandedFolder) });
export type MyClasses = z.infer<typeof MyClasses>;

export const DigestChoice = z.object({ digest: z.boolean() });

/** The folders of colleagues that were handed out to staff, or to the asker by name. */
export const StaffRoom = z.object({
  folders: z.array(
    z.object({
      id: Id,
      title: z.string(),
      mark: z.string().nullable(),
      ownerName: z.string(),
      right: Level,
      items: z.number().int(),
      folders: z.number().int(),
    }),
  ),
});
export type StaffRoom = z.infer<typeof StaffRoom>;

/** Whom a teacher sees their things as. */
export const SeenAs = z.object({ name: z.string(), staff: z.boolean() });
export type SeenAs = z.infer<typeof SeenAs>;
