import { z } from 'zod';
import { Id, Instant } from './common.ts';

/** What the stand-in mail server of the sample school has taken in, newest first. */
export const PostRoom = z.object({
  letters: z.array(
    z.object({
      id: Id,
      sender: z.string(),
      recipient: z.string(),
      subject: z.string(),
      body: z.string(),
      receivedAt: Instant,
    }),
  ),
});
export type PostRoom = z.infer<typeof PostRoom>;
