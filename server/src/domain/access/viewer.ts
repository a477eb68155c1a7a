import type { FastifyRequest } from 'fastify';
import type { Asker } from './access-sql.ts';
import { signedIn } from '../../platform/sessions.ts';

/** The asker of a request for people with a session: no doors count. */
export function askerOf(request: FastifyRequest): Asker {
  return { personId: signedIn(request).id, doorIds: [] };
}
