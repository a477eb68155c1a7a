import { z } from 'zod';
import { Id, Instant } from './common.ts';
import { type RouteMap } from './route.ts';

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

/** The simulated post: what would have been sent by mail. */
export const POST_ROUTES = {
  'GET /api/post-room': {
    summary: 'The emails that the simulated mail server has received.',
    reply: PostRoom,
  },
} as const satisfies RouteMap;
