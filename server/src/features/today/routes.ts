import { FeedToken, Today } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { signedIn } from '../../platform/sessions.ts';
import { calendar } from './calendar.ts';
import { today } from './service.ts';

export async function todayRoutes(app: App) {
  app.get('/api/today', { schema: { response: { 200: Today } } }, (request) =>
    today(app.services, signedIn(request)),
  );
  // Whoever has the address needs no session: calendar programs have none.
  app.get(
    '/api/feeds/:token/calendar.ics',
    { schema: { params: FeedToken } },
    async (request, reply) =>
      reply
        .type('text/calendar; charset=utf-8')
        .send(await calendar(app.services, request.params.token)),
  );
}
