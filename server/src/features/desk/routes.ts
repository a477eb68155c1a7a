import { DESK_ROUTES, DESK_SCOPED } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { signedIn } from '../../platform/sessions.ts';
import { AT_DOOR, OWN, registerScoped } from '../../domain/access/scopes.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { deskOf, originsOf, renewCopy, takeCopies } from './service.ts';

/** A student's own room: copies of what was handed out, and what is made of them. */
export async function deskRoutes(app: App) {
  const { services } = app;
  registerScoped(app, [OWN, AT_DOOR], DESK_SCOPED, {
    'POST /copies': (request, { viewer }) =>
      takeCopies(services, signedIn(request), viewer, request.body),
  });
  registerRoutes(app, DESK_ROUTES, {
    'POST /api/desk': (request) => deskOf(services, signedIn(request)),
    'GET /api/folders/:folder/origins': (request) =>
      originsOf(services, signedIn(request), request.params.folder),
    'POST /api/placements/:placement/renew': (request) =>
      renewCopy(services, signedIn(request), request.params.placement),
  });
}
