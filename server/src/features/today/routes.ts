import { TODAY_ROUTES } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { signedIn } from '../../platform/sessions.ts';
import { calendar } from './calendar.ts';
import { today } from './service.ts';

export async function todayRoutes(app: App) {
  registerRoutes(app, TODAY_ROUTES, {
    'GET /api/today': (request) => today(app.services, signedIn(request)),
    'GET /api/feeds/:token/calendar.ics': async (request, reply) =>
      reply
        .type('text/calendar; charset=utf-8')
        .send(await calendar(app.services, request.params.token)),
  });
}
