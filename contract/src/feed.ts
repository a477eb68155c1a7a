import { z } from 'zod';
import { Id } from './common.ts';

/**
 * An address for programs of a person's own, open to whoever has it until it is closed: a feed (Atom, RFC 4287) of what
 * comes by one of their classes, or the calendar (iCalendar, RFC 5545) of what goes out from their library.
 */
export const Feed = z.object({
  id: Id,
  /** Null for the calendar. */
  classId: Id.nullable(),
  address: z.string(),
});
export type Feed = z.infer<typeof Feed>;
export const Feeds = z.object({ feeds: z.array(Feed) });
export type Feeds = z.infer<typeof Feeds>;
export const NewFeed = z.object({ classId: Id.nullable() });
export const FeedParams = z.object({ feed: Id });
export const FeedToken = z.object({ token: z.string().max(100) });
