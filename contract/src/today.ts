import { z } from 'zod';
import { Colour, Id, Instant, Thing } from './common.ts';
import { FeedToken } from './feed.ts';
import { SentNote } from './note.ts';
import { RequestView } from './request.ts';
import { media, type RouteMap } from './route.ts';

/** Something that goes out or ends in the next days. */
export const ScheduledChange = z.object({
  at: Instant,
  what: z.enum(['out', 'ends']),
  thing: Thing,
  title: z.string(),
  /** The folder it lies in; null at the top. */
  place: z.string().nullable(),
  /** For this class only, or to this audience; empty for all. */
  for: z.array(z.object({ label: z.string(), colour: Colour.nullable() })),
});
export type ScheduledChange = z.infer<typeof ScheduledChange>;

/** Something that a teacher may want to look at. */
export const Flag = z.object({
  kind: z.enum(['public', 'nobody', 'shut', 'held-long', 'empty-class']),
  thing: Thing.nullable(),
  classId: Id.nullable(),
  title: z.string(),
  /** The word that makes something public look confidential. */
  word: z.string().nullable(),
});
export type Flag = z.infer<typeof Flag>;

export const Added = z.object({
  thing: Thing,
  title: z.string(),
  folder: z.object({ id: Id, title: z.string() }),
  byName: z.string().nullable(),
  at: Instant,
});
export type Added = z.infer<typeof Added>;

/** Something of one's own that somebody else has removed, and that is in one's Bin. */
export const RemovedByOther = z.object({
  thing: Thing,
  title: z.string(),
  byName: z.string(),
  /** Items in a folder and below. */
  items: z.number().int(),
  at: Instant,
});
export type RemovedByOther = z.infer<typeof RemovedByOther>;

/** What a teacher wants to know when the day begins. */
export const Today = z.object({
  scheduled: z.array(ScheduledChange),
  requests: z.array(RequestView),
  flags: z.array(Flag),
  /** Cover notes some of whose mails did not arrive, or are still being tried. */
  notes: z.array(SentNote),
  added: z.array(Added),
  removed: z.array(RemovedByOther),
});
export type Today = z.infer<typeof Today>;

/** What a teacher finds in the morning. */
export const TODAY_ROUTES = {
  'GET /api/today': {
    summary: 'What a teacher should know today.',
    reply: Today,
  },
  // Whoever has the address needs no session: calendar programs have none.
  'GET /api/feeds/:token/calendar.ics': {
    summary: 'What goes out and ends, as a calendar.',
    params: FeedToken,
    reply: media('text/calendar'),
  },
} as const satisfies RouteMap;
