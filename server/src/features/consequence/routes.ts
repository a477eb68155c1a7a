import { Change, Confidential, Consequences, Nothing } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { signedIn } from '../../platform/sessions.ts';
import { confidentialWords, setConfidentialWords } from '../../domain/teacher-settings.ts';
import { consequences } from './service.ts';

export async function consequenceRoutes(app: App) {
  app.post(
    '/api/consequences',
    { schema: { body: Change, response: { 200: Consequences } } },
    (request) => consequences(app.services, signedIn(request), request.body),
  );
  app.get(
    '/api/confidential',
    { schema: { response: { 200: Confidential } } },
    async (request) => ({
      words: [...(await confidentialWords(app.services.db, signedIn(request).id))],
    }),
  );
  app.put(
    '/api/confidential',
    { schema: { body: Confidential, response: { 204: Nothing } } },
    async (request, reply) => {
      await setConfidentialWords(app.services.db, signedIn(request), request.body.words);
      return reply.code(204).send(null);
    },
  );
}
