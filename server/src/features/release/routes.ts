import { RELEASE_ROUTES } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { signedIn } from '../../platform/sessions.ts';
import { release, releaseBack, timingOf } from './service.ts';

/** When folders and placements are out: in general, and for single classes. */
export async function releaseRoutes(app: App) {
  const { services } = app;

  registerRoutes(app, RELEASE_ROUTES, {
    'GET /api/folders/:folder/timing': (request) =>
      timingOf(services, signedIn(request), { kind: 'folder', id: request.params.folder }),
    'GET /api/placements/:placement/timing': (request) =>
      timingOf(services, signedIn(request), { kind: 'placement', id: request.params.placement }),
    'POST /api/releases': (request) => release(services, signedIn(request), request.body),
    'POST /api/releases/back': (request) =>
      releaseBack(services, signedIn(request), request.body.before),
  });
}
