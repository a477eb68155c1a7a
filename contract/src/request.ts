import { z } from 'zod';
import { HandedUndo } from './audience.ts';
import { Colour, FolderParams, Id, Instant, PlacementParams, Thing } from './common.ts';
import { Asking, Message } from './door.ts';
import { type RouteMap } from './route.ts';

/** Asks to see something that lies behind an address of the school, or behind a door. */
export const NewRequest = z.object({ thing: Thing, message: Message });

/** What somebody reads at a school address behind which there is something, but not for them. */
export const Wall = z.object({
  schoolName: z.string(),
  ownerName: z.string(),
  /** Class codes, course titles and the like; empty when it is handed out to nobody. */
  forWhom: z.array(z.string()),
  /** It is for them, but not out yet. */
  later: z.boolean(),
  ask: Asking,
});
export type Wall = z.infer<typeof Wall>;

/** Somebody asks the owner to see something. */
export const RequestView = z.object({
  id: Id,
  person: z.object({ name: z.string(), kind: z.enum(['teacher', 'student', 'office', 'visitor']) }),
  /** Where the answer to a visitor goes. */
  email: z.string().nullable(),
  /** The classes of the person that the owner teaches. */
  classes: z.array(z.object({ id: Id, code: z.string(), colour: Colour })),
  thing: Thing,
  title: z.string(),
  message: z.string(),
  askedAt: Instant,
});
export type RequestView = z.infer<typeof RequestView>;

export const RequestParams = z.object({ request: Id });

/** The one answer: to this person, to a class of theirs, to a visitor a link that is open to all, or no. */
export const Answer = z.discriminatedUnion('answer', [
  z.object({ answer: z.literal('person') }),
  z.object({ answer: z.literal('class'), classId: Id }),
  z.object({ answer: z.literal('link') }),
  z.object({ answer: z.literal('no') }),
]);
export type Answer = z.infer<typeof Answer>;
/** What was handed out by it, for Undo; and the door that was opened. */
export const Answered = HandedUndo.extend({ doorId: Id.nullable() });
export type Answered = z.infer<typeof Answered>;

/** Asking to see something, and the answers. */
export const REQUEST_ROUTES = {
  'GET /api/folders/:folder/wall': {
    summary: 'Why a folder does not open, and what one can do.',
    params: FolderParams,
    reply: Wall,
  },
  'GET /api/placements/:placement/wall': {
    summary: 'Why an item does not open, and what one can do.',
    params: PlacementParams,
    reply: Wall,
  },
  'POST /api/requests': {
    summary: 'Asks the owner to see a folder or an item.',
    body: NewRequest,
    errors: ['asked-enough'],
  },
  'POST /api/requests/:request/answer': {
    summary: 'Answers a request.',
    params: RequestParams,
    body: Answer,
    reply: Answered,
    errors: ['already-handed-out', 'audience-unknown', 'answered-already'],
  },
  'POST /api/requests/:request/reopen': {
    summary: 'Undoes an answer.',
    params: RequestParams,
    errors: ['answered-already'],
  },
} as const satisfies RouteMap;
