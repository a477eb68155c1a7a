import { KEEP_ROUTES } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { signedIn } from '../../platform/sessions.ts';
import { arrangeKept, keep, keepAtDoor, keptThings, unpin } from './service.ts';

/** What somebody keeps at hand. */
export async function keepRoutes(app: App) {
  const { services } = app;

  registerRoutes(app, KEEP_ROUTES, {
    'GET /api/kept': (request) => keptThings(services, signedIn(request)),
    'POST /api/kept': (request) => keep(services, signedIn(request), request.body),
    'POST /api/open/:token/kept': (request) =>
      keepAtDoor(services, signedIn(request), request, request.params.token, request.body),
    'PUT /api/kept/order': (request) => arrangeKept(services, signedIn(request), request.body.ids),
    'DELETE /api/kept/:kept': (request) => unpin(services, signedIn(request), request.params.kept),
  });
}
