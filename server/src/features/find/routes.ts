import { FIND_ROUTES } from '@sammlung/contract';
import type { App } from '../../app-type.ts';
import { registerRoutes } from '../../platform/register-routes.ts';
import { signedIn } from '../../platform/sessions.ts';
import { filters, find } from './service.ts';

export async function findRoutes(app: App) {
  const { services } = app;

  registerRoutes(app, FIND_ROUTES, {
    'GET /api/find': (request) => find(services, signedIn(request), request.query),
    'GET /api/find/filters': (request) => filters(services, signedIn(request)),
  });
}
