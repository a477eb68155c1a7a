import { z } from 'zod';
import { Colour, Id } from './common.ts';
import { type RouteMap } from './route.ts';
import { Invited, Slips } from './roster.ts';

export const PersonKind = z.enum(['teacher', 'student', 'office']);
export type PersonKind = z.infer<typeof PersonKind>;

/**
 * How somebody comes in: with a password of their own, by a first one that they have been given, by an invitation, not yet, or not any
 * more.
 */
export const PersonAccess = z.enum(['ready', 'first', 'invited', 'none', 'ended']);

/** A person as the office sees them. */
export const PersonRow = z.object({
  id: Id,
  kind: PersonKind,
  name: z.string(),
  email: z.string().nullable(),
  signInName: z.string().nullable(),
  access: PersonAccess,
  /** Whether they sign in by a second step. */
  secondStep: z.boolean(),
  /** Of students their classes, of teachers their courses, as far as the year is open. */
  belongs: z.array(z.object({ id: Id, label: z.string(), colour: Colour })),
});
export type PersonRow = z.infer<typeof PersonRow>;

export const PEOPLE_PAGE = 100;
export const People = z.object({
  people: z.array(PersonRow),
  /** Where the next page begins; null on the last one. */
  next: Id.nullable(),
  /** Whether mails go out: else nobody can be invited by one. */
  mails: z.boolean(),
});
export type People = z.infer<typeof People>;

const Name = z.string().trim().min(1).max(120);
const Email = z.email().max(254).toLowerCase();
const PersonParams = z.object({ person: Id });
const Some = z.object({ people: z.array(Id).min(1).max(1000) });

export const NewPerson = z.object({ kind: PersonKind, name: Name, email: Email.nullable() });

/** What changes of a person. A student stays one: who is a teacher by now has an account of their own. */
export const PersonChange = z
  .object({ name: Name, email: Email.nullable(), kind: z.enum(['teacher', 'office']) })
  .partial();
export type PersonChange = z.infer<typeof PersonChange>;

/** What a teacher has that a colleague can be given. */
export const PersonThings = z.object({
  folders: z.number().int(),
  items: z.number().int(),
  /** Those of open years that nobody else teaches. */
  courses: z.array(z.object({ id: Id, label: z.string(), colour: Colour })),
});
export type PersonThings = z.infer<typeof PersonThings>;

/** What becomes of another record of a person when it is merged into theirs. */
export const Merging = z.object({
  /** The codes of the classes on whose lists both are. */
  classes: z.array(z.string()),
  /** Hand-in boxes in which both have a place with something in it. */
  boxes: z.number().int(),
  /** What the other record has of its own. */
  folders: z.number().int(),
  items: z.number().int(),
  /** What the person signs in with from then on; null where neither record has an address or a name for it. */
  signIn: z.string().nullable(),
  /** Whose password that takes: that of the record that stays, of the other one, or nobody has one yet. */
  password: z.enum(['own', 'other', 'none']),
  /** Whether both are on lists of another system, which would bring the other one back. */
  listed: z.boolean(),
});
export type Merging = z.infer<typeof Merging>;

/** What goes when somebody is erased, and what stays with whom. */
export const Erasure = z.object({
  /** Whether they have what goes to a colleague first: a library, or entries on the pages of classes. */
  first: z.boolean(),
  /** On their desk, its Bin too. */
  folders: z.number().int(),
  items: z.number().int(),
  /** Things in places of hand-in boxes. */
  handedIn: z.number().int(),
  /** Things that they have put into folders of others, and whose they will be. */
  stays: z.array(z.object({ name: z.string(), items: z.number().int() })),
  /** Whether they are on a list of another system, which would bring them back. */
  listed: z.boolean(),
});
export type Erasure = z.infer<typeof Erasure>;

/** The people of a school, for the office. */
export const PEOPLE_ROUTES = {
  'GET /api/people': {
    summary: 'The people of the school by name, for the office: those in whom all words are found.',
    query: z.object({
      words: z.string().max(200).optional(),
      kind: PersonKind.optional(),
      /** Those who cannot come in any more, in place of all others. */
      ended: z.enum(['true', 'false']).optional(),
      /** The last person of the page before. */
      after: Id.optional(),
    }),
    reply: People,
  },
  'GET /api/people/:person': {
    summary: 'A person of the school, for the office.',
    params: PersonParams,
    reply: PersonRow,
  },
  'POST /api/people': {
    summary: 'Adds somebody to the school.',
    body: NewPerson,
    status: 201,
    reply: z.object({ id: Id }),
    errors: ['email-taken'],
  },
  'PATCH /api/people/:person': {
    summary: 'Changes the name, the email address or what somebody does at the school.',
    params: PersonParams,
    body: PersonChange,
    errors: ['email-taken', 'last-office', 'kind-fixed'],
  },
  'POST /api/people/invitations': {
    summary: 'Invites people by email to choose a password.',
    body: Some,
    reply: Invited,
  },
  'POST /api/people/slips': {
    summary: 'Gives people first passwords, to be printed: shown this once.',
    body: Some,
    reply: Slips,
  },
  'PUT /api/people/:person/deactivated': {
    summary:
      'Lets somebody in no more: their sessions, passwords for programs, feeds and public addresses end. What is theirs stays.',
    params: PersonParams,
    errors: ['last-office'],
  },
  'DELETE /api/people/:person/second-step': {
    summary:
      'Turns off the second step of somebody who has lost their phone and recovery codes. Their sessions end.',
    params: PersonParams,
  },
  'GET /api/people/:person/things': {
    summary: 'How much a teacher has, and the courses that nobody else teaches.',
    params: PersonParams,
    reply: PersonThings,
  },
  'POST /api/people/:person/hand-over': {
    summary:
      'Gives all that a teacher has to a colleague: their library, in a folder of its own, their entries and public addresses, and the courses that nobody else teaches. Whoever sees it goes on seeing it.',
    params: PersonParams,
    body: z.object({ to: Id }),
    status: 201,
    reply: z.object({ id: Id }),
    errors: ['too-deep'],
  },
  'GET /api/people/:person/erasure': {
    summary:
      'What goes when somebody who cannot come in any more is erased, and what stays with whom.',
    params: PersonParams,
    reply: Erasure,
    errors: ['still-active'],
  },
  'DELETE /api/people/:person': {
    summary:
      'Erases somebody who cannot come in any more: their account, what is recorded about them and their own work. It cannot be undone.',
    params: PersonParams,
    errors: ['still-active', 'things-first'],
  },
  'GET /api/people/:person/merge': {
    summary: 'What becomes of another record of the same person when it is merged into this one.',
    params: PersonParams,
    query: z.object({ other: Id }),
    reply: Merging,
    errors: ['kinds-differ'],
  },
  'POST /api/people/:person/merge': {
    summary:
      'Merges another record of the same person into this one: all that is of the other is of this one from then on, and the other is gone. It cannot be undone.',
    params: PersonParams,
    body: z.object({ other: Id }),
    errors: ['kinds-differ', 'too-deep'],
  },
  'DELETE /api/hand-overs/:handOver': {
    summary: 'Gives it back, but for what the colleague has put elsewhere.',
    params: z.object({ handOver: Id }),
    errors: ['name-taken'],
  },
  'DELETE /api/people/:person/deactivated': {
    summary: 'Lets somebody in again, with the public addresses that they had.',
    params: PersonParams,
  },
} as const satisfies RouteMap;
