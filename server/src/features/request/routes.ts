import { REQUEST_ROUTES } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { signedIn } from '../../platform/sessions.ts';
import { answer, reopen, request as askFor, wallAt } from './service.ts';

/** The wall at addresses of the school, and asking to see what lies behind. */
export async function requestRoutes(app: App) {
  const { services } = app;

  registerRoutes(app, REQUEST_ROUTES, {
    'GET /api/folders/:folder/wall': (request) =>
      wallAt(services, signedIn(request), { kind: 'folder', id: request.params.folder }),
    'GET /api/placements/:placement/wall': (request) =>
      wallAt(services, signedIn(request), { kind: 'placement', id: request.params.placement }),
    'POST /api/requests': async (request) => {
      const { thing, message } = request.body;
      await askFor(services, signedIn(request), thing, message);
    },
    'POST /api/requests/:request/answer': (request) =>
      answer(services, signedIn(request), request.params.request, request.body),
    'POST /api/requests/:request/reopen': (request) =>
      reopen(services, signedIn(request), request.params.request),
  });
}
