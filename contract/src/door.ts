import { z } from 'zod';
import { Id, Instant, Thing, TokenParams } from './common.ts';
import { KeepQuery } from './preview.ts';
import { media, type RouteMap } from './route.ts';
import { Language } from './session.ts';

/** What somebody who asks to see something writes to its owner. */
export const Message = z.string().trim().max(500).default('');
/** Somebody without an account, who asks from outside; the answer goes to the address. */
export const Visitor = z.object({
  name: z.string().trim().min(1).max(80),
  email: z.email().max(200),
  language: Language,
});
export type Visitor = z.infer<typeof Visitor>;
/** `visitor` for whoever has not signed in, and only for them. */
export const DoorRequest = z.object({ message: Message, visitor: Visitor.optional() });

/**
 * Whether whoever is before a wall can ask to be let in: `asked` while that is open, `visitor` for those who have to say who
 * they are.
 */
export const Asking = z.enum(['may', 'asked', 'visitor']);
export type Asking = z.infer<typeof Asking>;

/** What is behind an address: the folder, item or class website to open, or the wall with its reason. */
export const DoorState = z.discriminatedUnion('state', [
  z.object({
    state: z.literal('open'),
    schoolName: z.string(),
    folderId: Id.nullable(),
    placementId: Id.nullable(),
    /** Whether it is the website of a class. */
    website: z.boolean(),
    /** What visitors read first. */
    coverText: z.string(),
    /** Whether feed readers find what is added here: at a public door without a word. */
    feed: z.boolean(),
    /** Whether the viewer is a student of this school, who can keep things and take copies. */
    takes: z.boolean(),
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
    from: Instant.nullable(),
    ask: Asking.nullable(),
  }),
]);
export type DoorState = z.infer<typeof DoorState>;

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
  /** What visitors read first. */
  coverText: z.string(),
  /** Whether search engines may list it. */
  listed: z.boolean(),
});
export type Door = z.infer<typeof Door>;

export const NewDoor = z.object({
  thing: Thing,
  kind: z.enum(['public', 'school']),
  until: Instant.nullable().default(null),
});
export const DoorParams = z.object({ door: Id });

/** A door with what lies behind it, for the list of all doors and for printed cards. */
export const ListedDoor = Door.extend({
  title: z.string(),
  folderId: Id.nullable(),
  placementId: Id.nullable(),
  /** The class whose website it opens. */
  classId: Id.nullable(),
});
export type ListedDoor = z.infer<typeof ListedDoor>;
export const Doors = z.object({ doors: z.array(ListedDoor) });
export type Doors = z.infer<typeof Doors>;

/** What of a door is to be different; an empty `word` takes the word away. */
export const DoorChange = z.object({
  until: Instant.nullable().optional(),
  word: z.string().trim().max(100).optional(),
  /** Gives it a sayable address, or takes that away. */
  short: z.boolean().optional(),
  coverText: z.string().trim().max(2000).optional(),
  listed: z.boolean().optional(),
  /** Gives it another address: the old one leads to the wall at once. */
  renew: z.literal(true).optional(),
});
export type DoorChange = z.infer<typeof DoorChange>;

/** A request for what shows a public address on another website, as oEmbed 1.0 asks it; sizes are in pixels. */
export const OembedQuery = z.object({
  url: z.string().max(500),
  maxwidth: z.coerce.number().int().positive().optional(),
  maxheight: z.coerce.number().int().positive().optional(),
  format: z.string().max(20).default('json'),
});
/** The answer, of the type `rich`. */
export const Oembed = z.object({
  version: z.literal('1.0'),
  type: z.literal('rich'),
  title: z.string(),
  provider_name: z.string(),
  provider_url: z.string(),
  /** The frame to be put in place of the address. */
  html: z.string(),
  width: z.number().int(),
  height: z.number().int(),
});

export const DoorWord = z.object({ word: z.string().max(100) });
export const CodeParams = DoorParams.extend({ form: z.enum(['svg', 'png']) });

/** A sayable address as somebody typed it. */
export const ShortParams = z.object({ typed: z.string().min(1).max(100) });
export const ShortTo = z.object({ path: z.string() });
export type ShortTo = z.infer<typeof ShortTo>;

/** Doors, from both sides: whoever opens and closes them, and whoever comes to them. */
export const DOOR_ROUTES = {
  'GET /api/doors': {
    summary: 'The doors to what one owns or manages.',
    reply: Doors,
  },
  'POST /api/doors': {
    summary: 'Opens a door to a folder or an item.',
    body: NewDoor,
    reply: Door,
    status: 201,
    errors: ['already-handed-out'],
  },
  'PATCH /api/doors/:door': {
    summary: 'Changes a door: short address, password, end, welcome, or its token.',
    params: DoorParams,
    body: DoorChange,
    reply: Door,
    errors: ['already-handed-out'],
  },
  'DELETE /api/doors/:door': {
    summary: 'Closes a door.',
    params: DoorParams,
  },
  'POST /api/doors/:door/reopen': {
    summary: 'Undoes closing a door.',
    params: DoorParams,
    reply: Door,
    errors: ['already-handed-out'],
  },
  'GET /api/doors/:door/code.:form': {
    summary: 'The QR code of a door.',
    params: CodeParams,
    query: KeepQuery,
    reply: media('image/svg+xml', 'image/png'),
  },
  'GET /api/open/:token': {
    summary: 'What is behind a door, or why it does not open.',
    params: TokenParams,
    reply: DoorState,
  },
  'GET /api/open/:token/atom.xml': {
    summary: 'The news of what is behind a door, as a feed.',
    params: TokenParams,
    reply: media('application/atom+xml'),
  },
  'POST /api/open/:token/word': {
    summary: 'Gives the password of a door.',
    params: TokenParams,
    body: DoorWord,
    errors: ['too-many-tries', 'wrong-word'],
  },
  'POST /api/open/:token/requests': {
    summary: 'Asks, as a visitor, to see what is behind a door that does not open.',
    params: TokenParams,
    body: DoorRequest,
    errors: ['asked-enough', 'too-many-tries'],
  },
  'GET /api/oembed': {
    summary: 'What shows a public address on another website (oEmbed 1.0, JSON only).',
    query: OembedQuery,
    reply: Oembed,
    errors: ['json-only'],
  },
  'GET /api/at/:typed': {
    summary: 'The door that a short address leads to.',
    params: ShortParams,
    reply: ShortTo,
    errors: ['too-many-tries', 'no-such-address'],
  },
} as const satisfies RouteMap;
