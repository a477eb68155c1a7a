import { PROGRAMS_ROUTES } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { signedIn } from '../../platform/sessions.ts';
import { listTokens, makeToken, movesWaiting, restore, revoke, waitNoMore } from './service.ts';

export async function programsRoutes(app: App) {
  const { services } = app;
  registerRoutes(app, PROGRAMS_ROUTES, {
    'GET /api/tokens': (request) => listTokens(services, signedIn(request)),
    'POST /api/tokens': (request) => makeToken(services, signedIn(request), request.body),
    'DELETE /api/tokens/:programToken': (request) =>
      revoke(services, signedIn(request), request.params.programToken),
    'POST /api/tokens/:programToken/restore': (request) =>
      restore(services, signedIn(request), request.params.programToken),
    'GET /api/waiting-moves': (request) => movesWaiting(services, signedIn(request)),
    'DELETE /api/waiting-moves/:waitingMove': (request) =>
      waitNoMore(services, signedIn(request), request.params.waitingMove),
  });
}
