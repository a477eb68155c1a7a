import type { FastifyReply, FastifyRequest } from 'fastify';
import type { Scoped } from '../access/scopes.ts';
import type { Live, Watch } from './live.ts';
import { openStream } from '../../platform/live/stream.ts';

/** Keeps a page up to date with what it shows; the reply ends when the page goes. */
export function keepUpToDate(
  live: Live,
  { viewer, door, doors = [] }: Scoped,
  request: FastifyRequest,
  reply: FastifyReply,
  shows: Pick<Watch, 'schoolId' | 'folderId' | 'news' | 'below'>,
): Promise<void> {
  return live.watch({
    ...shows,
    stream: openStream(reply),
    viewer,
    sessionId: request.person?.sessionId ?? null,
    doors,
    websiteOf: door?.classId ?? null,
  });
}
